import {
  borderOf,
  compareWithPlate,
  encodedLight,
  enlarge,
  gaussian,
  grownMask,
  makePlane,
  matteGround,
  defaultDifference,
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

/** The hard cut from marks, at full size. */
export async function hardCut(shot: Picture, marks: readonly Mark[], context: Context): Promise<Plane> {
  const ground = await matteGround(shot, context);
  const cut = await roughCut(ground.levels, ground.ratios, marks, context);
  return { width: shot.width, height: shot.height, data: Float32Array.from(enlarge(cut, shot.width, shot.height)) };
}

/** The hard cut by what differs from an aligned plate of the same exposure. */
export async function hardDifference(shot: Picture, plate: Picture, context: Context): Promise<Plane> {
  const seen = makePlane(shot.width, shot.height, 1);
  const { body } = await compareWithPlate(await encodedLight(shot, context), plate, seen, defaultDifference, context);
  return { width: shot.width, height: shot.height, data: Float32Array.from(body) };
}

/** What a plain cut-out gives: the hard cut with its edge softened by 1 px. */
export const feathered = (hard: Plane): Plane => gaussian(hard, 1);

/** What a plain refinement gives: a band of 20 px along the hard cut, and the closed form in it without colour pairs. */
export async function fixedBand(shot: Picture, hard: Plane, context: Context): Promise<Plane> {
  const { width, height } = shot;
  const near = grownMask(borderOf(Uint8Array.from(hard.data), width, height), width, height, 10);
  const state = Uint8Array.from(hard.data, (v, p) => (near[p] ? undecided : v ? surelyIn : surelyOut));
  return plainClosedForm(shot, state, hard, context);
}

/** What the same refinement would give if someone said which pixels are half covered: how far a better cut alone can lead. */
export async function trueBand(shot: Picture, truth: Plane, context: Context): Promise<Plane> {
  const state = Uint8Array.from(truth.data, (a) => (a <= 0 ? surelyOut : a >= 1 ? surelyIn : undecided));
  return plainClosedForm(shot, state, makePlane(shot.width, shot.height, 0.5), context);
}

async function plainClosedForm(shot: Picture, state: Uint8Array, opacity: Plane, context: Context): Promise<Plane> {
  const guess = { opacity, trust: makePlane(shot.width, shot.height) };
  return solveClosedForm(await encodedLight(shot, context), state, guess, { rounds: 100, dataWeight: 0 }, context);
}

/** The subject's colour by arithmetic from what nobody has: the true opacity and a picture of the true background. */
export function arithmeticColour(shot: Picture, truth: Plane, plate: Picture): Picture {
  const own = (c: 'r' | 'g' | 'b'): Float32Array =>
    shot[c].map((v, p) => {
      const a = Math.max(0.02, truth.data[p]);
      return Math.min(1, Math.max(0, (v - (1 - a) * plate[c][p]) / a));
    });
  return { width: shot.width, height: shot.height, r: own('r'), g: own('g'), b: own('b') };
}
