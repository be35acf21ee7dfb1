import type { Context } from '../context/context';
import { sharedFloats, together, type Kernel } from '../context/together';
import { seenFeatures, unlikeliness, type ColourModel, type Features } from './colourModel';

interface EvidenceJob {
  lab: Features;
  inside: ColourModel;
  outside: ColourModel;
  wanted?: Uint8Array;
  out: Float32Array;
}

/** Pixels that a thread looks at at a time. */
const stretch = 8192;

/** Compares two models stretch by stretch. */
export const evidenceStretch: Kernel<EvidenceJob> = {
  name: 'evidenceStretch',
  begin({ lab, inside, outside, wanted, out }) {
    return (part) => {
      const end = Math.min(out.length, (part + 1) * stretch);
      for (let p = part * stretch; p < end; p++) {
        if (wanted && !wanted[p]) continue;
        const forOutside = unlikeliness(outside, lab, p);
        const forInside = unlikeliness(inside, lab, p);
        out[p] = forOutside === forInside ? 0 : forOutside - forInside;
      }
    };
  },
};

/**
 * What colour says for inside (positive) or outside: the difference of −2·log likelihood under two models; infinite where one
 * of them is empty, 0 where it is not wanted.
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
  await together(evidenceStretch, job, Math.ceil(out.length / stretch), context);
  return out;
}
