import { matteErrors, type Mark, type Picture, type Plane } from '@ritaglio/core';
import { undecidedOf } from '../truth';
import { nextMark, roughLoop, type Hand } from './user';

/** Something that cuts by marks, and is told of each further one. */
export type Cutter = (
  shot: Picture,
) => Promise<{ answer: (marks: readonly Mark[]) => Promise<Plane>; loop: (points: [number, number][]) => Mark }>;

/** How a cut went, mark by mark. */
export interface Course {
  /** Intersection over union with the truth at one half after each mark, from the first. */
  iou: number[];
  /** Mean squared error of opacity in the true undecided band, at the end. */
  band: number;
  marks: Mark[];
}

/** Marks that a made-up user sets. */
const marksEach = 15;

/** Lets the made-up user cut a picture. When nothing wrong is left to be seen the last answer stands. */
export async function course(shot: Picture, truth: Plane, hand: Hand, cutter: Cutter): Promise<Course> {
  const cut = await cutter(shot);
  let found: Plane = { ...truth, data: new Float32Array(truth.data.length) };
  const marks: Mark[] = [];
  const iou: number[] = [];
  for (let k = 0; k < marksEach; k++) {
    const mark = hand === 'loop' && k === 0 ? cut.loop(roughLoop(truth)) : nextMark(found, truth, hand);
    if (mark) {
      marks.push(mark);
      found = await cut.answer(marks);
    }
    iou.push(overlap(found, truth));
  }
  return { iou, band: matteErrors(found, truth, undecidedOf(truth)).mse, marks };
}

/** Intersection over union at one half. */
export function overlap(a: Plane, b: Plane): number {
  let [both, any] = [0, 0];
  for (let p = 0; p < a.data.length; p++) {
    const [x, y] = [a.data[p] > 0.5, b.data[p] > 0.5];
    if (x && y) both++;
    if (x || y) any++;
  }
  return any > 0 ? both / any : 1;
}
