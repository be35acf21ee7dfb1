import {
  distanceTo,
  encodedFinely,
  gaussian,
  halve,
  pictureOf,
  planesOf,
  type Mark,
  type Picture,
  type Plane,
  type Random,
} from '@ritaglio/core';
import { between, bell, spread } from './layer';
import { makeGround } from './ground';
import { makeSubject } from './subject';

/** A made-up shot and what is true of it. */
export interface Lesson {
  shot: Picture;
  truth: Plane;
  /** The subject's light multiplied by its opacity. */
  front: Picture;
}

/** A subject drawn twice as large before a ground, reduced, a little softened, with noise; light is linear. */
export function makeLesson(width: number, height: number, photos: readonly Picture[], random: Random): Lesson {
  const size = Math.max(0.5, width / 1800) * spread(random, 0.7, 1.3);
  const ground = makeGround(width, height, photos, random);
  const drawn = makeSubject(2 * width, 2 * height, 2 * size, ground, random);
  const soft = random() < 0.15 ? spread(random, 0.8, 4) : between(random, 0.3, 0.55);
  const [r, g, b, a] = planesOf(drawn).map((p) => gaussian(halve(p), soft));
  const truth = { width, height, data: a.data.map((v) => (v < 0.004 ? 0 : v > 0.996 ? 1 : v)) };
  const front = pictureOf([r, g, b]);
  const noise = random() < 0.3 ? 0 : spread(random, 0.002, 0.012);
  const shot = pictureOf(
    planesOf(front).map((p, c) => {
      const behind = planesOf(ground)[c].data;
      const data = p.data.map((v, i) => Math.min(1, Math.max(0, v + (1 - a.data[i]) * behind[i])));
      // Noise as even in encoded light as that of a camera's picture.
      if (noise > 0)
        for (let i = 0; i < data.length; i++)
          data[i] = Math.min(1, Math.max(0, data[i] + noise * bell(random) * 1.6 * Math.sqrt(data[i] + 0.001)));
      return { width, height, data };
    }),
  );
  return { shot, truth, front };
}

/** Cells of the picture that a condition holds for, in no order. */
function cells(width: number, height: number, step: number, random: Random): [number, number][] {
  const out: [number, number][] = [];
  for (let y = step / 2; y < height; y += step) for (let x = step / 2; x < width; x += step) out.push([Math.floor(x), Math.floor(y)]);
  for (let i = out.length - 1; i > 0; i--) {
    const j = Math.floor(random() * (i + 1));
    [out[i], out[j]] = [out[j], out[i]];
  }
  return out;
}

/** The first marks somebody would make who sees the truth: short strokes well inside, around, and over what is fuzzy. */
export function firstMarks(truth: Plane, random: Random): Mark[] {
  const { width, height } = truth;
  const inside = distanceTo(
    truth.data.map((v) => (v < 1 ? 1 : 0)),
    width,
    height,
    60,
  ).data;
  const outside = distanceTo(
    truth.data.map((v) => (v > 0 ? 1 : 0)),
    width,
    height,
    200,
  ).data;
  const soft = gaussian({ width, height, data: truth.data.map((v) => (v > 0 && v < 1 ? 1 : 0)) }, 8).data;
  const marks: Mark[] = [];
  const stroke = (kind: Mark['kind'], x: number, y: number, away: Float32Array, least: number, radius: number): void => {
    const turn = random() * 2 * Math.PI;
    const points: [number, number][] = [[x, y]];
    for (let i = 0; i < 12; i++) {
      const [u, v] = [Math.round(points[i][0] + 8 * Math.cos(turn)), Math.round(points[i][1] + 8 * Math.sin(turn))];
      if (u < 0 || v < 0 || u >= width || v >= height || !(away[v * width + u] > least)) break;
      points.push([u, v]);
    }
    marks.push({ kind, radius, points });
  };
  const scale = width / 1800;
  let [ins, outs] = [4 + 14 * random(), 6 + 25 * random()];
  const edges = random() < 0.9 ? between(random, 0.6, 1.3) : 0;
  const [step, wide] = [between(random, 14, 22) * scale, between(random, 9, 16) * scale];
  for (const [x, y] of cells(width, height, step, random)) {
    const p = y * width + x;
    if (edges > random() && soft[p] > 0.3) marks.push({ kind: 'edge', radius: wide, points: [[x, y]] });
  }
  for (const [x, y] of cells(width, height, 24 * scale, random)) {
    const p = y * width + x;
    if (ins > 0 && inside[p] > 22 * scale) {
      stroke('inside', x, y, inside, 16 * scale, between(random, 5, 12) * scale);
      ins--;
    }
    if (outs > 0 && outside[p] > 24 * scale && (outs > 6 || outside[p] < 90 * scale)) {
      stroke('outside', x, y, outside, 20 * scale, between(random, 5, 12) * scale);
      outs--;
    }
  }
  return marks;
}

/** Further marks where an answer is plainly wrong, the worst places first. */
export function mendingMarks(answer: Plane, truth: Plane, most: number, random: Random): Mark[] {
  const { width, height } = truth;
  const scale = width / 1800;
  const fuzzy = gaussian({ width, height, data: truth.data.map((v) => (v > 0 && v < 1 ? 1 : 0)) }, 3).data;
  const unsolved = gaussian(
    { width, height, data: truth.data.map((v, p) => (v > 0 && v < 1 && (answer.data[p] < 0.02 || answer.data[p] > 0.98) ? 1 : 0)) },
    3,
  ).data.map((v, p) => v / Math.max(0.1, fuzzy[p]));
  const wrong = (kind: Mark['kind'], is: (p: number) => boolean): { kind: Mark['kind']; x: number; y: number; deep: number }[] => {
    const mask = new Float32Array(width * height);
    for (let p = 0; p < mask.length; p++) mask[p] = is(p) ? 0 : 1;
    const deep = distanceTo(mask, width, height, 40).data;
    return cells(width, height, 30 * scale, random).flatMap(([cx, cy]) => {
      let best = { kind, x: 0, y: 0, deep: 2.5 * scale };
      for (let y = Math.max(0, cy - 15); y < Math.min(height, cy + 15); y++) {
        for (let x = Math.max(0, cx - 15); x < Math.min(width, cx + 15); x++) {
          const d = Math.min(40, deep[y * width + x]);
          if (d > best.deep) best = { kind, x, y, deep: d };
        }
      }
      return best.x > 0 ? [best] : [];
    });
  };
  const places = [
    ...wrong('outside', (p) => truth.data[p] === 0 && answer.data[p] > 0.3),
    ...wrong('inside', (p) => truth.data[p] === 1 && answer.data[p] < 0.7),
    ...wrong('edge', (p) => fuzzy[p] > 0.5 && unsolved[p] > 0.6),
  ].sort((a, b) => b.deep - a.deep);
  return places
    .slice(0, most)
    .map(({ kind, x, y, deep }) => ({ kind, radius: kind === 'edge' ? 12 * scale : Math.max(2 * scale, 0.7 * deep), points: [[x, y]] }));
}

/** Light as 8-bit codes, three a pixel. */
export function codesOf(p: Picture): Uint8Array {
  const out = new Uint8Array(3 * p.width * p.height);
  [p.r, p.g, p.b].forEach((plane, c) => plane.forEach((v, i) => (out[3 * i + c] = Math.round(255 * encodedFinely(v)))));
  return out;
}
