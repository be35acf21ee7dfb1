import { inArenaNow } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { sharedFloats, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { seenFeatures, type Features } from './colourModel';

/** How strongly a border runs at each pixel. 1 is a difference of about the spread on both sides. */
export interface Contours {
  width: number;
  height: number;
  /** Strengths across a border crossed rightwards, down-rightwards, downwards and down-leftwards: four planes, thinned. */
  across: Float32Array;
}

/** Radii of the discs, px: fine borders, and those that texture does not hide. */
const small = 3;
const large = 6;
type Channel = readonly [weight: number, variance: number];
/** Weight of a channel and the variance that it has anyway: lightness, green–red, blue–yellow, texture. */
const lightness: Channel = [1, 4e-4];
const colour: Channel = [2, 1e-4];
const texture: Channel = [0.5, 0.01];
/** What is left of a strength beside a stronger one. */
const thinned = 0.25;

interface BandJob {
  lab: Features;
  /** Squared strengths by small and by large discs, four planes each. */
  strengths: Float32Array[];
}

/** Rows that a thread looks at at a time. */
const band = 40;

/** Compares the halves of the discs of one band of rows after the other. */
export const contourBand: Kernel<BandJob> = {
  name: 'contourBand',
  begin: ({ lab: { width, height, l, a, b, busy }, strengths }) => {
    const n = width * height;
    return (part) => {
      const from = part * band;
      const rows = Math.min(height, from + band) - from;
      inArenaNow((arena) => {
        strengths.forEach((strength, k) => {
          const radius = k === 0 ? small : large;
          const pitch = width + 2 * radius + 3;
          const { offsets, shares, ends } = discOf(radius, pitch);
          const disc = arena.copiesIn(offsets, shares, ends);
          const sum = arena.filled(16 * width * rows);
          const channels: [Float32Array, ...Channel][] = [
            [l, ...lightness],
            [a, ...colour],
            [b, ...colour],
          ];
          if (busy && radius === large) channels.push([busy, ...texture]);
          for (const [plane, weight, least] of channels) {
            const padded = arena.copyIn(withRim(plane, width, height, from, rows, radius, pitch));
            arena.run.halfDiscs(width, rows, padded, pitch, radius, ...disc, weight, least, sum);
          }
          for (let d = 0; d < 4; d++) {
            arena.copyOut(sum + 4 * d * width * rows, strength.subarray(d * n + from * width, d * n + (from + rows) * width));
          }
        });
      });
    };
  },
};

/**
 * Contours by half discs: how far the means of the two halves of a disc are apart, against how much each half varies, in four
 * directions and two sizes; thinned across (Martin, Fowlkes & Malik 2004; Canny 1986). Texture varies on both sides and gives little.
 *
 * @throws AbortError
 */
export async function contoursOf(lab: Features, context: Context): Promise<Contours> {
  const { width, height } = lab;
  const n = width * height;
  const strengths = [0, 1].map(() => sharedFloats(4 * n, context));
  await parallelFor(contourBand, { lab: seenFeatures(lab, context), strengths }, Math.ceil(height / band), context);
  const across = new Float32Array(4 * n);
  inArenaNow((arena) => {
    const out = arena.alloc(across.byteLength);
    arena.run.thinContours(width, height, arena.copyIn(strengths[0]), arena.copyIn(strengths[1]), thinned, out);
    arena.copyOut(out, across);
  });
  return { width, height, across };
}

/** A disc's pixels, sorted into eight sectors; what lies on a line between two belongs to both by half. */
function discOf(radius: number, pitch: number): { offsets: Int32Array; shares: Float32Array; ends: Int32Array } {
  const sectors: [number, number][][] = Array.from({ length: 8 }, () => []);
  for (let y = -radius; y <= radius; y++) {
    for (let x = -radius; x <= radius; x++) {
      const away = x * x + y * y;
      if (away === 0 || away > (radius + 0.3) ** 2) continue;
      const turn = (Math.atan2(y, x) / (Math.PI / 4) + 8) % 8;
      const onLine = Math.abs(turn - Math.round(turn)) < 1e-6;
      const own = Math.floor(turn + 1e-6) % 8;
      sectors[own].push([y * pitch + x, onLine ? 0.5 : 1]);
      if (onLine) sectors[(own + 7) % 8].push([y * pitch + x, 0.5]);
    }
  }
  const all = sectors.flat();
  let end = 0;
  return {
    offsets: Int32Array.from(all, ([offset]) => offset),
    shares: Float32Array.from(all, ([, share]) => share),
    ends: Int32Array.from(sectors, (s) => (end += s.length)),
  };
}

/** Some rows of a plane with what lies around them; the plane's border is repeated. */
function withRim(plane: Float32Array, width: number, height: number, from: number, rows: number, rim: number, pitch: number): Float32Array {
  const out = new Float32Array(pitch * (rows + 2 * rim) + 4);
  for (let y = -rim; y < rows + rim; y++) {
    const row = Math.min(height - 1, Math.max(0, from + y)) * width;
    const at = (y + rim) * pitch + rim;
    out.fill(plane[row], at - rim, at);
    out.set(plane.subarray(row, row + width), at);
    out.fill(plane[row + width - 1], at + width, at - rim + pitch);
  }
  return out;
}
