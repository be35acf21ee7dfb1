import type {
  CodeSpace,
  BenchLamps,
  Check,
  EdgePlace,
  Left,
  MatteFigures,
  Matching,
  MeasuredBlur,
  Products,
  Recipe,
  Region,
  Repeat,
  Scope,
  ShowingPlace,
} from '@ritaglio/core';

import type { HandoverKind } from '@ritaglio/formats';

/** What can be shown of a job; each is a bitmap of the frame's size times the scale. */
export type ViewName =
  'shot' | 'subject' | 'matte' | 'band' | 'plate' | 'showing' | 'left' | 'background' | 'finished' | 'skipped' | 'distances' | 'beyond';

/** A product ready for the screen. */
export interface Shown {
  view: ViewName;
  bitmap: ImageBitmap;
  /** Pixels of the bitmap per full-size pixel. */
  scale: number;
  /** Tells it from every other; whoever still has it need not be sent it again. */
  token: number;
  /** Only near what it will be: the true one follows. */
  rough?: boolean;
}

/** Everything that was measured on the way. Left out while not known. */
export interface Figures {
  matte?: MatteFigures & { solved: number; left: number; note?: string; screen?: string; fits?: number };
  edge?: EdgePlace[];
  plate?: {
    grow: number;
    suggested: number;
    softness: number;
    contaminated: number;
    /** What of the subject the hole leaves beside it. */
    left: Left;
    hole: number;
    fits?: number;
    notes: string[];
    repeats: Repeat[];
    /** Share of the invented that the finished picture shows, and its share of the picture. */
    showing: number;
    ofPicture: number;
    places: ShowingPlace[];
  };
  /** Both sides as they are seen, banding, and what moves cast and tone. */
  sides?: Products['sides'];
  /** Whether the finished picture has colours that sRGB has not. */
  wide?: boolean;
  matching?: Matching | undefined;
  checks?: Check[];
  following?: Followed | undefined;
  clipped?: { white: number; black: number };
  lamps?: BenchLamps;
}

/** A blur that is to be shared, and what there is of it, px of the full-size picture. */
export interface Likeness {
  /** In the reference. */
  wanted?: MeasuredBlur;
  /** Of what stands behind: before the lens, and as it is seen now. */
  has?: MeasuredBlur;
  now?: MeasuredBlur;
}

/** Where the reference of a blur lies: a region of the shot; nothing lets it be all of the shot that is not the subject. */
export type Reference = Region | undefined;

/** One message while an answer is being worked out. */
export type Answer =
  | { kind: 'shown'; shown: Shown }
  /** What is shown already is what was asked for. */
  | { kind: 'same'; view: ViewName; rough?: boolean }
  /** Some of them; what is not told stays. */
  | { kind: 'figures'; figures: Figures }
  /** The subject’s side and the background’s, in the finished picture. */
  | { kind: 'scopes'; scopes: Scope[] }
  | { kind: 'progress'; what: string; fraction: number; sharp: boolean };

/** How far the line is walked for what is looked at: to the cut, to the plate, to the finished picture, or to its checks. */
export type Reach = 'cut' | 'plate' | 'finished' | 'proof';

/** What the interface wants to see. */
export interface Request {
  recipe: Recipe;
  /** Whose matte and plate are wanted; the first one's otherwise. */
  subject?: string;
  /** Worked out first. */
  first: ViewName;
  /** What is shown already, by its tokens. */
  has: Partial<Record<ViewName, number>>;
  /** Worked out as well, which otherwise is not. */
  also?: ViewName[];
  /** How far the line is worked out beyond it: nothing that is not looked at is made. */
  reach: Reach;
  /** Only small prints of these, which are not looked at yet, without figures. */
  prints?: ViewName[];
  /** Scales to answer at, coarse to fine. */
  scales: number[];
  /** What follows the first answer waits so long, ms: somebody draws mark after mark. */
  rest?: number;
}

/** How a picture is exported. */
export interface ExportOptions {
  format: HandoverKind | 'jpeg' | 'webp';
  /** 1 to 100, of JPEG and WebP. */
  quality: number;
  /** Size per full size, up to 1. */
  scale: number;
  /** What the codes of a plain picture are of; sRGB when left out. */
  space?: CodeSpace;
}

/** How a clip is exported. */
export interface ClipExportOptions {
  format: 'webm' | 'mp4' | 'png' | 'png16' | 'jpeg';
  /** 1 to 100, of videos and JPEG. */
  quality: number;
  scale: number;
}

/** What is known of a followed subject. */
interface Followed {
  /** How certain each frame of the clip is, 0 to 1; NaN where nothing of the subject is seen. */
  certainty: number[];
  /** Share of the hidden ground that other frames show. */
  photographed?: number;
}

/** A picture as it came in. */
export interface PictureFacts {
  width: number;
  height: number;
  notes: string[];
  /** The colour over which it seems to be multiplied by its opacity. */
  multiplied?: string;
}

/** A refusal that crosses the worker's border: a sentence for the user. */
export interface Refusal {
  refusal: string;
}
