import { inArenaNow } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { numbersAPart, seenFeatures, type ColourModel, type Features } from './colourModel';

interface EvidenceJob {
  lab: Features;
  inside: ColourModel;
  outside: ColourModel;
  wanted?: Uint8Array;
  out: Float32Array;
}

/** Evidence is not told apart beyond this. */
export const evidenceEnd = 8;

/** Pixels that a thread looks at at a time. */
const stretch = 8192;

/** Compares two models stretch by stretch. */
export const evidenceStretch: Kernel<EvidenceJob> = {
  name: 'evidenceStretch',
  begin({ lab, inside, outside, wanted, out }) {
    const planes = lab.busy ? [lab.l, lab.a, lab.b, lab.busy] : [lab.l, lab.a, lab.b];
    return (part) => {
      const [from, to] = [part * stretch, Math.min(out.length, (part + 1) * stretch)];
      const asked = wanted?.subarray(from, to);
      if (asked?.includes(1) === false) return;
      inArenaNow((arena) => {
        const [l, a, b, busy = 0] = planes.map((plane) => arena.copyIn(plane.subarray(from, to)));
        const modelOf = ({ parts }: { parts: Float64Array }) => [arena.copyIn(parts), parts.length / numbersAPart] as const;
        const told = arena.copyIn(out.subarray(from, to));
        arena.run.evidence(
          to - from,
          l,
          a,
          b,
          busy,
          asked ? arena.copyIn(asked) : 0,
          ...modelOf(inside),
          ...modelOf(outside),
          evidenceEnd,
          told,
        );
        arena.copyOut(told, out.subarray(from, to));
      });
    };
  },
};

/**
 * What colour says for inside (positive) or outside: the difference of −2·log likelihood under two models, from −8 to 8; 0
 * where it is not wanted or both are empty.
 *
 * @param wanted 1 where it is, of the features' size; everywhere when left out
 * @throws AbortError
 */
export async function colourEvidence(
  lab: Features,
  { inside, outside }: { inside: ColourModel; outside: ColourModel },
  context: Context,
  wanted?: Uint8Array,
): Promise<Float32Array> {
  const { width, height } = lab;
  const out = sharedFloats(width * height, context);
  const job = { lab: seenFeatures(lab, context), inside, outside, ...(wanted && { wanted }), out };
  await parallelFor(evidenceStretch, job, Math.ceil(out.length / stretch), context);
  return out;
}
