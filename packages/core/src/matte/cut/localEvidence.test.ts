import { defaultContext } from '../../runtime/context';
import { oklabPlanes } from '../../colour/oklab';
import { grownMask } from '../../raster/morphology';
import { seeded } from '../../raster/random';
import { pictureFrom } from '../../testing/scenes';
import { colourEvidence } from './evidence';
import { sidesOf } from './colourModel';
import { drawnToSurroundings } from './localEvidence';
import { markedEdge, markedInside, markedOutside } from './marks';
import { borderOf } from './roughCut';

const context = defaultContext();
const width = 400;
const height = 160;
const n = width * height;

/** A beam across the picture. At the left it is grey before blue, at the right orange before the same grey. */
const inBeam = (y: number): boolean => y >= 60 && y < 100;
const random = seeded(4);
const lab = oklabPlanes(
  pictureFrom(width, height, (x, y) => {
    const noise = 0.02 * random();
    const grey = [0.2 + noise, 0.2 + noise, 0.2 + noise] as [number, number, number];
    if (x < 200) return inBeam(y) ? grey : [0.05 + noise, 0.1 + noise, 0.5 + noise];
    return inBeam(y) ? [0.6 + noise, 0.25 + noise, 0.05 + noise] : grey;
  }),
);
const label = Uint8Array.from({ length: n }, (_, p) => (inBeam(Math.floor(p / width)) ? 1 : 0));
const near = grownMask(borderOf(label, width, height), width, height, 6);
const seeds = new Uint8Array(n);
const at = (x: number, y: number): number => y * width + x;

async function fromTheWhole(): Promise<Float32Array> {
  const side = (wanted: number): Int32Array => Int32Array.from(label.keys()).filter((p) => label[p] === wanted);
  return colourEvidence(lab, await sidesOf(lab, side(1), side(0), context), context);
}

describe('evidence drawn to the surroundings', () => {
  test('takes one grey for inside here and for outside there', async () => {
    const whole = await fromTheWhole();
    const { drawn } = await drawnToSurroundings(whole, { label, near, seeds }, lab, context);
    const inside = at(100, 62);
    const outside = at(300, 56);
    // In the whole picture the grey is as much the one as the other.
    expect(Math.abs(whole[inside])).toBeLessThan(2);
    expect(Math.abs(whole[outside])).toBeLessThan(2);
    expect(drawn[inside]).toBeGreaterThan(whole[inside] + 4);
    expect(drawn[outside]).toBeLessThan(whole[outside] - 4);
  });

  test('a border a little off is put right by what lies beyond it', async () => {
    const off = Uint8Array.from(label, (_, p) => (Math.floor(p / width) >= 57 && Math.floor(p / width) < 97 ? 1 : 0));
    const along = grownMask(borderOf(off, width, height), width, height, 6);
    const { drawn } = await drawnToSurroundings(new Float32Array(n), { label: off, near: along, seeds }, lab, context);
    for (const x of [60, 100, 140, 260, 300, 340]) {
      for (const y of [58, 59]) expect(drawn[at(x, y)]).toBeLessThan(-3);
      for (const y of [97, 98]) expect(drawn[at(x, y)]).toBeGreaterThan(3);
    }
  });

  test('changes nothing away from the border, nor where only one side is', async () => {
    const whole = await fromTheWhole();
    const before = whole.slice();
    const { drawn } = await drawnToSurroundings(whole, { label, near, seeds }, lab, context);
    expect(whole).toEqual(before);
    for (let p = 0; p < n; p++) if (!near[p]) expect(drawn[p]).toBe(whole[p]);
    const all = await drawnToSurroundings(whole, { label: new Uint8Array(n).fill(1), near, seeds }, lab, context);
    expect(all.drawn).toEqual(whole);
  });

  test('believes a mark beside the border', async () => {
    const marked = seeds.slice();
    // A mark says that blue near the left part of the border is inside, and a good deal of it.
    for (let y = 54; y < 60; y++) for (let x = 80; x < 120; x++) marked[at(x, y)] = markedInside;
    const told = Uint8Array.from(label, (v, p) => (marked[p] === markedInside ? 1 : v));
    const plain = await drawnToSurroundings(new Float32Array(n), { label, near, seeds }, lab, context);
    const heard = await drawnToSurroundings(new Float32Array(n), { label: told, near, seeds: marked }, lab, context);
    expect(plain.drawn[at(100, 57)]).toBeLessThan(-3);
    expect(heard.drawn[at(100, 57)]).toBeGreaterThan(plain.drawn[at(100, 57)] + 2);
    // Too far away to hear of it.
    expect(heard.drawn[at(300, 57)]).toBe(plain.drawn[at(300, 57)]);
  });

  test('learns nothing from under an edge mark', async () => {
    const fuzzy = seeds.map((_, p) => (near[p] && p % width < 200 ? markedEdge : 0));
    const plain = await drawnToSurroundings(new Float32Array(n), { label, near, seeds }, lab, context);
    const edge = await drawnToSurroundings(new Float32Array(n), { label, near, seeds: fuzzy }, lab, context);
    expect(edge.drawn).toEqual(plain.drawn);
  });

  test('what was learnt before gives the same to the bit', async () => {
    const whole = await fromTheWhole();
    const borders = [
      { label, near, seeds },
      ...[30, 170, 390].map((x, i) => {
        const marked = seeds.slice();
        const code = i % 2 ? markedOutside : markedInside;
        for (let y = 40; y < 58; y++) for (let dx = -9; dx < 9; dx++) marked[at(x + dx, y)] = code;
        const changed = Uint8Array.from(label, (v, p) => (marked[p] === markedInside ? 1 : marked[p] === markedOutside ? 0 : v));
        return { label: changed, near: grownMask(borderOf(changed, width, height), width, height, 6), seeds: marked };
      }),
      { label, near, seeds },
    ];
    let last = (await drawnToSurroundings(whole, borders[0], lab, context)).colours;
    for (const border of borders) {
      const further = await drawnToSurroundings(whole, border, lab, context, last);
      const fresh = await drawnToSurroundings(whole, border, lab, context);
      expect(further.drawn).toEqual(fresh.drawn);
      last = further.colours;
    }
  });

  test.each([1, 7, 41, 61])('is defined on a picture of %d × 3 pixels', async (across) => {
    const tiny = oklabPlanes(pictureFrom(across, 3, (x) => [x % 2, 0.2, 0.1]));
    const mask = Uint8Array.from({ length: 3 * across }, (_, p) => p % 2);
    const evidence = new Float32Array(3 * across).fill(1);
    const all = new Uint8Array(3 * across).fill(1);
    const { drawn } = await drawnToSurroundings(evidence, { label: mask, near: all, seeds: new Uint8Array(3 * across) }, tiny, context);
    expect(drawn).toEqual(evidence);
  });
});
