import type { MarkKind } from '@ritaglio/core';
import { create } from 'zustand';

export type PictureChoice = 'shot' | 'matte' | 'plate' | 'background' | 'finished';
export type Compare = 'whole' | 'wipe' | 'beside';
export type Removed = 'hatch' | 'black' | 'white';

/** Where the picture is looked at: screen pixels per full-size pixel, and the full-size point in the middle. */
export interface Look {
  zoom: number;
  x: number;
  y: number;
}

/** How things are shown; nothing of it belongs to the job. */
interface ViewState {
  picture: PictureChoice;
  compare: Compare;
  removed: Removed;
  /** Where the wipe stands, 0 to 1 of the frame's width. */
  wipe: number;
  /** Nothing means: the whole frame fits. */
  look?: Look;
  /** Zoom that fits the frame, kept by the picture for the keys and the read-out. */
  fitZoom: number;
  /** The shot is shown while the key is held. */
  before: boolean;
  /** Which kind of mark is drawn, and how wide the tip is, full-size px. */
  mark: MarkKind;
  tip: number;
  /** Which stretch of edge the loupe is on. */
  place: number;
  keys: boolean;
  set: (change: Partial<Omit<ViewState, 'set'>>) => void;
}

export const useView = create<ViewState>()((set) => ({
  picture: 'shot',
  compare: 'whole',
  removed: 'hatch',
  wipe: 0.5,
  look: undefined,
  fitZoom: 1,
  before: false,
  mark: 'inside',
  tip: 28,
  place: 0,
  keys: false,
  set,
}));
