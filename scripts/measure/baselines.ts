import {
  borderOf,
  encodeQuickly,
  enlarge,
  gaussian,
  grownMask,
  makePlane,
  matteGround,
  roughCut,
  solveClosedForm,
  surelyIn,
  surelyOut,
  undecided,
  type Context,
  type Mark,
  type Picture,
  type Plane,
} from '@ritaglio/core';

/** The hard cut from the same marks, at full size. */
async function hardCut(shot: Picture, marks: readonly Mark[], context: Context): Promise<Plane> {
  const ground = await matteGround(shot, context);
  const cut = await roughCut(ground.levels, ground.ratios, marks, context);
  return { width: shot.width, height: shot.height, data: Float32Array.from(enlarge(cut, shot.width, shot.height)) };
}

/** What a plain cut-out gives: the hard cut with its edge softened by 1 px. */
export async function feathered(shot: Picture, marks: readonly Mark[], context: Context): Promise<Plane> {
  return gaussian(await hardCut(shot, marks, context), 1);
}

/** What a plain refinement gives: a band of 20 px along the hard cut, and the closed form in it without colour pairs. */
export async function fixedBand(shot: Picture, marks: readonly Mark[], context: Context): Promise<Plane> {
  const hard = await hardCut(shot, marks, context);
  const { width, height } = shot;
  const near = grownMask(borderOf(Uint8Array.from(hard.data), width, height), width, height, 10);
  const state = Uint8Array.from(hard.data, (v, p) => (near[p] ? undecided : v ? surelyIn : surelyOut));
  const light = { width, height, r: encodeQuickly(shot.r), g: encodeQuickly(shot.g), b: encodeQuickly(shot.b) };
  const guess = { opacity: hard, trust: makePlane(width, height) };
  return solveClosedForm(light, state, guess, { rounds: 100, dataWeight: 0 }, context);
}
