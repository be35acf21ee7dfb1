import type { Step } from '../steps';
import { Scopes } from './Scopes';
import { Loupe } from './Loupe';
import { MatteTable } from './MatteTable';
import { PlateTable } from './PlateTable';
import { Profile } from './Profile';
import { SidesTable } from './SidesTable';

/** Where people look before they believe: the loupe, and what belongs to the open step. */
export function Evidence({ step }: { step: Step }) {
  const late = step === 'stage' || step === 'lens' || step === 'proof' || step === 'export';
  if (step === 'match') {
    return (
      <>
        <SidesTable />
        <Scopes />
        <Loupe step={step} />
      </>
    );
  }
  return (
    <>
      <Loupe step={step} />
      {late ? (
        <>
          <SidesTable />
          <Scopes />
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
