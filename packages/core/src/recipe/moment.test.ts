import fc from 'fast-check';
import { linearOfHex } from '../colour/srgb';
import {
  canBeKeyed,
  changedAt,
  clipFrame,
  framePicture,
  jobFrame,
  keyedAt,
  keyedValue,
  momentOf,
  newClip,
  valueAt,
  videoFrame,
  withPoint,
  withValue,
} from './moment';
import { newClipRecipe, newRecipe, picturesOf, readRecipe, RecipeError, withPictures, type Recipe } from './recipe';
import type { ClipRecipe, KeyPoint } from './time';

const clip: ClipRecipe = newClip('clip-1', 'Ball', {
  size: { width: 300, height: 200 },
  rate: { frames: 12, seconds: 1 },
  count: 5,
  from: { kind: 'pictures', pictures: ['p0', 'p1', 'p2', 'p3', 'p4'] },
  sound: null,
});
const still = newRecipe('Ball', 'shot', 300, 200);
const moving = newClipRecipe('Ball', clip);
const point = (frame: number, value: number | string, ease: KeyPoint['ease'] = 'straight'): KeyPoint => ({ frame, value, ease });

describe('a keyed value', () => {
  test('stays before the first point and after the last, and goes on as its points say', () => {
    const points = [point(2, 10, 'straight'), point(6, 30, 'hold'), point(8, 50, 'smooth'), point(12, 10)];
    const at = (frame: number): unknown => keyedValue({ points }, frame);
    expect([0, 2, 3, 6, 7.9, 8, 12, 40].map(at)).toEqual([10, 10, 15, 30, 30, 50, 10, 10]);
    // Smooth: half way in the middle, slow at both ends.
    expect(at(10)).toBeCloseTo(30, 9);
    expect(at(8.4)).toBeCloseTo(50 - 40 * (0.01 * 3 - 0.001 * 2), 9);
  });

  test('lies between its points', () => {
    const eases = fc.constantFrom('hold', 'straight', 'smooth') as fc.Arbitrary<KeyPoint['ease']>;
    const points = fc.uniqueArray(fc.record({ frame: fc.nat(100), value: fc.double({ min: -50, max: 50, noNaN: true }), ease: eases }), {
      minLength: 1,
      maxLength: 6,
      selector: (p) => p.frame,
    });
    fc.assert(
      fc.property(points, fc.double({ min: -10, max: 120, noNaN: true }), (list, frame) => {
        const sorted = [...list].sort((a, b) => a.frame - b.frame);
        const values = sorted.map((p) => p.value);
        const value = keyedValue({ points: sorted }, frame) as number;
        expect(value).toBeGreaterThanOrEqual(Math.min(...values) - 1e-9);
        expect(value).toBeLessThanOrEqual(Math.max(...values) + 1e-9);
      }),
    );
  });

  test('a colour goes over in linear light', () => {
    const middle = keyedValue({ points: [point(0, '#000000'), point(2, '#ffffff')] }, 1) as string;
    for (const v of linearOfHex(middle)) expect(v).toBeCloseTo(0.5, 2);
  });
});

describe('places in a recipe', () => {
  test('are named with dots, things of a list by their identifier or their number', () => {
    expect(valueAt(still, 'lens.focus')).toBe(3);
    expect(valueAt(still, 'cards.card-subject.placement.x')).toBe(0);
    expect(valueAt(still, 'cards.0.distance')).toBe(20);
    for (const wrong of ['lens.nothing', 'cards.card-9.distance', 'cards.7.distance', 'lens.focus.x', '__proto__.x', 'lens.toString'])
      expect(valueAt(still, wrong)).toBeUndefined();
  });

  test('are given another value without touching anything else; where there is no such place nothing changes', () => {
    const changed = withValue(still, 'cards.card-subject.placement.x', 40);
    expect(changed.cards[1].placement.x).toBe(40);
    expect(still.cards[1].placement.x).toBe(0);
    expect(changed.cards[0]).toBe(still.cards[0]);
    expect(withValue(still, 'cards.card-9.distance', 4)).toEqual(still);
  });

  test('numbers and colours of what is seen can be keyed; sizes, names and pictures cannot', () => {
    for (const place of ['lens.focus', 'camera.x', 'frame.turn', 'cards.card-background.opacity', 'finish.wash.colour', 'match.air.haze'])
      expect(canBeKeyed(still, place)).toBe(true);
    for (const place of ['frame.width', 'name', 'seed', 'subjects.0.plate.feather', 'cards.0.kind', 'lens.aperture.shape', 'lens'])
      expect(canBeKeyed(still, place)).toBe(false);
  });

  test('a point is set, moved on and taken away', () => {
    const one = withPoint(still, 'lens.focus', 10, { value: 4, ease: 'smooth' });
    const two = withPoint(one, 'lens.focus', 3, { value: 2, ease: 'hold' });
    expect(two.keys).toEqual([{ of: 'lens.focus', points: [{ frame: 3, value: 2, ease: 'hold' }, { frame: 10, value: 4, ease: 'smooth' }] }]); // prettier-ignore
    expect(withPoint(two, 'lens.focus', 3, { value: 5, ease: 'hold' }).keys[0].points[0].value).toBe(5);
    expect(withPoint(withPoint(two, 'lens.focus', 3, undefined), 'lens.focus', 10, undefined).keys).toEqual([]);
  });
});

describe('a change at a frame', () => {
  const keyed: Recipe = { ...still, keys: [{ of: 'lens.focus', points: [point(0, 2, 'hold'), point(10, 6)] }] };
  const focus = (to: number) => (r: Recipe) => ({ ...r, lens: { ...r.lens, focus: to } });

  test('gives what is keyed a point there and leaves what it is without time', () => {
    const changed = changedAt(keyed, 4, focus(5));
    expect(changed.keys[0].points).toEqual([point(0, 2, 'hold'), point(4, 5, 'hold'), point(10, 6)]);
    expect(changed.lens.focus).toBe(3);
    expect(keyedAt(changed, 4).lens.focus).toBe(5);
    expect(changedAt(keyed, 4, focus(2)).keys).toEqual(keyed.keys);
  });

  test('changes all frames where nothing is keyed', () => {
    const changed = changedAt(keyed, 4, (r) => ({ ...r, lens: { ...r.lens, fNumber: 8 } }));
    expect(changed).toEqual({ ...keyed, lens: { ...keyed.lens, fNumber: 8 } });
    expect(changedAt(still, 4, focus(9)).lens.focus).toBe(9);
  });

  test('of the keys themselves stands; what was keyed on a thing that is gone goes with it', () => {
    expect(changedAt(keyed, 4, (r) => ({ ...r, keys: [] })).keys).toEqual([]);
    const onCard: Recipe = { ...keyed, keys: [...keyed.keys, { of: 'cards.card-subject.opacity', points: [point(0, 0), point(9, 1)] }] };
    const without = changedAt(onCard, 4, (r) => ({ ...r, cards: r.cards.filter((c) => c.id !== 'card-subject') }));
    expect(without.keys.map((k) => k.of)).toEqual(['lens.focus']);
  });
});

describe('a clip', () => {
  test('begins at its offset, goes at its speed, and holds or begins again at its ends', () => {
    expect([-1, 0, 4, 9].map((f) => clipFrame(clip, f))).toEqual([0, 0, 4, 4]);
    expect([-1, 0, 4, 6].map((f) => clipFrame({ ...clip, beyond: 'loop' }, f))).toEqual([4, 0, 4, 1]);
    expect([3, 4, 5, 6].map((f) => clipFrame({ ...clip, offset: 3, speed: 2 }, f))).toEqual([0, 2, 4, 4]);
  });

  test('each of its frames is found on the job’s tape where it is seen first', () => {
    for (const moved of [clip, { ...clip, offset: 3 }, { ...clip, offset: -2, speed: 0.5 }, { ...clip, offset: 1.5, speed: 0.75 }]) {
      for (let i = 0; i < clip.count; i++) {
        const at = jobFrame(moved, i);
        expect(clipFrame(moved, at)).toBe(i);
        if (i > 0) expect(clipFrame(moved, at - 1)).toBeLessThan(i);
      }
    }
  });

  test('its frames are pictures, or are named within their video file', () => {
    expect(framePicture(clip, 3)).toBe('p3');
    const video: ClipRecipe = { ...clip, from: { kind: 'video', file: 'v' } };
    expect(framePicture(video, 3)).toBe('v#3');
    expect(videoFrame('v#3')).toEqual({ file: 'v', frame: 3 });
    expect(videoFrame('p3')).toBeUndefined();
  });

  test('its pictures are those of the recipe, and are known by other names', () => {
    expect(picturesOf(moving)).toEqual(['p0', 'p1', 'p2', 'p3', 'p4']);
    const renamed = withPictures({ ...moving, clips: [{ ...clip, sound: 's' }] }, (id) => `new-${id}`);
    expect(renamed.subjects[0].shot).toBe('clip-1');
    expect(picturesOf(renamed)).toEqual(['new-p0', 'new-p1', 'new-p2', 'new-p3', 'new-p4', 'new-s']);
  });
});

describe('a moment', () => {
  const mark = (frame?: number): Recipe['subjects'][number]['marks'][number] => ({
    kind: 'inside',
    radius: 4,
    points: [[10, 10]],
    ...(frame !== undefined && { frame }),
  });
  const square = { kind: 'rectangle' as const, x: 0, y: 0, width: 10, height: 10 };
  const marked: Recipe = {
    ...moving,
    keys: [{ of: 'lens.focus', points: [point(0, 2), point(4, 6)] }],
    subjects: [{ ...moving.subjects[0], marks: [mark(), mark(3)], garbage: [square, { ...square, frames: [2, 3] }] }],
  };

  test('of a still is the still itself', () => {
    expect(momentOf(still, 7)).toBe(still);
  });

  test('has its own picture, marks, shapes and values, and knows the marks of all frames', () => {
    const at3 = momentOf(marked, 3);
    const [s] = at3.subjects;
    expect(s.shot).toBe('p3');
    expect(s.marks).toEqual([mark(3)]);
    expect(s.garbage).toHaveLength(2);
    expect(at3.lens.focus).toBe(5);
    expect(s.follows).toMatchObject({ frame: 3, marks: [mark(), mark(3)] });
    const at0 = momentOf(marked, 0);
    expect(at0.subjects[0].marks).toEqual([mark()]);
    expect(at0.subjects[0].garbage).toHaveLength(1);
    expect(momentOf(marked, 0, { alone: true }).subjects[0].follows).toBeUndefined();
    // A moment of a moment is itself.
    expect(momentOf(at3, 1)).toBe(at3);
  });
});

describe('what is read', () => {
  test('a recipe without time is read as one that has none', () => {
    const old = Object.fromEntries(
      Object.entries(still).filter(([name]) => !['time', 'clips', 'keys', 'camera', 'accepted'].includes(name)),
    );
    expect(readRecipe(old)).toEqual(still);
    expect(readRecipe(JSON.parse(JSON.stringify(moving)))).toEqual(moving);
  });

  test.each([
    [{ keys: [{ of: 'lens.nothing', points: [point(0, 1)] }] }, 'lens.nothing'],
    [{ keys: [{ of: 'lens.focus', points: [point(2, 1), point(2, 3)] }] }, 'points go on in time'],
    [{ keys: [{ of: 'lens.focus', points: [point(0, 1), point(2, '#ffffff')] }] }, 'mixes numbers and colours'],
    [{ time: { rate: { frames: 500, seconds: 1 }, first: 0, last: 3, shutter: 0 } }, 'between 0.1 and 240'],
    [{ time: { rate: { frames: 12, seconds: 1 }, first: 4, last: 3, shutter: 0 } }, 'does not come before'],
  ])('what cannot be is refused with its reason: %j', (change, why) => {
    expect(() => readRecipe({ ...still, ...change })).toThrow(RecipeError);
    expect(() => readRecipe({ ...still, ...change })).toThrow(why);
  });
});
