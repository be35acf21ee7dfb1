import { defaultContext } from '../runtime/context';
import { pictureFrom, planeFrom } from '../testing/scenes';
import type { Picture } from '../raster/plane';
import { defaultPlate, plate } from './plate';
import { notLookedFor } from './residue';
import { unexplainedGround } from './unexplained';

type Colour = [number, number, number];
const [width, height] = [300, 200];
const [x0, y0] = [150, 100];
const radius = 48;
const away = (x: number, y: number): number => Math.hypot(x + 0.5 - x0, y + 0.5 - y0);
/** A little different at every pixel, always the same. */
const rough = (x: number, y: number): number => 1 + 0.08 * Math.sin(12.9 * x + 78.2 * y);
const times = ([r, g, b]: Colour, k: number): Colour => [r * k, g * k, b * k];

/** A dusk in stripes, and a brass ball whose left side shines. */
const dusk = (x: number, y: number): Colour => times(Math.floor(y / 14) % 2 ? [0.1, 0.04, 0.07] : [0.2, 0.06, 0.04], rough(x, y));
const brass = (x: number, y: number): Colour => times([0.3, 0.16, 0.03], (x < x0 - 25 ? 2 : 1) * rough(y, x));
const ball = (x: number, y: number): boolean => away(x, y) < radius;
/** The matte has lost a rim at the ball's left. */
const rim = 5;
const lost = (x: number, y: number): boolean => ball(x, y) && x < x0 && away(x, y) > radius - rim;
const shot = pictureFrom(width, height, (x, y) => (ball(x, y) ? brass(x, y) : dusk(x, y)));
const short = planeFrom(width, height, (x, y) => (ball(x, y) && !lost(x, y) ? 1 : 0));

/** The edge is half covered, and its ground recovered as something. */
const band = (x: number, y: number): boolean => Math.abs(away(x, y) - radius) < 5;
const soft = planeFrom(width, height, (x, y) => (band(x, y) ? 0.5 : ball(x, y) ? 1 : 0));
const recovered = (inBand: (x: number, y: number) => Colour): Picture =>
  pictureFrom(width, height, (x, y) => (band(x, y) ? inBand(x, y) : ball(x, y) ? [0.2, 0.1, 0.04] : dusk(x, y)));

/** Shares of what is wanted, and of the ground beside the ball that is not, in a mask. */
function shares(mask: Uint8Array, wanted: (x: number, y: number) => boolean): { found: number; wrong: number } {
  let [found, all, wrong, ground] = [0, 0, 0, 0];
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (wanted(x, y)) {
        all++;
        found += mask[p];
      } else if (!ball(x, y) && away(x, y) < radius + 18) {
        ground++;
        wrong += mask[p];
      }
    }
  }
  return { found: found / Math.max(1, all), wrong: wrong / ground };
}

describe('what the ground does not explain', () => {
  test('a rim that the matte has lost is found, and hardly anything else', () => {
    const { found, wrong } = shares(unexplainedGround(shot, shot, short), lost);
    expect(found).toBeGreaterThan(0.9);
    expect(wrong).toBeLessThan(0.03);
  });

  test('nothing is found beside a right matte', () => {
    const right = planeFrom(width, height, (x, y) => (ball(x, y) ? 1 : 0));
    expect(shares(unexplainedGround(shot, shot, right), () => false).wrong).toBeLessThan(0.01);
  });

  test('recovered ground is believed where such ground is near, and not where it has the subject’s colour', () => {
    const inner = (x: number, y: number): boolean => Math.abs(away(x, y) - radius) < 3;
    expect(shares(unexplainedGround(recovered(brass), shot, soft), inner).found).toBeGreaterThan(0.9);
    expect(shares(unexplainedGround(recovered(dusk), shot, soft), inner).found).toBeLessThan(0.02);
  });

  test('a thing of the ground that looks like the subject is left when it does not touch it, or when the ground has more of it', () => {
    const post = (x: number): boolean => x > x0 + radius + 8 && x < x0 + radius + 16;
    const apart = pictureFrom(width, height, (x, y) => (ball(x, y) || post(x) ? brass(x, y) : dusk(x, y)));
    const right = planeFrom(width, height, (x, y) => (ball(x, y) ? 1 : 0));
    expect(unexplainedGround(apart, apart, right).includes(1)).toBe(false);
    const boards = (y: number): boolean => y > y0 - 20 && y < y0 + 20;
    const behindIt = pictureFrom(width, height, (x, y) => (ball(x, y) || boards(y) ? times([0.3, 0.16, 0.03], rough(y, x)) : dusk(x, y)));
    expect(shares(unexplainedGround(behindIt, behindIt, right), () => false).wrong).toBeLessThan(0.05);
  });

  test('the same thing is found in a picture of three times the pixels', () => {
    const large = (from: Picture): Picture =>
      pictureFrom(3 * width, 3 * height, (x, y) => {
        const p = Math.floor(y / 3) * width + Math.floor(x / 3);
        return [from.r[p], from.g[p], from.b[p]];
      });
    const matte = planeFrom(3 * width, 3 * height, (x, y) => short.data[Math.floor(y / 3) * width + Math.floor(x / 3)]);
    const mask = unexplainedGround(large(shot), large(shot), matte);
    const there = Uint8Array.from(
      { length: width * height },
      (_, p) => mask[(3 * Math.floor(p / width) + 1) * 3 * width + 3 * (p % width) + 1],
    );
    const { found, wrong } = shares(there, lost);
    expect(found).toBeGreaterThan(0.85);
    expect(wrong).toBeLessThan(0.03);
  });

  test('pictures of two sizes are refused', () => {
    expect(() =>
      unexplainedGround(
        shot,
        shot,
        planeFrom(10, 10, () => 0),
      ),
    ).toThrow(RangeError);
  });
});

describe('the proposed hole', () => {
  const made = (grow: number | 'auto', known = false) =>
    plate(
      { shot, behind: recovered(brass), matte: soft, ...(known && { residue: notLookedFor(soft) }) },
      { ...defaultPlate, grow, fill: { kind: 'smooth' } },
      defaultContext(),
    );
  const brassLeft = ({ plate: { r, b } }: { plate: Picture }): number => r.reduce((sum, v, p) => sum + (v > 0.4 && b[p] < 0.1 ? 1 : 0), 0);

  test('takes in ground that was recovered as the subject, so that nothing of it is left to be spread', async () => {
    expect(brassLeft(await made(1))).toBeGreaterThan(300);
    expect(brassLeft(await made('auto'))).toBe(0);
  });

  test('stays as the matte has it where the ground is known', async () => {
    expect(brassLeft(await made('auto', true))).toBeGreaterThan(300);
  });
});
