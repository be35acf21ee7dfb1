import type { Context } from '../runtime/context';
import { detailed } from '../grade/detail';
import { graded, isPlainGrade } from '../grade/grade';
import { limitPlane } from '../grade/limit';
import { defaultVignette, vignetted } from '../grade/vignette';
import { dithered } from '../match/banding';
import { addGrain, grainAtScale, type Grain } from '../match/grain';
import { makePlane, type Picture, type Plane } from '../raster/plane';
import type { Card, Recipe } from '../recipe/recipe';

/** A picture with its own grade and detail, where the limit lets them; the very picture when nothing changes. */
async function dressed(
  p: Picture,
  { grade, detail, limit }: Pick<Card, 'grade' | 'detail' | 'limit'>,
  kept: Plane | undefined,
  context: Context,
): Promise<Picture> {
  if (isPlainGrade(grade) && detail.sharpen === 0 && detail.soften === 0) return p;
  const mask = limitPlane(limit, p.width, p.height, context.scale, kept);
  return graded(detailed(p, detail, context.scale, mask), grade, context, mask ? { mask } : {});
}

/** The same for a card, with its tint last. */
export async function adjustedCard(
  p: Picture,
  card: Pick<Card, 'grade' | 'detail' | 'limit' | 'wash'>,
  kept: Plane | undefined,
  context: Context,
): Promise<Picture> {
  return vignetted(await dressed(p, card, kept, context), defaultVignette, card.wash);
}

/** Seeds of two frames are so far apart. */
const momentSeed = 7919;

/** What the finish needs beside the picture. */
export interface FinishInputs {
  /** The kept matte that limits the grade, in the frame's size. */
  kept?: Plane;
  /** The shot's grain at the size that is rendered, and what of it is left in the picture: 0 none, 1 all. */
  grain?: { shot: Grain; left: Plane };
}

/** The finished picture as a whole: detail, grade, vignette and wash, grain, dither, in that order. */
export async function finished(p: Picture, { finish, moment = 0 }: Recipe, inputs: FinishInputs, context: Context): Promise<Picture> {
  // Grain and dither are others in every frame.
  const seed = context.seed + momentSeed * moment;
  const lit = await dressed(p, finish, inputs.kept, context);
  let out = vignetted(lit, finish.vignette, finish.wash);

  if (inputs.grain && finish.grain.back > 0) {
    const { shot, left } = inputs.grain;
    const missing = makePlane(p.width, p.height);
    for (let i = 0; i < missing.data.length; i++) {
      missing.data[i] = finish.grain.back * Math.sqrt(Math.max(0, 1 - left.data[i] * left.data[i]));
    }
    out = await addGrain(out, shot.byTone, shot.size, { ...context, seed }, missing);
  }
  if (finish.grain.over > 0) {
    const { over, size } = finish.grain;
    const even = new Array<number>(9).fill(over * grainAtScale(size, context.scale));
    out = await addGrain(out, even, size * context.scale, { ...context, seed: seed + 1 });
  }
  return finish.dither ? dithered(out, seed) : out;
}
