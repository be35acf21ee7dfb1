/** @jest-environment jsdom */
import { held, parameters, type Parameter, type ParameterKey } from '@ritaglio/core';
import { cleanup, fireEvent, render, screen } from '@testing-library/react';
import * as v from 'valibot';
import { ParameterControl } from './ParameterControl';

beforeAll(() => {
  // What the slider looks at and this document lacks.
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
});
afterEach(cleanup);

const keys = Object.keys(parameters) as ParameterKey[];

function show(param: ParameterKey): { commits: number[]; typed: (text: string) => void } {
  const commits: number[] = [];
  const { default: value } = parameters[param];
  render(<ParameterControl param={param} value={value} onCommit={(to) => commits.push(to)} />);
  const field = screen.getByRole<HTMLInputElement>('textbox');
  const typed = (text: string): void => {
    fireEvent.focus(field);
    fireEvent.change(field, { target: { value: text } });
    fireEvent.keyDown(field, { key: 'Enter' });
  };
  return { commits, typed };
}

test.each(keys)('%s: whatever is typed, what is committed can be held', (param) => {
  const { commits, typed } = show(param);
  for (const text of ['-99999999', '0', '99999999']) typed(text);
  expect(commits.length).toBeGreaterThanOrEqual(2);
  for (const value of commits) expect([value, v.safeParse(held(param), value).success]).toEqual([value, true]);
});

test('shares are shown as hundredths and committed as shares; a double click puts the default back', () => {
  const { commits, typed } = show('card.opacity');
  typed('25');
  fireEvent.doubleClick(screen.getByRole('slider'));
  expect(commits).toEqual([0.25, 1]);
});

test('its name and what it does come from the table', () => {
  const p: Parameter = parameters['lens.fNumber'];
  show('lens.fNumber');
  const slider = screen.getByRole('slider');
  expect([slider.getAttribute('aria-label'), slider.getAttribute('aria-description'), slider.getAttribute('aria-valuetext')]).toEqual([
    p.label,
    p.help,
    'f/2.8',
  ]);
});
