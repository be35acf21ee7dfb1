import type { Step } from '../steps';
import { Histogram } from './Histogram';
import { Loupe } from './Loupe';
import { MatteTable } from './MatteTable';
import { PlateTable } from './PlateTable';
import { Profile } from './Profile';
import { ToneTable } from './ToneTable';

/** Where people look before they believe: the loupe, and what belongs to the open step. */
export function Evidence({ step }: { step: Step }) {
  const late = step === 'stage' || step === 'lens' || step === 'match' || step === 'proof' || step === 'export';
  return (
    <>
      <Loupe step={step} />
      {late ? (
        <>
          <ToneTable />
          <Histogram />
        </>
      ) : step === 'plate' ? (
        <PlateTable />
      ) : (
        <>
          <Profile />
          <MatteTable />
        </>
      )}
    </>
  );
}
