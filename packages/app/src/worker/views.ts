import {
  hexOf,
  leavesSrgb,
  matteFigures,
  meanOf,
  pictureOfMatte,
  render,
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

/** A view as a picture. */
export async function viewOf(wanted: Wanted, view: ViewName, making: Making, context: Context): Promise<Picture> {
  const make = maker(wanted, making, context);
  switch (view) {
    case 'shot':
      return withOpacity(await make('shot'));
    case 'subject':
      return make('subject');
    case 'matte':
      return pictureOfMatte((await make('matte')).matte);
    case 'band':
      return dotted((await make('matte')).band);
    case 'plate':
      return (await make('plate')).plate;
    case 'background':
      return make('background');
    case 'finished':
      return make('composite');
    case 'beyond':
      return outOfRange(await make('composite'));
    case 'skipped':
      return make('skipped');
    case 'distances':
      return greyOf(await make('distances'));
    case 'showing':
      return dimmed((await make('showing')).weight);
    case 'left': {
      const { hole } = await make('plate');
      const { map } = await make('residue');
      return dimmed({ ...map, data: map.data.map((v, p) => (hole.data[p] < 0.5 ? v : 0)) });
    }
  }
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
