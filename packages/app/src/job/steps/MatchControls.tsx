import { CurvesPart } from '../match/CurvesPart';
import { GradePart } from '../match/GradePart';
import { GrainPart } from '../match/GrainPart';
import { MatchPart } from '../match/MatchPart';
import { SurroundPart } from '../match/SurroundPart';
import { VignettePart } from '../match/VignettePart';

/** Everything that brings both sides together, by measurement and by hand. */
export function MatchControls() {
  return (
    <>
      <MatchPart />
      <SurroundPart />
      <GrainPart />
      <GradePart />
      <CurvesPart />
      <VignettePart />
    </>
  );
}
