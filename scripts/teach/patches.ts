import type { Random } from '@ritaglio/core';
import type { Places } from './network';

/** A lesson as the network sees it, at the size of the shot: bytes a pixel. */
export interface Sheet {
  width: number;
  height: number;
  /** sRGB codes of the shot, three a pixel. */
  codes: Uint8Array;
  /** What was solved and what is true, in 255 steps. */
  solved: Uint8Array;
  truth: Uint8Array;
  /** What is known: 0 out, 1 undecided, 2 in. */
  state: Uint8Array;
  /** 1 for the pixels that are corrected. */
  asked: Uint8Array;
  /** Where they are, and where those of them are that are half covered in truth. */
  places: Int32Array;
  covered: Int32Array;
}

/** What the network sees of a part of a sheet, and what it should say. */
export interface Patch {
  seen: Places;
  /** Truth less what was solved, four numbers a place, and how much it counts: nothing where it is not asked. */
  lacking: Float64Array;
  asked: Float64Array;
}

/** Places of a patch along each side. */
export const side = 48;
const seenOfPlace = 18;
/** Squared error above which what was solved says more of the marks than of strands. */
const hopeless = 0.07;

/** How much a pixel counts that is wholly clear or opaque in truth: too little there is seen as haze. */
export const plainCounts = 1.25;

/** A part of one of the sheets, turned, mirrored and recoloured by chance. */
export function anyPatch(sheets: readonly Sheet[], random: Random): Patch {
  for (;;) {
    const patch = patchAt(sheets[Math.floor(random() * sheets.length)], random);
    let [wrong, count] = [0, 0];
    for (let i = 0; patch && i < patch.lacking.length; i++) {
      wrong += patch.asked[i] * patch.lacking[i] ** 2;
      count += patch.asked[i];
    }
    if (patch && count > 0 && wrong < hopeless * count) return patch;
  }
}

function patchAt(sheet: Sheet, random: Random): Patch | undefined {
  const { width, height } = sheet;
  const span = 2 * side;
  const from = random() < 0.6 ? sheet.covered : sheet.places;
  if (from.length === 0 || width < span || height < span) return undefined;
  const p = from[Math.floor(random() * from.length)];
  const left = Math.min(width - span, Math.max(0, (p % width) - Math.floor(random() * span)));
  const top = Math.min(height - span, Math.max(0, Math.floor(p / width) - Math.floor(random() * span)));
  const [turned, mirrored, upside] = [random() < 0.5, random() < 0.5, random() < 0.5];
  const order = [0, 1, 2].map((c) => ({ c, at: random() })).sort((a, b) => a.at - b.at);
  const [gain, lift] = random() < 0.5 ? [1, 0] : [0.6 + 0.7 * random(), 0.15 * random() - 0.05];
  const out: Patch = {
    seen: { width: side, height: side, data: new Float64Array(seenOfPlace * side * side) },
    lacking: new Float64Array(4 * side * side),
    asked: new Float64Array(4 * side * side),
  };
  for (let y = 0; y < span; y++) {
    for (let x = 0; x < span; x++) {
      const [a, b] = [mirrored ? span - 1 - x : x, upside ? span - 1 - y : y];
      const q = (top + (turned ? a : b)) * width + left + (turned ? b : a);
      const place = (y >> 1) * side + (x >> 1);
      const k = 2 * (y & 1) + (x & 1);
      order.forEach(({ c }, i) => {
        const light = Math.min(1, Math.max(0, (gain * sheet.codes[3 * q + c]) / 255 + lift));
        out.seen.data[seenOfPlace * place + 4 * i + k] = 2 * light - 0.8;
      });
      out.seen.data[seenOfPlace * place + 12 + k] = (2 * sheet.solved[q]) / 255 - 1;
      if (sheet.state[q] === 2) out.seen.data[seenOfPlace * place + 16] += 0.25;
      if (sheet.state[q] === 0) out.seen.data[seenOfPlace * place + 17] += 0.25;
      out.lacking[4 * place + k] = (sheet.truth[q] - sheet.solved[q]) / 255;
      if (sheet.asked[q]) out.asked[4 * place + k] = sheet.truth[q] % 255 === 0 ? plainCounts : 1;
    }
  }
  return out;
}
