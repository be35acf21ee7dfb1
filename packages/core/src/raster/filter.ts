import { inArenaNow } from '../runtime/arena';
import { makePlane, type Plane } from './plane';

/**
 * Mean over a (2·radius+1)² window, borders repeated. Running sums: the cost does not depend on the radius.
 */
export function boxMean(p: Plane, radius: number): Plane {
  const { width, height } = p;
  const out = makePlane(width, height);
  inArenaNow((arena) => {
    const [across, sums, mean] = arena.allocs(4 * out.data.length, 8 * width, 4 * out.data.length);
    arena.run.boxMean(width, height, radius, arena.copyIn(p.data), across, sums, mean);
    arena.copyOut(mean, out.data);
  });
  return out;
}

/**
 * Gaussian blur with a sampled kernel cut at 3 sigma, separable, borders repeated.
 *
 * @param sigma standard deviation in pixels; 0 gives the plane itself
 */
export function gaussian(p: Plane, sigma: number): Plane {
  if (sigma <= 0) return p;
  const kernel = gaussianTaps(sigma);
  const radius = kernel.length - 1;
  const { width, height } = p;
  const out = makePlane(width, height);
  // Rows around a band are blurred across once more for it: few, where it is high.
  const band = Math.max(128, 4 * radius);
  for (let from = 0; from < height; from += band) {
    const to = Math.min(height, from + band);
    const [top, bottom] = [Math.max(0, from - radius), Math.min(height, to + radius)];
    inArenaNow((arena) => {
      const source = arena.copyIn(p.data.subarray(top * width, bottom * width));
      const rooms = arena.allocs(4 * (width + 2 * radius), 4 * (bottom - top) * width, 4 * (to - from) * width);
      arena.run.blurRows(width, height, top, bottom, from, to, source, arena.copyIn(kernel), radius, ...rooms);
      arena.copyOut(rooms[2], out.data.subarray(from * width, to * width));
    });
  }
  return out;
}

/** A sampled Gaussian cut at 3 sigma, of sum 1: its middle and its one side. */
export function gaussianTaps(sigma: number): Float32Array {
  const radius = Math.max(1, Math.ceil(3 * sigma));
  const taps = Float32Array.from({ length: radius + 1 }, (_, k) => Math.exp((-0.5 * k * k) / (sigma * sigma)));
  const total = taps.reduce((sum, tap, k) => sum + (k === 0 ? tap : 2 * tap), 0);
  return taps.map((tap) => tap / total);
}
