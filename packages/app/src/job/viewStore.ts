import type { HandTip, Mark, MarkKind, Region, RetouchTip, SubjectRecipe } from '@ritaglio/core';
import { create } from 'zustand';
import { useShallow } from 'zustand/react/shallow';
import type { QuickJob } from '../data/quickJobs';
import type { Likeness } from '../worker/protocol';
import type { NotTaken } from './picture/notTaken';

export type PictureChoice = 'shot' | 'matte' | 'plate' | 'background' | 'finished' | 'distances';
export type Compare = 'whole' | 'wipe' | 'beside';
/** What is seen where the subject is not. */
export type Removed = 'hatch' | 'dimmed' | 'outline' | 'black' | 'white' | 'grey' | 'behind';

/** What the pointer does on the picture while the matte is open. */
export type Tool = 'mark' | 'hand' | 'garbage' | 'pick' | 'this' | 'gap';
/** What the pointer does on the picture while the plate is open. */
export type PlateTool = 'look' | 'add' | 'take' | 'part' | 'borrow' | 'retouch' | 'move';
/** What the pointer does on the picture while stage, lens or match are open. */
export type BenchTool =
  | 'look'
  | 'cards'
  | 'focus'
  | 'ground'
  | 'peg'
  | 'paint'
  | 'lamp'
  | 'strew'
  | 'stands'
  | 'like'
  | 'frame'
  | 'ours'
  | 'theirs'
  | 'protect'
  | 'hue'
  | 'ambient'
  | 'air'
  | 'shine'
  | 'limit'
  | 'graduate'
  | 'vignette';
export type ScopeKind = 'histogram' | 'waveform' | 'parade' | 'vector';
/** How a mark is made: along a stroke, around a region freehand or by corners; or marks are moved, turned and erased. */
export type Way = 'stroke' | 'outline' | 'polygon' | 'change';
export type GarbageShape = 'rectangle' | 'ellipse' | 'polygon';

/** Where the picture is looked at: screen pixels per full-size pixel, and the full-size point in the middle. */
export interface Look {
  zoom: number;
  x: number;
  y: number;
}

/** Marks that are proposed and not kept: one of several subjects, or gaps, of which all that are left are shown. */
export interface Proposals {
  of: 'subject' | 'gaps';
  list: Mark[][];
  at: number;
}

/** How things are shown; nothing of it belongs to the job. */
export interface ViewState {
  picture: PictureChoice;
  compare: Compare;
  removed: Removed;
  /** What the product is compared with. */
  against: 'shot' | 'skipped' | 'take';
  /** The take that is compared with: its name, its finished picture and the pixels of that per full-size pixel. */
  take?: { id: string; name: string; bitmap: ImageBitmap; scale: number };
  takes: boolean;
  /** Whether all of the plate that will not show is dimmed, and whether repeats are outlined. */
  showing: boolean;
  /** Whether only what is left of the subject is lit on the plate. */
  left: boolean;
  repeats: boolean;
  /** Whether the undecided band is shown over the shot. */
  band: boolean;
  /** Where the wipe stands, 0 to 1 of the frame's width. */
  wipe: number;
  /** Nothing means: the whole frame fits. */
  look?: Look;
  /** Why the last stroke on the picture was not taken. */
  notTaken?: NotTaken;
  /** Zoom that fits the frame, kept by the picture for the keys and the read-out. */
  fitZoom: number;
  /** The shot is shown while the key is held. */
  before: boolean;
  /** The finished picture without something, shown while that is held. */
  held?: { name: string; bitmap?: ImageBitmap; scale?: number };
  /** The subject whose matte and plate are open; nothing: the first. */
  subject?: string;
  /** What is graded: a card, or the whole. */
  grading: string;
  /** What a limit that is drawn is of: its grade, or its blur. */
  limiting: 'grade' | 'blur';
  /** Which scope is seen, of the whole or of both sides apart, and how close. */
  scope: ScopeKind;
  apart: boolean;
  close: boolean;
  /** Whether what leaves the range is hatched. */
  beyond: boolean;
  tool: Tool;
  plateTool: PlateTool;
  benchTool: BenchTool;
  /** The card that is picked out on the bench. */
  card?: string;
  /** Whether found lamps are outlined. */
  lamps: boolean;
  /** The distance that is painted, m, and what a lamp set by hand is like. */
  paintDistance: number;
  lampColour: string;
  lampSize: number;
  lampLift: number;
  /** The region whose blur is to be shared, drawn on the shot; nothing lets it be chosen. */
  like?: Region;
  /** What was measured last of it. */
  likeness?: Likeness;
  /** Which kind of mark is drawn, how, and how wide the tip is, full-size px. */
  mark: MarkKind;
  way: Way;
  tip: number;
  /** What the hand's tip does, how hard its rim and how strong it is, 0 to 1. */
  hand: HandTip;
  hardness: number;
  strength: number;
  shape: GarbageShape;
  /** Whether shapes that are drawn clear what is in them. */
  clears: boolean;
  /** The job is one of the common ones: only the controls that it needs are seen. */
  quick?: QuickJob;
  retouch: RetouchTip;
  /** Where retouching copies from, full-size px, and the first point it was matched with; until then the next press sets it. */
  source?: readonly [number, number];
  sourceFor?: readonly [number, number];
  settingSource: boolean;
  /** Every stroke begins at the source again. */
  fixedSource: boolean;
  flipSource: boolean;
  sourceSize: number;
  paint: string;
  /** Number of the mark or garbage shape that is picked out. */
  chosen?: number;
  /** Subjects proposed without marks, and which of them is shown. */
  proposals?: Proposals;
  /** Which stretch of edge the loupe is on; of the proof, which of all places. */
  place: number;
  keys: boolean;
  /** Whether a control is being looked for. */
  finding: boolean;
  /** What is open below the picture on a narrow screen. */
  sheet?: 'controls' | 'evidence' | 'bench';
  /** The frame of the job that is looked at. */
  frame: number;
  playing: boolean;
  /** The frame that is shown while it plays. */
  played?: number;
  /** The marks by which the subject was asked to be followed last: while they are the same it is. */
  followed?: SubjectRecipe['marks'];
  /** The place in the recipe of the number that was in hand last, for a point at now. */
  inHand?: string;
  tape: boolean;
  set: (change: Partial<Omit<ViewState, 'set'>>) => void;
}

/** What is looked at in one job, as it is when a job is opened. */
const inOneJob = {
  look: undefined,
  compare: 'whole',
  place: 0,
  before: false,
  chosen: undefined,
  proposals: undefined,
  source: undefined,
  sourceFor: undefined,
  card: undefined,
  like: undefined,
  likeness: undefined,
  take: undefined,
  takes: false,
  held: undefined,
  grading: 'whole',
  subject: undefined,
  frame: 0,
  playing: false,
  followed: undefined,
  inHand: undefined,
  quick: undefined,
} satisfies Partial<ViewState>;

export const useView = create<ViewState>()((set) => ({
  picture: 'shot',
  removed: 'hatch',
  band: false,
  wipe: 0.5,
  fitZoom: 1,
  limiting: 'grade',
  scope: 'histogram',
  apart: true,
  close: false,
  beyond: false,
  tool: 'mark',
  plateTool: 'look',
  benchTool: 'look',
  lamps: false,
  paintDistance: 10,
  lampColour: '#ffd9a0',
  lampSize: 14,
  lampLift: 4,
  against: 'shot',
  showing: false,
  left: false,
  repeats: false,
  retouch: 'heal',
  settingSource: false,
  fixedSource: false,
  flipSource: false,
  sourceSize: 1,
  paint: '#808080',
  mark: 'inside',
  way: 'stroke',
  tip: 28,
  hand: 'opaque',
  hardness: 0.5,
  strength: 1,
  shape: 'rectangle',
  clears: false,
  keys: false,
  finding: false,
  sheet: undefined,
  played: undefined,
  tape: true,
  ...inOneJob,
  set,
}));

/** Begins to look at another job. */
export const lookAnew = (): void => useView.setState(inOneJob);

/** Some of it, drawn anew only when one of them changes. */
export function useViewOf<K extends keyof ViewState>(...keys: K[]): Pick<ViewState, K> {
  return useView(useShallow((state) => Object.fromEntries(keys.map((key) => [key, state[key]])) as Pick<ViewState, K>));
}
