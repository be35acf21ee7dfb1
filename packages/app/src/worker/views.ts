import {
  greyRgba8,
  hexOf,
  leavesSrgb,
  matteFigures,
  meanOf,
  render,
  toRgba8,
  withOpacity,
  type Context,
  type Picture,
  type PictureSource,
  type ProductMemory,
  type Products,
  type Want,
} from '@ritaglio/core';
import type { Figures, Reach, Request, ViewName } from './protocol';
import { clippedShare, dimmed, dotted, greyOf, outOfRange } from './veils';

export type Wanted = Pick<Request, 'recipe' | 'subject'>;

/** Where products come from. */
export interface Making {
  pictures: PictureSource;
  memory: ProductMemory;
}

/** Views by how far the line has to be walked for them, in the order in which they are worked out. */
export const views: Record<Reach, readonly ViewName[]> = {
  cut: ['shot', 'matte', 'band', 'subject'],
  plate: ['plate', 'showing', 'left'],
  finished: ['background', 'finished', 'beyond', 'distances'],
  proof: [],
};

function maker(
  { recipe, subject }: Wanted,
  { pictures, memory }: Making,
  context: Context,
): <W extends Want>(want: W) => Promise<Products[W]> {
  return (want) => render(recipe, pictures, want, context, memory, subject);
}

/** A view: the product that it shows, which tells whether it is still the same, and its codes. */
export interface View {
  of: object;
  width: number;
  height: number;
  rgba: () => Uint8ClampedArray<ArrayBuffer>;
}

function shows(product: object, size: { width: number; height: number }, rgba: View['rgba']): View {
  return { of: product, width: size.width, height: size.height, rgba };
}

const picture = (p: Picture, drawn: (p: Picture) => Picture = (as) => as): View => shows(p, p, () => toRgba8(drawn(p)));

/** A view of a recipe. */
export async function viewOf(wanted: Wanted, view: ViewName, making: Making, context: Context): Promise<View> {
  const make = maker(wanted, making, context);
  switch (view) {
    case 'shot':
      // Without what of it is transparent, which is seen in the cut.
      return picture(await make('shot'), (shot) => withOpacity(shot));
    case 'subject':
      return picture(await make('subject'));
    case 'matte': {
      const { matte } = await make('matte');
      return shows(matte, matte, () => greyRgba8(matte));
    }
    case 'band': {
      const product = await make('matte');
      const dots = dotted(product.band);
      return shows(product, dots, () => toRgba8(dots));
    }
    case 'plate':
      return picture((await make('plate')).plate);
    case 'background':
      return picture(await make('background'));
    case 'finished':
      return picture(await make('composite'));
    case 'beyond':
      return picture(await make('composite'), outOfRange);
    case 'skipped':
      return picture(await make('skipped'));
    case 'distances': {
      const distances = await make('distances');
      return shows(distances, distances, () => toRgba8(greyOf(distances)));
    }
    case 'showing': {
      const { weight } = await make('showing');
      return shows(weight, weight, () => toRgba8(dimmed(weight)));
    }
    case 'left': {
      const { hole } = await make('plate');
      const { kind } = await make('residue');
      return shows(kind, hole, () => toRgba8(dimmed({ ...hole, data: hole.data.map((h, p) => (h < 0.5 && kind[p] > 0 ? 1 : 0)) })));
    }
  }
}

/** The subject as the shot has it, before the old ground is taken out of its edge: there as soon as the matte is. */
export async function roughSubject(wanted: Wanted, making: Making, context: Context): Promise<View> {
  const make = maker(wanted, making, context);
  const [shot, { matte }] = [await make('shot'), await make('matte')];
  return shows(matte, matte, () => toRgba8(withOpacity(shot, matte)));
}

/** What is measured when the line has been walked so far. */
export async function figuresOf(reach: Reach, wanted: Wanted, making: Making, context: Context): Promise<Figures> {
  const make = maker(wanted, making, context);
  if (reach === 'cut') {
    const { matte, solved, note, screen, fits } = await make('matte');
    const edge = await make('edge');
    const following = await make('following');
    return {
      ...(following && { following }),
      matte: {
        ...matteFigures(matte, 24 * context.scale ** 2),
        solved,
        left: edge.length > 0 ? edge.reduce((sum, p) => sum + p.left, 0) / edge.length : 0,
        ...(note && { note }),
        ...(screen && { screen: hexOf(...screen) }),
        ...(fits !== undefined && { fits }),
      },
      edge,
    };
  }
  if (reach === 'plate') {
    const plate = await make('plate');
    const shows = await make('showing');
    return {
      plate: {
        grow: plate.grow,
        suggested: plate.suggested,
        softness: plate.softness,
        contaminated: plate.contaminated,
        left: plate.left,
        hole: meanOf(plate.hole),
        ...(plate.fits !== undefined && { fits: plate.fits }),
        notes: plate.notes,
        repeats: plate.repeats,
        showing: shows.share,
        ofPicture: shows.ofPicture,
        places: shows.places,
      },
    };
  }
  if (reach === 'proof') return { checks: await make('checks') };
  return {
    sides: await make('sides'),
    matching: await make('matching'),
    clipped: clippedShare(await make('composite')),
    wide: leavesSrgb(await make('composite')),
    lamps: await make('lamps'),
  };
}
