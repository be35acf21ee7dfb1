import { centred, wayTo, type Recipe } from '@ritaglio/core';
import type { Step } from '../steps';
import type { ViewName } from '../../worker/protocol';

interface Size {
  width: number;
  height: number;
}

/** Products that have the frame's size; the others have the shot's. */
const framed: readonly string[] = ['background', 'finished', 'skipped', 'distances', 'beyond', 'take', 'held'] satisfies (
  ViewName | 'take' | 'held'
)[];

/** True while a step works on the shot itself rather than on the frame. */
function onShot(step: Step): boolean {
  return step === 'pictures' || step === 'matte' || step === 'plate';
}

/** The full size of what a step shows: of the shot, and from the stage on of the frame. */
export function roomOf({ frame }: Recipe, step: Step, subject: { size: Size }): Size {
  return onShot(step) ? subject.size : frame;
}

/** How a product lies in what a step shows, for a picture drawn about its middle. */
export function layOf(
  recipe: Recipe,
  step: Step,
  product: string,
  subject: { size: Size },
): Size & { x: number; y: number; offsetX: number; offsetY: number; rotation: number } {
  const { frame } = recipe;
  const { size } = subject;
  const isFramed = framed.includes(product);
  const own = isFramed ? frame : size;
  const middle = { width: own.width, height: own.height, offsetX: own.width / 2, offsetY: own.height / 2 };
  if (isFramed !== onShot(step)) return { ...middle, x: own.width / 2, y: own.height / 2, rotation: 0 };
  if (isFramed) return { ...middle, x: size.width / 2 + frame.x, y: size.height / 2 + frame.y, rotation: -frame.turn };
  const way = wayTo(size, 1, centred, frame, 1);
  return { ...middle, x: way.x, y: way.y, rotation: frame.turn };
}
