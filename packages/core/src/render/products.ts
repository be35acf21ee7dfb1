import type { Context } from '../runtime/context';
import type { Unmixed } from '../matte/foreground/edgeColour';
import type { FoundSubject } from '../matte/cut/findSubject';
import type { MatteGround, MatteProduct } from '../matte/matte';
import type { Banding } from '../match/banding';
import type { Side } from '../match/sides';
import type { PlateProduct } from '../plate/plate';
import type { Residue } from '../plate/residue';
import type { Showing } from '../plate/showing';
import type { Check } from '../proof/checks/index';
import type { EdgePlace } from '../proof/edgeWalk';
import type { Picture, Plane } from '../raster/plane';
import type { Region } from '../raster/strokeCover';
import type { Outlines } from '../placement/drawn';
import type { BenchLamps, BenchLayer } from './bench';
import type { Matching } from './matching';

/** Where the line gets its pictures. */
export interface PictureSource {
  /** Something that changes when the picture's content does. */
  key(id: string): string;
  /**
   * The picture reduced to a scale, in linear light, made straight if it was multiplied over a colour (#rrggbb).
   *
   * @param context whose pool will have to see it: a large picture that it sees at once need not be copied
   * @throws when it is not there
   */
  load(id: string, scale: number, multiplied?: string, context?: Context): Promise<Picture>;
  /**
   * Its full size, px. Where it is told, a fill holds the same content at every size from `chosenAt` on.
   *
   * @throws when it is not there
   */
  size?(id: string): Promise<{ width: number; height: number }>;
  /**
   * The outlines of a line of type, in heights of the type about its middle; only where lettering can be set.
   *
   * @throws when there is no such font
   */
  letters?(text: string, font: string, spacing: number): Promise<Outlines>;
}

/** What is known of a subject that is followed through a clip. */
export interface Following {
  /** A frame each, 0 to 1; NaN where nothing of the subject is seen. */
  certainty: number[];
  /** Share of the hidden ground that other frames show, 0 to 1; nothing when they do not agree about it. */
  photographed?: number;
}

/** Everything the line makes. */
export interface Products {
  shot: Picture;
  matte: MatteProduct;
  /** How certain a followed subject is in each frame of its clip, and how much of the ground was photographed; nothing for a still. */
  following: Following | undefined;
  /** What the shot alone decides of the matte. */
  ground: MatteGround;
  /** Subjects proposed without marks, best first. */
  found: FoundSubject[];
  /** The subject's own colour to the edge, and what is behind it. */
  unmixed: Unmixed;
  /** The subject with its own colour to the edge, straight opacity. */
  subject: Picture;
  /** Places along the subject's edge, the worst first. */
  edge: EdgePlace[];
  plate: PlateProduct;
  /** What of the subject is left beside its matte. */
  residue: Residue;
  /** What of the plate the finished picture shows. */
  showing: Showing;
  /** The subject's cast shadow, offered as regions to invent as well. */
  shadow: Region[];
  /** All that stands behind the subject, as the lens sees it. */
  background: Picture;
  /** What cast and tone were measured as before they were matched, and what moves them; nothing without a subject on the bench. */
  matching: Matching | undefined;
  /** Both sides as they are seen, the steps of the finished picture, and whether the subject's own plate is what stands behind. */
  sides: { subject: Side; background: Side; banding: Banding; ownPlate: boolean };
  /** Every check of the finished picture. */
  checks: Check[];
  /** Opacity of the subject in the frame. */
  cover: Plane;
  /** The farthest card by itself as the lens sees it, with its opacity. */
  farthest: Picture;
  /** Each card as it is laid into the picture, the farthest first. */
  layers: BenchLayer[];
  /** All cards over each other, before anything is done to the whole. */
  laid: Picture;
  /** The finished picture. */
  composite: Picture;
  /** Distance of what is in front at every pixel, m. */
  distances: Plane;
  /** All that stands behind the subject, before the lens. */
  unblurred: Picture;
  /** The lamps of the card farthest behind. */
  lamps: BenchLamps;
  /** The same had the plate not been made: the shot with the subject in it stands behind. */
  skipped: Picture;
}

/** The name of a product. */
export type Want = keyof Products;

/** What each product is called when progress is shown. */
export const making: Record<Want, string> = {
  shot: 'Reading the shot',
  matte: 'Solving the matte',
  following: 'Following the subject',
  ground: 'Preparing the shot',
  found: 'Looking for the subject',
  unmixed: 'Recovering edge colour',
  subject: 'Recovering edge colour',
  edge: 'Walking the edge',
  plate: 'Filling the hole',
  residue: 'Looking for what is left',
  showing: 'Weighing what shows',
  shadow: 'Looking for the shadow',
  skipped: 'Laying the picture together',
  background: 'Blurring the background',
  matching: 'Matching the subject',
  sides: 'Measuring both sides',
  checks: 'Checking',
  cover: 'Laying the picture together',
  farthest: 'Setting up the bench',
  layers: 'Laying the picture together',
  laid: 'Laying the picture together',
  composite: 'Finishing the picture',
  distances: 'Working out distances',
  lamps: 'Looking for lamps',
  unblurred: 'Setting up the bench',
};
