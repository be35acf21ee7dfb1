import { defaultContext } from '../runtime/context';
import { roundAperture } from '../lens/aperture';
import { psnr } from '../proof/compare';
import type { Picture } from '../raster/plane';
import { resizePicture, scaledSize } from '../raster/resize';
import { momentOf, newClip, withPoint } from '../recipe/moment';
import { newClipRecipe, newRecipe, type Recipe } from '../recipe/recipe';
import { ballFrame } from '../testing/clips';
import { ballScene, largestDifference, sum } from '../testing/scenes';
import { ProductMemory } from './memory';
import { longestMotion, renderFrame } from './overTime';
import type { PictureSource } from './products';
import { render } from './render';

const { shot } = ballScene(150, 100, 4);
const [width, height, count] = [150, 100, 9];
const ball = (i: number): ReturnType<typeof ballFrame> => ballFrame(width, height, { x: 34 + 9 * i, y: 52, radius: 20 });

function source(loads: string[] = []): PictureSource {
  return {
    key: (id) => id,
    load: (id, scale) => {
      loads.push(id);
      const frame = /^p(\d+)$/.exec(id);
      const p: Picture = frame ? ball(Number(frame[1])).picture : shot;
      const size = scaledSize(p.width, p.height, scale);
      return Promise.resolve(resizePicture(p, size.width, size.height));
    },
  };
}

const inside = (x: number, y: number, frame?: number): Recipe['subjects'][number]['marks'][number] => ({
  kind: 'inside',
  radius: 7,
  points: [[x - 8, y], [x + 8, y]],
  ...(frame !== undefined && { frame }),
}); // prettier-ignore
const outside: Recipe['subjects'][number]['marks'][number] = { kind: 'outside', radius: 4, points: [[4, 6], [146, 6]] }; // prettier-ignore

const time = { rate: { frames: 24, seconds: 1 }, first: 0, last: 23, shutter: 0 };
const plain = newRecipe('Ball', 'ball', width, height);
const still: Recipe = {
  ...plain,
  time,
  subjects: [{ ...plain.subjects[0], marks: [inside(75, 50), outside] }],
  lens: { ...plain.lens, fNumber: 1.4, aperture: roundAperture },
};

/** What is only looked at is made once for all tests. */
const known = new ProductMemory();

describe('a still that lasts', () => {
  test('a focus pull gives the bytes of the still at each of its distances', async () => {
    const pull = withPoint(withPoint(still, 'lens.focus', 0, { value: 2, ease: 'straight' }), 'lens.focus', 20, {
      value: 22,
      ease: 'hold',
    });
    const memory = new ProductMemory();
    for (const frame of [0, 5, 10, 15, 20]) {
      const got = await renderFrame(pull, frame, source(), defaultContext(), memory);
      const own = await render(
        { ...still, time: null, lens: { ...still.lens, focus: 2 + frame } },
        source(),
        'composite',
        defaultContext(),
      );
      for (const c of ['r', 'g', 'b'] as const) expect(got[c]).toEqual(own[c]);
    }
  });

  test('what does not change is made once', async () => {
    const loads: string[] = [];
    const memory = new ProductMemory();
    const pull = withPoint(withPoint(still, 'lens.focus', 0, { value: 2, ease: 'straight' }), 'lens.focus', 9, { value: 6, ease: 'hold' });
    for (const frame of [0, 1, 2]) await renderFrame(pull, frame, source(loads), defaultContext(), memory);
    expect(loads).toEqual(['ball']);
  });

  test('grain is another in every frame, and the same when a frame is made again', async () => {
    const grainy: Recipe = { ...still, finish: { ...still.finish, grain: { back: 0, over: 3, size: 0.4 } } };
    const [a, again, b] = await Promise.all([3, 3, 4].map((f) => renderFrame(grainy, f, source(), defaultContext())));
    expect(again.g).toEqual(a.g);
    expect(largestDifference(a.g, b.g)).toBeGreaterThan(0.01);
  });

  test('an open shutter smears what moves, keeps its light, and leaves what stands still alone', async () => {
    const glide = withPoint(withPoint(still, 'cards.card-subject.placement.x', 0, { value: -60, ease: 'straight' }), 'cards.card-subject.placement.x', 10, { value: 60, ease: 'hold' }); // prettier-ignore
    const open: Recipe = { ...glide, time: { ...time, shutter: 360 } };
    const rests: Recipe = { ...still, time: { ...time, shutter: 360 } };
    const [sharp, smeared] = [
      await renderFrame(glide, 4, source(), defaultContext(), known),
      await renderFrame(open, 4, source(), defaultContext(), known),
    ];
    expect(longestMotion(momentOf(open, 4), momentOf(open, 5), 1)).toBeCloseTo(12, 6);
    const steepest = (p: Picture): number => {
      let most = 0;
      for (let x = 1; x < width; x++) most = Math.max(most, Math.abs(p.r[50 * width + x] - p.r[50 * width + x - 1]));
      return most;
    };
    expect(steepest(smeared)).toBeLessThan(0.6 * steepest(sharp));
    expect(Math.abs(sum(smeared.r) / sum(sharp.r) - 1)).toBeLessThan(0.01);
    expect((await renderFrame(rests, 4, source(), defaultContext(), known)).r).toEqual(
      (await renderFrame(still, 4, source(), defaultContext(), known)).r,
    );
  });

  test('a camera that comes nearer makes the near side larger than the far one', async () => {
    const near: Recipe = { ...still, time: null, camera: { ...still.camera, z: 1 } };
    const before = await render({ ...still, time: null }, source(), 'cover', defaultContext(), known);
    const after = await render(near, source(), 'cover', defaultContext(), known);
    // The ball stands at 3 m: its area grows by (3 / 2)².
    expect(sum(after.data) / sum(before.data)).toBeCloseTo(2.25, 1);
  });
});

describe('a clip', () => {
  const pictures = Array.from({ length: count }, (_, i) => `p${i}`);
  const clip = newClip('c', 'Ball', { size: { width, height }, rate: time.rate, count, from: { kind: 'pictures', pictures }, sound: null });
  const fresh = newClipRecipe('Ball', clip);
  const recipe: Recipe = { ...fresh, subjects: [{ ...fresh.subjects[0], marks: [inside(70, 52, 4), { ...outside, frame: 4 }] }] };
  const memory = new ProductMemory();

  test('its subject is followed from one marked frame, and its plate is what other frames show', async () => {
    for (const frame of [0, 8]) {
      const at = momentOf(recipe, frame);
      const { matte } = await render(at, source(), 'matte', defaultContext(), memory);
      const truth = ball(frame).matte.data;
      const off = matte.data.reduce((s, a, p) => s + Math.abs(a - truth[p]), 0) / sum(truth);
      expect(off).toBeLessThan(0.1);
      const { plate, notes } = await render(at, source(), 'plate', defaultContext(), memory);
      expect(notes).toEqual([]);
      expect(psnr(plate, ball(frame).ground, truth)).toBeGreaterThan(33);
    }
    const following = await render(momentOf(recipe, 0), source(), 'following', defaultContext(), memory);
    expect(following!.certainty).toHaveLength(count);
    expect(following!.photographed).toBeGreaterThan(0.95);
  });

  test('by itself a frame without marks has no subject, and its plate says what it lacks', async () => {
    const alone = momentOf(recipe, 0, { alone: true });
    const { matte } = await render(alone, source(), 'matte', defaultContext());
    expect(sum(matte.data)).toBe(0);
    const marked = momentOf(recipe, 4, { alone: true });
    const { notes } = await render(marked, source(), 'plate', defaultContext());
    expect(notes.join()).toMatch(/No other frames/);
  });
});
