import { hexOf, decodeSrgb, type Samples } from './srgb';

/** Codes of rounding that a multiplied picture may be out by. */
const slack = 1.5 / 255;

/**
 * The colour over which a picture with opacity was multiplied, or nothing when it looks straight. Multiplied over a colour M,
 * no code can be further from M than the opacity allows; straight pictures break that bound. Black, white, and the colour that
 * the nearly clear pixels agree on are tried.
 *
 * @returns #rrggbb
 */
export function premultipliedOver(s: Samples): string | undefined {
  if (s.channels !== 4 && s.channels !== 2) return undefined;
  const colours = s.channels - 1;
  const full = s.data instanceof Uint16Array ? 65535 : 255;
  const clearest = nearlyClear(s, colours, full);
  const tried = [[0, 0, 0], [1, 1, 1], ...(clearest ? [clearest] : [])];
  const found = tried.find((m) => isWithin(s, colours, full, m));
  return found && hexOf(...(found.map(decodeSrgb) as [number, number, number]));
}

/** Mean code of the least opaque pixels when they agree within a few codes. */
function nearlyClear(s: Samples, colours: number, full: number): number[] | undefined {
  const sum = [0, 0, 0];
  const square = [0, 0, 0];
  let n = 0;
  for (let k = 0; k < s.data.length; k += s.channels) {
    const a = s.data[k + colours] / full;
    if (a <= 0.004 || a > 0.06) continue;
    n++;
    for (let c = 0; c < 3; c++) {
      const v = s.data[k + Math.min(c, colours - 1)] / full;
      sum[c] += v;
      square[c] += v * v;
    }
  }
  if (n < 40) return undefined;
  const mean = sum.map((v) => v / n);
  return mean.every((m, c) => square[c] / n - m * m < 0.03 ** 2) ? mean : undefined;
}

/** Whether all partly clear pixels keep the bound, though opaque ones reach well away from the colour. */
function isWithin(s: Samples, colours: number, full: number, over: number[]): boolean {
  let [partial, within, opaque, far] = [0, 0, 0, 0];
  for (let k = 0; k < s.data.length; k += s.channels) {
    const a = s.data[k + colours] / full;
    let most = 0;
    for (let c = 0; c < colours; c++) most = Math.max(most, Math.abs(s.data[k + c] / full - over[c]));
    if (a >= 0.99) {
      opaque++;
      if (most > 0.5) far++;
    } else if (a > 0.03 && a < 0.7) {
      partial++;
      let fits = true;
      for (let c = 0; c < colours; c++) {
        const least = over[c] * (1 - a);
        const v = s.data[k + c] / full;
        fits &&= v >= least - slack && v <= least + a + slack;
      }
      if (fits) within++;
    }
  }
  return partial >= 40 && within / partial > 0.995 && far > 0.2 * opaque;
}

/**
 * Straight opacity from a picture multiplied over a colour, in code values as it was multiplied. Clear pixels become that
 * colour. 16 bits, so that thin edges do not band.
 *
 * @param over #rrggbb
 */
export function straightened(s: Samples, over: string): Samples {
  if (s.channels !== 4 && s.channels !== 2) return s;
  const colours = s.channels - 1;
  const full = s.data instanceof Uint16Array ? 65535 : 255;
  const code = [1, 3, 5].map((at) => Number.parseInt(over.slice(at, at + 2), 16) / 255);
  const data = new Uint16Array(s.data.length);
  for (let k = 0; k < data.length; k += s.channels) {
    const a = s.data[k + colours] / full;
    data[k + colours] = a * 65535 + 0.5;
    for (let c = 0; c < colours; c++) {
      const v = a > 0 ? (s.data[k + c] / full - code[c] * (1 - a)) / a : code[c];
      data[k + c] = Math.min(1, Math.max(0, v)) * 65535 + 0.5;
    }
  }
  return { ...s, data };
}
