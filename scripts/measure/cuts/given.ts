import { matteErrors, matteGround, matteOn, meanDeltaE, noTrim, defaultContext, unmix, withOpacity, type Plane } from '@ritaglio/core';
import sharp from 'sharp';
import { join } from 'node:path';
import { pictureAt, root, undecidedOf } from '../truth';
import { cutPictures, foregroundOf } from './pictures';

/** What the marks that come with a picture give. */
export interface Given {
  name: string;
  marks: number;
  /** Mean squared error of opacity in the true undecided band. */
  band: number;
  /** Mean ΔE2000 of half-covered pixels against the true foreground, weighted by true opacity: the shot as it is, and recovered. */
  shot?: number;
  recovered?: number;
}

/** Size of a place on the contact sheet, px of the shot, and how many times it is enlarged. */
const wide = 180;
const high = 120;
const times = 2;

/** Mattes by the marks that come with the pictures, and a contact sheet of their edges: ours beside the truth. */
export async function givenMarks(sheet: string): Promise<Given[]> {
  const context = defaultContext();
  const out: Given[] = [];
  const places: { input: Buffer; left: number; top: number }[] = [];
  for (const picture of cutPictures()) {
    const { shot, truth, marks } = await picture.load();
    if (!marks) continue;
    const product = await matteOn({ ground: await matteGround(shot, context) }, { marks, trim: noTrim }, context);
    const row: Given = { name: picture.name, marks: marks.length, band: matteErrors(product.matte, truth, undecidedOf(truth)).mse };
    const front = foregroundOf(picture.name);
    if (front) {
      const right = withOpacity(await pictureAt(front), truth);
      const weight = truth.data.map((a, p) => (a > 0 && a < 1 && product.matte.data[p] > 0 ? a : 0));
      row.shot = meanDeltaE(shot, right, weight);
      row.recovered = meanDeltaE((await unmix(shot, product, 1, context)).subject, right, weight);
    }
    out.push(row);
    const [x, y] = busiest(truth);
    const across = 2 * (wide * times + 6);
    const n = out.length - 1;
    for (const [k, matte] of [product.matte, truth].entries()) {
      places.push({
        input: await enlarged(matte, x, y),
        left: (n % 2) * (across + 12) + k * (wide * times + 6),
        top: Math.floor(n / 2) * (high * times + 12),
      });
    }
  }
  const rows = Math.ceil(out.length / 2);
  await sharp({
    create: { width: 4 * (wide * times + 6) + 12, height: rows * (high * times + 12), channels: 3, background: '#7d7d7d' },
  })
    .composite(places)
    .png({ palette: true })
    .toFile(join(root, sheet));
  return out;
}

/** Where most is half covered. */
function busiest(truth: Plane): [number, number] {
  let best: [number, number, number] = [0, 0, -1];
  for (let y = 0; y + high <= truth.height; y += high / 2) {
    for (let x = 0; x + wide <= truth.width; x += wide / 2) {
      let open = 0;
      for (let v = y; v < y + high; v++) {
        for (let u = x; u < x + wide; u++) {
          const a = truth.data[v * truth.width + u];
          if (a > 0.05 && a < 0.95) open++;
        }
      }
      if (open > best[2]) best = [x, y, open];
    }
  }
  return [best[0], best[1]];
}

function enlarged(matte: Plane, x: number, y: number): Promise<Buffer> {
  const codes = new Uint8Array(wide * high);
  for (let v = 0; v < high; v++) {
    for (let u = 0; u < wide; u++) codes[v * wide + u] = Math.round(255 * matte.data[(y + v) * matte.width + x + u]);
  }
  return sharp(codes, { raw: { width: wide, height: high, channels: 1 } })
    .resize(wide * times, high * times, { kernel: 'nearest' })
    .png()
    .toBuffer();
}
