import type { HandTip, Mark, MarkKind } from '@ritaglio/core';
import { create } from 'zustand';

export type PictureChoice = 'shot' | 'matte' | 'plate' | 'background' | 'finished';
export type Compare = 'whole' | 'wipe' | 'beside';
/** What is seen where the subject is not. */
export type Removed = 'hatch' | 'dimmed' | 'outline' | 'black' | 'white' | 'grey' | 'behind';

/** What the pointer does on the picture while the matte is open. */
export type Tool = 'mark' | 'hand' | 'garbage' | 'pick';
/** How a mark is made: along a stroke, around a region freehand or by corners; or marks are moved, turned and erased. */
export type Way = 'stroke' | 'outline' | 'polygon' | 'change';
export type GarbageShape = 'rectangle' | 'ellipse' | 'polygon';

/** Where the picture is looked at: screen pixels per full-size pixel, and the full-size point in the middle. */
export interface Look {
  zoom: number;
  x: number;
  y: number;
}

/** How things are shown; nothing of it belongs to the job. */
export interface ViewState {
  picture: PictureChoice;
  compare: Compare;
  removed: Removed;
  /** Whether the undecided band is shown over the shot. */
  band: boolean;
  /** Where the wipe stands, 0 to 1 of the frame's width. */
  wipe: number;
  /** Nothing means: the whole frame fits. */
  look?: Look;
  /** Zoom that fits the frame, kept by the picture for the keys and the read-out. */
  fitZoom: number;
  /** The shot is shown while the key is held. */
  before: boolean;
  tool: Tool;
  /** Which kind of mark is drawn, how, and how wide the tip is, full-size px. */
  mark: MarkKind;
  way: Way;
  tip: number;
  /** What the hand's tip does, how hard its rim and how strong it is, 0 to 1. */
  hand: HandTip;
  hardness: number;
  strength: number;
  shape: GarbageShape;
  /** Number of the mark or garbage shape that is picked out. */
  chosen?: number;
  /** Subjects proposed without marks, and which of them is shown. */
  proposals?: { list: Mark[][]; at: number };
  /** Which stretch of edge the loupe is on. */
  place: number;
  keys: boolean;
  set: (change: Partial<Omit<ViewState, 'set'>>) => void;
}

export const useView = create<ViewState>()((set) => ({
  picture: 'shot',
  compare: 'whole',
  removed: 'hatch',
  band: false,
  wipe: 0.5,
  look: undefined,
  fitZoom: 1,
  before: false,
  tool: 'mark',
  mark: 'inside',
  way: 'stroke',
  tip: 28,
  hand: 'opaque',
  hardness: 0.5,
  strength: 1,
  shape: 'rectangle',
  chosen: undefined,
  proposals: undefined,
  place: 0,
  keys: false,
  set,
}));
