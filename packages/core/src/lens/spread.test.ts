import { defaultContext } from '../runtime/context';
import { makePicture, makePlane, type Plane } from '../raster/plane';
import { largestDifference, planeFrom, sum } from '../testing/scenes';
import { roundAperture, type Aperture } from './aperture';
import { drawLamps } from './drawLamps';
import type { LayerCover } from './layered';
import { shapeOf, spread, spreadInto, type Extent, type Frame } from './spread';

const frame: Frame = { x: 30, y: 30, half: 60 };
const side = 64;
/** Something here and there, nothing at the border. */
const spots = planeFrom(side, side, (x, y) => ((x * 5 + y * 11) % 17 === 0 && Math.hypot(x - 32, y - 32) < 24 ? 1 + (x % 3) : 0));

function extentOf({ width, height, data }: Plane): Extent {
  const extent = { from: new Int32Array(height).fill(width), to: new Int32Array(height) };
  data.forEach((v, p) => {
    if (v === 0) return;
    const [x, y] = [p % width, Math.floor(p / width)];
    extent.from[y] = Math.min(extent.from[y], x);
    extent.to[y] = Math.max(extent.to[y], x + 1);
  });
  return extent;
}

describe('a tile', () => {
  const shapes: [string, Aperture, number][] = [
    ['disc', roundAperture, 9.3],
    ['blades', { ...roundAperture, shape: 'blades', blades: 5, roundness: 0.2 }, 12],
    ['corner cut', { ...roundAperture, cornerCut: 0.6 }, 8],
  ];

  test.each(shapes)('%s: what is wanted of it is what the whole would be', async (_, aperture, diameter) => {
    const shape = shapeOf(aperture, diameter, frame);
    const sums = new Float64Array(3 * side + 4);
    const [whole] = await spread([spots], shape, defaultContext(), extentOf(spots));
    for (const margin of [0, shape.reach, 20]) {
      const out = makePlane(side, side, 7);
      spreadInto(out, spots, shape, extentOf(spots), margin, sums);
      for (let y = 0; y < side; y++) {
        for (let x = 0; x < side; x++) {
          const wanted = Math.min(x, y, side - 1 - x, side - 1 - y) >= margin;
          // What nobody asked for is left as it was.
          expect(out.data[y * side + x]).toBeCloseTo(wanted ? whole.data[y * side + x] : 7, 5);
        }
      }
    }
  });
});

describe('a drawn lamp', () => {
  const lamp = { x: 30, y: 30, radius: 2, light: [4, 4, 4] as [number, number, number], softness: 0 };
  const cover = (disc: number, level: number, value: (x: number) => number): LayerCover => {
    const size = side >> level;
    const data = Uint8Array.from({ length: size * size }, (_, p) => value((p % size) << level));
    return { disc, level, width: size, height: size, data };
  };
  const drawn = async (covers: LayerCover[]): Promise<Float32Array> => {
    const picture = makePicture(side, side);
    await drawLamps(picture, [lamp], () => 14, roundAperture, frame, covers);
    return picture.g;
  };

  test('is hidden by what is nearer, by as much as that hides', async () => {
    const [own, next] = [cover(16, 0, () => 255), cover(12, 0, () => 255)];
    const open = await drawn([]);
    expect(sum(open)).toBeCloseTo(4 * Math.PI * 4, 0);
    // Its own layer and the one that goes on beneath it hide nothing of it; layers that hold nothing here do not either.
    expect(largestDifference(await drawn([own, next]), open)).toBe(0);
    const empty = [cover(6, 0, () => 0), cover(4, 1, () => 0), cover(2, 2, () => 0)];
    expect(largestDifference(await drawn([own, next, ...empty]), open)).toBe(0);
    for (const level of [0, 1, 2]) {
      const half = await drawn([own, next, cover(4, level, () => 127.5)]);
      expect(sum(half) / sum(open)).toBeCloseTo(1 - 127 / 255, 4);
      // One that begins right of the lamp's middle leaves the left of it alone.
      const right = await drawn([own, next, cover(4, level, (x) => (x >= 40 ? 255 : 0))]);
      for (let p = 0; p < right.length; p++) {
        if (p % side < 34) expect(right[p]).toBe(open[p]);
        if (p % side > 44) expect(right[p]).toBe(0);
      }
    }
  });
});
