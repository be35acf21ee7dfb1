import {
  discBlur,
  distanceTo,
  encodedQuickly,
  edgeColour,
  luminance,
  meanDeltaE,
  defaultContext,
  defaultPlate,
  plate,
  psnr,
  smoothFill,
  ssim,
  stretchFill,
  toRgba8,
  type Picture,
  type Plane,
} from '@ritaglio/core';
import { vision } from '../bench/vision';

const context = defaultContext();

/** Mean squared slope of the encoded brightness where all of a pixel's neighbours count. */
function slopes(p: Picture, counts: (i: number) => boolean): number {
  const light = p.r.map((_, i) => encodedQuickly(luminance(p.r[i], p.g[i], p.b[i])));
  let [sum, n] = [0, 0];
  for (let i = 0; i + p.width < light.length; i++) {
    if (!counts(i) || !counts(i + 1) || !counts(i + p.width)) continue;
    sum += (light[i + 1] - light[i]) ** 2 + (light[i + p.width] - light[i]) ** 2;
    n++;
  }
  return sum / Math.max(1, n);
}

/** Rows of one cover: every fill against the true plate, in the hole, at its rim, and at its rim after a disc of 24 px. */
export async function plateRows(
  name: string,
  shot: Picture,
  truth: Picture,
  cover: Plane,
): Promise<{ rows: string[][]; filled: Picture; repeats: number }> {
  const { behind } = await edgeColour(shot, cover, context);
  const product = await plate({ shot, behind, matte: cover }, defaultPlate, context);
  const { hole } = product;
  const inHole = Uint8Array.from(hole.data, (h) => (h > 0.5 ? 1 : 0));
  const outside = distanceTo(inHole, shot.width, shot.height).data;
  const inside = distanceTo(
    inHole.map((h) => 1 - h),
    shot.width,
    shot.height,
  ).data;
  const mask = Float32Array.from(inHole);
  const ring = mask.map((_, i) => (inside[i] <= 24 && outside[i] <= 24 ? 1 : 0));
  const around = slopes(truth, (i) => outside[i] > 0 && outside[i] <= 48);
  const blurredTruth = await discBlur(truth, 24, context);
  const library = await vision(toRgba8(shot), shot.width, shot.height);
  const fills: [string, Picture][] = [
    ['subject left in', shot],
    ['library, marching', library.inpaint(hole, 'marching')],
    ['library, flow', library.inpaint(hole, 'flow')],
    ['smooth', await smoothFill(behind, hole, context)],
    ['stretch', stretchFill(behind, hole)],
    ['patch', product.plate],
  ];
  const rows: string[][] = [];
  for (const [what, p] of fills) {
    const blurred = await discBlur(p, 24, context);
    const figures = (a: Picture, b: Picture, w: Float32Array): string[] => [
      psnr(a, b, w).toFixed(1),
      ssim(a, b, w).toFixed(3),
      meanDeltaE(a, b, w).toFixed(2),
    ];
    const texture = (slopes(p, (i) => inHole[i] === 1) / around).toFixed(2);
    rows.push([
      `${name}: ${what}`,
      ...figures(p, truth, mask),
      ...figures(p, truth, ring),
      ...figures(blurred, blurredTruth, ring),
      texture,
    ]);
  }
  return { rows, filled: product.plate, repeats: product.repeats.length };
}
