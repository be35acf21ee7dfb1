import { seeded } from '@ritaglio/core';
import { anyPatch, plainCounts, side, type Sheet } from './patches';

/** A sheet whose numbers tell where they come from: opacity runs along x, the truth lacks a little of it. */
function sheet(width: number, height: number): Sheet {
  const n = width * height;
  const column = Uint8Array.from({ length: n }, (_, p) => Math.round((200 * (p % width)) / width));
  return {
    width,
    height,
    codes: Uint8Array.from({ length: 3 * n }, (_, i) => [40, 120, 240][i % 3]),
    solved: column,
    truth: column.map((v) => v + 20),
    state: column.map((v) => (v < 30 ? 0 : v > 160 ? 2 : 1)),
    asked: column.map((v) => (v >= 30 && v <= 160 ? 1 : 0)),
    places: Int32Array.from({ length: n }, (_, p) => p).filter((p) => column[p] >= 30 && column[p] <= 160),
    covered: Int32Array.from({ length: n }, (_, p) => p).filter((p) => column[p] >= 60 && column[p] <= 100),
  };
}

const sheets = [sheet(150, 130)];

test('a patch keeps together what belongs together, however it is turned', () => {
  const random = seeded(1);
  const orders = new Set<string>();
  for (let n = 0; n < 12; n++) {
    const { seen, lacking, asked } = anyPatch(sheets, random);
    expect([seen.width, seen.height, seen.data.length]).toEqual([side, side, 18 * side * side]);
    expect(lacking.every((v) => Math.abs(v - 20 / 255) < 1e-6)).toBe(true);
    const lights = [0, 4, 8].map((c) => seen.data[c]);
    orders.add(
      lights
        .map((v, c) => ({ v, c }))
        .sort((a, b) => a.v - b.v)
        .map(({ c }) => c)
        .join(),
    );
    // Counted, not expected one by one: there are many thousands.
    let wrong = 0;
    for (let place = 0; place < side * side; place++) {
      let [ins, outs] = [0, 0];
      for (let k = 0; k < 4; k++) {
        const solved = Math.round((255 * (seen.data[18 * place + 12 + k] + 1)) / 2);
        if (asked[4 * place + k] !== (solved >= 30 && solved <= 160 ? 1 : 0)) wrong++;
        if (solved > 160) ins += 0.25;
        if (solved < 30) outs += 0.25;
        for (let c = 0; c < 3; c++) if (Math.abs(seen.data[18 * place + 4 * c + k] - lights[c]) > 1e-5) wrong++;
      }
      if (seen.data[18 * place + 16] !== ins || seen.data[18 * place + 17] !== outs) wrong++;
    }
    expect(wrong).toBe(0);
  }
  // Colours change places, so that none of them means anything by itself.
  expect(orders.size).toBeGreaterThan(2);
});

test('what is hopelessly wrong is not learned from', () => {
  const wrong = { ...sheets[0], truth: sheets[0].solved.map((v) => (v > 100 ? 0 : 255)) };
  for (let n = 0; n < 5; n++) {
    const { lacking } = anyPatch([wrong, sheets[0]], seeded(n));
    expect(Math.max(...lacking.map(Math.abs))).toBeLessThan(0.1);
  }
});

test('what is wholly clear or opaque in truth counts more than what is half covered', () => {
  const [base] = sheets;
  const n = base.width * base.height;
  const faint = { ...base, solved: new Uint8Array(n).fill(10), asked: new Uint8Array(n).fill(1) };
  const half = { ...faint, truth: faint.solved.map((_, p) => (p % base.width < base.width / 2 ? 0 : 20)) };
  const { lacking, asked } = anyPatch([half], seeded(3));
  expect(new Set(asked)).toEqual(new Set([1, plainCounts]));
  asked.forEach((weight, i) => expect(weight).toBe(lacking[i] < 0 ? plainCounts : 1));
});

test('a sheet smaller than a patch, or with nothing to correct, is passed over', () => {
  const small = sheet(60, 60);
  const decided = { ...sheets[0], places: new Int32Array(0), covered: new Int32Array(0) };
  for (let n = 0; n < 5; n++) expect(anyPatch([small, decided, sheets[0]], seeded(n)).asked.some((v) => v === 1)).toBe(true);
});
