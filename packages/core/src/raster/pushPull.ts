import { makePlane, type Plane } from './plane';

/**
 * Values known here and there, spread over the whole plane: averaged down a pyramid by weight, then pushed back up where
 * nothing was known (push-pull; Gortler et al. 1996). Smooth, cheap (about a third more than one pass over the plane), and
 * equal to the values where the weight is 1.
 *
 * @param weight 0 (unknown) to 1 (known) for each pixel
 * @returns one plane for each given; 0 everywhere when nothing is known at all
 */
export function pushPull(planes: readonly Plane[], weight: Plane): Plane[] {
  const { width, height } = weight;
  if (width === 1 && height === 1) return planes.map((p) => ({ ...p, data: p.data.slice() }));
  const small = { width: (width + 1) >> 1, height: (height + 1) >> 1 };
  const smallWeight = makePlane(small.width, small.height);
  const smallPlanes = planes.map(() => makePlane(small.width, small.height));
  for (let y = 0; y < small.height; y++) {
    for (let x = 0; x < small.width; x++) {
      const at = y * small.width + x;
      let sum = 0;
      for (let k = 0; k < 4; k++) {
        const p = Math.min(height - 1, 2 * y + (k >> 1)) * width + Math.min(width - 1, 2 * x + (k & 1));
        const w = weight.data[p];
        sum += w;
        for (let c = 0; c < planes.length; c++) smallPlanes[c].data[at] += w * planes[c].data[p];
      }
      if (sum > 0) for (const plane of smallPlanes) plane.data[at] /= sum;
      // Half of a block known is known well enough.
      smallWeight.data[at] = Math.min(1, sum / 2);
    }
  }
  const below = pushPull(smallPlanes, smallWeight);
  return planes.map((p, c) => blendUp(p, weight, below[c]));
}

/** The plane where it is known, the smaller one enlarged (bilinear) where it is not. */
function blendUp(plane: Plane, weight: Plane, small: Plane): Plane {
  const { width, height } = plane;
  const out = makePlane(width, height);
  for (let y = 0; y < height; y++) {
    const near = (y >> 1) * small.width;
    const far = Math.min(small.height - 1, Math.max(0, (y >> 1) + ((y & 1) === 0 ? -1 : 1))) * small.width;
    for (let x = 0; x < width; x++) {
      const p = y * width + x;
      const w = weight.data[p];
      if (w >= 1) {
        out.data[p] = plane.data[p];
        continue;
      }
      const n = x >> 1;
      const f = Math.min(small.width - 1, Math.max(0, n + ((x & 1) === 0 ? -1 : 1)));
      const up = 0.5625 * small.data[near + n] + 0.1875 * (small.data[near + f] + small.data[far + n]) + 0.0625 * small.data[far + f];
      out.data[p] = w * plane.data[p] + (1 - w) * up;
    }
  }
  return out;
}
