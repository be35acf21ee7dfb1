import { newClip, newClipRecipe, newRecipe, type Recipe } from '@ritaglio/core';
import { followsOldMarks, isOnFrame, lengthOf, momentIn, momentNow, onFrameNow, rangeOf } from './moments';
import { useView } from './viewStore';

const clip = newClip('c', 'Goat', {
  size: { width: 60, height: 40 },
  rate: { frames: 25, seconds: 1 },
  count: 10,
  from: { kind: 'pictures', pictures: Array.from({ length: 10 }, (_, i) => `p${i}`) },
  sound: null,
});
type Mark = Recipe['subjects'][number]['marks'][number];
const mark = (frame: number, kind: 'inside' | 'outside' = 'inside'): Mark => ({ kind, radius: 3, points: [[20, 20]], frame });
const fresh = newClipRecipe('Goat', clip);
const marked = (...marks: Mark[]): Recipe => ({ ...fresh, subjects: [{ ...fresh.subjects[0], marks }] });
const still = newRecipe('Still', 'shot', 60, 40);

describe('the moment that is looked at', () => {
  test('a subject is followed by the marks it was asked to be followed by', () => {
    const recipe = marked(mark(0));
    const [subject] = momentIn(recipe, { frame: 4, followed: recipe.subjects[0].marks }).subjects;
    expect(subject.follows).toMatchObject({ frame: 4 });
    expect(subject.shot).toBe('p4');
  });

  test('while it was not, a frame is cut by its own marks alone', () => {
    const [subject] = momentIn(marked(mark(0), mark(4)), { frame: 4 }).subjects;
    expect(subject.marks.map((m) => m.points)).toEqual([[[20, 20]]]);
    expect(subject.shot).toBe('p4');
    expect(momentIn(marked(mark(0)), { frame: 4 }).subjects[0].marks).toEqual([]);
  });

  test('with marks changed since, a frame without a cut of its own shows what was followed before', () => {
    const before = marked(mark(0));
    const followed = before.subjects[0].marks;
    const after = { ...before, subjects: [{ ...before.subjects[0], marks: [...followed, mark(7)] }] };
    expect(momentIn(after, { frame: 3, followed })).toEqual(momentIn(before, { frame: 3, followed }));
    // Where it has a mark for inside it answers at once, by itself; one for outside alone is no cut.
    expect(momentIn(after, { frame: 7, followed }).subjects[0].marks).toHaveLength(1);
    const outside = { ...before, subjects: [{ ...before.subjects[0], marks: [...followed, mark(7, 'outside')] }] };
    expect(momentIn(outside, { frame: 7, followed })).toEqual(momentIn(before, { frame: 7, followed }));
    expect([followsOldMarks(after.subjects[0].marks, followed), followsOldMarks(followed, followed)]).toEqual([true, false]);
    expect(followsOldMarks(followed, undefined)).toBe(false);
  });

  test('a cut that is none by marks needs no following', () => {
    const recipe: Recipe = { ...fresh, subjects: [{ ...fresh.subjects[0], cut: 'screen' }] };
    expect(momentIn(recipe, { frame: 2 }).subjects[0].shot).toBe('p2');
  });

  test('now is the frame of the view', () => {
    const recipe = marked(mark(0), mark(6));
    useView.setState({ frame: 6 });
    expect(momentNow(recipe)).toEqual(momentIn(recipe, useView.getState()));
    expect(onFrameNow(recipe, 'c')).toEqual({ frame: 6 });
    expect(onFrameNow(still, 'shot')).toEqual({});
    useView.setState({ frame: 0 });
  });
});

describe('frames of a job', () => {
  test('what is drawn belongs to its frame, and to all there is in a still', () => {
    const recipe = marked();
    expect([4, 5].map((frame) => isOnFrame(recipe, 'c', mark(4), frame))).toEqual([true, false]);
    expect(isOnFrame(recipe, 'c', {}, 0)).toBe(true);
    expect(isOnFrame(still, 'shot', mark(4), 0)).toBe(true);
  });

  test('a clip that begins later or runs slower lasts longer', () => {
    expect([lengthOf(still), lengthOf(fresh)]).toEqual([1, 10]);
    const with_ = (change: Partial<typeof clip>): Recipe => ({ ...fresh, clips: [{ ...fresh.clips[0], ...change }] });
    expect(lengthOf(with_({ offset: 5 }))).toBe(15);
    expect(lengthOf(with_({ speed: 0.5 }))).toBe(20);
    expect(lengthOf(with_({ speed: 4 }))).toBe(10);
    expect(rangeOf(fresh)).toEqual({ first: 0, last: 9 });
    expect(rangeOf(still)).toEqual({ first: 0, last: 0 });
  });
});
