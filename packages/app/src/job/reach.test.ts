import { reachFor } from './reach';
import { steps } from './steps';

const plain = { picture: 'shot', against: 'shot', compare: 'whole', removed: 'hatch' } as const;

test('a step needs no more of the line than it shows', () => {
  expect(steps.map((step) => reachFor(step, plain))).toEqual([
    ...['cut', 'cut', 'plate'],
    ...['finished', 'finished', 'finished', 'proof', 'finished'],
  ]);
});

test('what is looked at out of turn is worked out', () => {
  expect(reachFor('matte', { ...plain, picture: 'plate' })).toBe('plate');
  expect(reachFor('matte', { ...plain, picture: 'finished' })).toBe('finished');
  expect(reachFor('plate', { ...plain, picture: 'background' })).toBe('finished');
  expect(reachFor('matte', { ...plain, removed: 'behind' })).toBe('finished');
  expect(reachFor('plate', { ...plain, against: 'skipped' })).toBe('plate');
  expect(reachFor('plate', { ...plain, against: 'skipped', compare: 'wipe' })).toBe('finished');
});
