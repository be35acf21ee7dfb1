import { CompareParts } from '../plate/CompareParts';
import { FillPart } from '../plate/FillPart';
import { HolePart } from '../plate/HolePart';
import { RetouchPart } from '../plate/RetouchPart';

/** The hole, how it is filled, what is retouched on it, and what of it will show. */
export function PlateControls() {
  return (
    <>
      <HolePart />
      <FillPart />
      <RetouchPart />
      <CompareParts />
    </>
  );
}
