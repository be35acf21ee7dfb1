/** @jest-environment jsdom */
import { useView } from '../viewStore';
import { notTaken } from './notTaken';

const view = (over: Partial<ReturnType<typeof useView.getState>> = {}) => ({ ...useView.getState(), ...over });

test('a stroke that would be taken has no reason, and neither has looking around without a tool', () => {
  expect(notTaken('matte', view({ picture: 'shot', compare: 'whole', tool: 'mark', way: 'stroke' }))).toBeUndefined();
  expect(notTaken('matte', view({ picture: 'matte', compare: 'whole', tool: 'hand' }))).toBeUndefined();
  expect(notTaken('matte', view({ picture: 'finished', tool: 'mark', way: 'change' }))).toBeUndefined();
  expect(notTaken('plate', view({ picture: 'finished', plateTool: 'look' }))).toBeUndefined();
  expect(notTaken('plate', view({ picture: 'plate', compare: 'whole', plateTool: 'add' }))).toBeUndefined();
  expect(notTaken('lens', view({ compare: 'wipe', benchTool: 'look' }))).toBeUndefined();
  expect(notTaken('lens', view({ compare: 'whole', benchTool: 'peg' }))).toBeUndefined();
  expect(notTaken('proof', view({ picture: 'finished', tool: 'mark' }))).toBeUndefined();
});

test('what was not taken says why, and its cure is a view in which it is', () => {
  const cases = [
    ['matte', { picture: 'matte', compare: 'whole', tool: 'mark', way: 'stroke' }],
    ['matte', { picture: 'shot', compare: 'wipe', tool: 'hand' }],
    ['plate', { picture: 'finished', compare: 'whole', plateTool: 'retouch' }],
    ['stage', { compare: 'beside', benchTool: 'frame' }],
    ['match', { compare: 'wipe', benchTool: 'protect' }],
  ] as const;
  for (const [step, over] of cases) {
    const found = notTaken(step, view(over))!;
    expect(found.says).toMatch(/^Nothing was .*\.$/);
    expect(notTaken(step, view({ ...over, ...found.view }))).toBeUndefined();
  }
});
