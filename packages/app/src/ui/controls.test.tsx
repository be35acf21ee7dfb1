/** @jest-environment jsdom */
import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { helpOf } from './help';
import { HelpLine } from './HelpLine';
import { Choice, Figures, Fold, NumberControl, Tick } from './controls';

beforeAll(() => {
  // What the slider looks at and this document lacks.
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
});
afterEach(cleanup);

describe('a number', () => {
  function show(over: Partial<Parameters<typeof NumberControl>[0]> = {}) {
    const commits: number[] = [];
    render(
      <NumberControl
        label="Feather"
        value={2}
        normal={1}
        min={0}
        max={10}
        step={0.5}
        digits={1}
        unit="px"
        onCommit={(v) => commits.push(v)}
        {...over}
      />,
    );
    const field = screen.getByLabelText<HTMLInputElement>('Feather, typed');
    return { commits, field, slider: screen.getByRole('slider') };
  }
  const type = (field: HTMLInputElement, text: string): void => {
    fireEvent.focus(field);
    fireEvent.change(field, { target: { value: text } });
    fireEvent.keyDown(field, { key: 'Enter' });
  };

  test('shows its value with its unit, to the eye and to a screen reader', () => {
    const { field, slider } = show();
    expect(field.value).toBe('2.0 px');
    expect(slider.getAttribute('aria-valuetext')).toBe('2.0 px');
  });

  test.each([
    ['4', [4]],
    ['4,5 px', [4.5]],
    ['-3', [0]],
    ['1000', [10]],
    ['seven', []],
    ['', []],
  ])('typed as “%s” it commits %j', (text, wanted) => {
    const { commits, field } = show();
    type(field, text);
    expect(commits).toEqual(wanted);
  });

  test('typing given up commits nothing', () => {
    const { commits, field } = show();
    fireEvent.focus(field);
    fireEvent.change(field, { target: { value: '9' } });
    fireEvent.keyDown(field, { key: 'Escape' });
    expect(commits).toEqual([]);
    expect(field.value).toBe('2.0 px');
  });

  test('what is only looked at is not rounded to what is shown', () => {
    const { commits, field } = show({ value: 2.834 });
    fireEvent.focus(field);
    fireEvent.blur(field);
    expect(commits).toEqual([]);
    type(field, '2.83');
    type(field, '2.80');
    expect(commits).toEqual([2.83, 2.8]);
  });

  test('more than the slider reaches can be typed, and beyond what can be held the nearest is taken and said', () => {
    const { commits, field } = show({ most: 40 });
    type(field, '25');
    expect(screen.queryByRole('status')).toBeNull();
    type(field, '99');
    expect(commits).toEqual([25, 40]);
    expect(screen.getByRole('status').textContent).toBe('Feather goes from 0.0 px to 40.0 px; the nearest was taken.');
    fireEvent.focus(field);
    expect(screen.queryByRole('status')).toBeNull();
  });

  test('tells what it does while it has the focus or is pointed at', () => {
    const { slider } = show({ help: 'Softens the edge.' });
    render(<HelpLine />);
    expect(screen.getByTestId('help').textContent).toMatch(/^Point at a number/);
    fireEvent.focus(slider);
    expect(screen.getByTestId('help').textContent).toBe('Feather. Softens the edge.');
    // What is pointed at meanwhile is told, and then the one with the focus again.
    const other = helpOf('Grow', 'Makes the hole larger.');
    act(() => other.onPointerEnter?.());
    expect(screen.getByTestId('help').textContent).toBe('Grow. Makes the hole larger.');
    act(() => other.onPointerLeave?.());
    expect(screen.getByTestId('help').textContent).toBe('Feather. Softens the edge.');
    fireEvent.blur(slider);
    expect(screen.getByTestId('help').textContent).toMatch(/^Point at a number/);
    expect(slider.getAttribute('aria-description')).toBe('Softens the edge.');
  });

  test('arrow keys nudge by a step, with Shift by ten, never over the ends', () => {
    const { commits, slider } = show();
    fireEvent.keyDown(slider, { key: 'ArrowRight' });
    fireEvent.keyDown(slider, { key: 'ArrowDown' });
    fireEvent.keyDown(slider, { key: 'ArrowRight', shiftKey: true });
    fireEvent.keyDown(slider, { key: 'ArrowLeft', shiftKey: true });
    expect(commits).toEqual([2.5, 1.5, 7, 0]);
  });

  test('a double click puts it back', () => {
    const { commits, slider } = show();
    fireEvent.doubleClick(slider);
    expect(commits).toEqual([1]);
  });

  test('a logarithmic track stands in the middle at the geometric mean', () => {
    const { slider } = show({ value: 10, min: 1, max: 100, logarithmic: true });
    expect(slider.getAttribute('aria-valuenow')).toBe('500');
  });
});

describe('a choice', () => {
  test('tells which is taken, and the other one when it is clicked', () => {
    const taken: string[] = [];
    render(
      <Choice
        label="Kind"
        value="a"
        options={[
          { value: 'a', label: 'First' },
          { value: 'b', label: 'Second' },
          { value: 'c', label: 'Third', disabled: true },
        ]}
        onChange={(v) => taken.push(v)}
      />,
    );
    expect(screen.getByRole('radio', { name: 'First' }).getAttribute('aria-checked')).toBe('true');
    fireEvent.click(screen.getByRole('radio', { name: 'Second' }));
    fireEvent.click(screen.getByRole('radio', { name: 'Third' }));
    expect(taken).toEqual(['b']);
  });
});

test('a tick tells what it is now, and turns by its words as well', () => {
  const turned: boolean[] = [];
  const { rerender } = render(<Tick label="Outline repeats" on={false} onChange={(on) => turned.push(on)} />);
  const box = screen.getByRole<HTMLInputElement>('checkbox', { name: 'Outline repeats' });
  expect(box.checked).toBe(false);
  fireEvent.click(screen.getByText('Outline repeats'));
  rerender(<Tick label="Outline repeats" on onChange={(on) => turned.push(on)} />);
  expect(box.checked).toBe(true);
  fireEvent.click(box);
  expect(turned).toEqual([true, false]);
});

test('rows of figures are terms and their definitions', () => {
  render(<Figures rows={[{ name: 'Hole', figure: '15.3 %' }]} />);
  expect(screen.getByText('Hole').tagName).toBe('DT');
  expect(screen.getByText('15.3 %').tagName).toBe('DD');
});

test('a fold hides what it holds until it is opened; what stands beside its title works all the time', () => {
  let pressed = 0;
  render(
    <Fold title="Grain" figure="0.4 L*" beside={<button onClick={() => pressed++}>before</button>}>
      <p>the controls</p>
    </Fold>,
  );
  expect(screen.queryByText('the controls')).toBeNull();
  fireEvent.click(screen.getByText('before'));
  expect(pressed).toBe(1);
  expect(screen.queryByText('the controls')).toBeNull();
  fireEvent.click(screen.getByText('Grain'));
  expect(screen.getByText('the controls')).toBeTruthy();
  expect(screen.getByText('0.4 L*')).toBeTruthy();
  fireEvent.click(screen.getByText('Grain'));
  expect(screen.queryByText('the controls')).toBeNull();
});
