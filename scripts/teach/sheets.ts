import sharp from 'sharp';
import { fromSamples, maskAt, matteGround, matteOn, noTrim, defaultContext, widened, type Picture, type Random } from '@ritaglio/core';
import { between } from './layer';
import { codesOf, firstMarks, makeLesson, mendingMarks } from './lesson';
import type { Sheet } from './patches';

/** Widths that shots are made in, and how often: opacity is solved at 900. */
const widths: readonly (readonly [number, number])[] = [
  [900, 0.2],
  [1200, 0.4],
  [1800, 0.4],
];

/** A lesson that has been stored as JPEG, marked, mended and solved, as far as that goes without what is to be learned. */
export async function makeSheet(photos: readonly Picture[], random: Random): Promise<Sheet> {
  const context = defaultContext();
  let share = random();
  const width = widths.find(([, often]) => (share -= often) < 0)?.[0] ?? 1800;
  const height = Math.round(width / 1.5);
  const { shot, truth } = makeLesson(width, height, photos, random);
  // What a camera would have stored.
  const quality = Math.round(between(random, 82, 98));
  const chromaSubsampling = random() < 0.5 ? '4:4:4' : '4:2:0';
  const raw = { width, height, channels: 3 as const };
  const codes = await sharp(await sharp(codesOf(shot), { raw }).jpeg({ quality, chromaSubsampling }).toBuffer())
    .raw()
    .toBuffer();
  const stored = fromSamples({ width, height, channels: 3, data: new Uint8Array(codes) });
  const ground = await matteGround(stored, context);
  let marks = firstMarks(truth, random);
  const rounds = 3 + Math.floor(random() * 4);
  for (let k = 0; ; k++) {
    const { matte } = await matteOn({ ground }, { marks, trim: noTrim }, context);
    const more = k < rounds ? mendingMarks(matte, truth, 16, random) : [];
    if (more.length === 0) break;
    marks = [...marks, ...more];
  }
  // What was solved, before it was corrected.
  const { carried, solved, learned } = ground.last;
  const before = (carried?.large ?? solved!.matte).data;
  const state = maskAt(learned!.known.trimap, ground.light.width, ground.light.height, width, height);
  const asked = widened(
    Uint8Array.from(state, (s) => (s === 1 ? 1 : 0)),
    width,
    height,
    3,
  );
  const places = placesWhere(asked, () => true);
  const covered = placesWhere(asked, (p) => truth.data[p] > 0 && truth.data[p] < 1);
  return {
    width,
    height,
    codes: new Uint8Array(codes),
    solved: Uint8Array.from(before, (v) => Math.round(255 * v)),
    truth: Uint8Array.from(truth.data, (v) => Math.round(255 * v)),
    state,
    asked,
    places,
    covered,
  };
}

function placesWhere(asked: Uint8Array, holds: (p: number) => boolean): Int32Array {
  const out: number[] = [];
  asked.forEach((v, p) => v && holds(p) && out.push(p));
  return Int32Array.from(out);
}
