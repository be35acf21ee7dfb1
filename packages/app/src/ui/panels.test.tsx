/** @jest-environment jsdom */
import { act, fireEvent, render, screen } from '@testing-library/react';
import { asWidth, PanelEdge, usePanels } from './Panels';

function Both() {
  const { style, widths, change } = usePanels();
  return (
    <div data-testid="grid" style={style}>
      <PanelEdge side="left" width={widths.left} onChange={(to) => change('left', to)} />
      <PanelEdge side="right" width={widths.right} onChange={(to) => change('right', to)} />
    </div>
  );
}
const edge = (name: string): HTMLElement => screen.getByRole('separator', { name });
const grid = (): CSSStyleDeclaration => screen.getByTestId('grid').style;

beforeEach(() => {
  localStorage.clear();
  jest.spyOn(HTMLElement.prototype, 'getBoundingClientRect').mockReturnValue({ width: 300 } as DOMRect);
});
afterEach(() => jest.restoreAllMocks());

test('a panel is folded, or wide enough to be read, and never all of the screen', () => {
  expect([-40, 20, 89, 90, 200.4, 9000].map(asWidth)).toEqual([0, 0, 0, 180, 200, 560]);
});

test('arrow keys move an edge away from its panel or towards it; Enter folds and unfolds', () => {
  render(<Both />);
  fireEvent.keyDown(edge('Width of the controls'), { key: 'ArrowRight' });
  expect(grid().getPropertyValue('--left')).toBe('316px');
  fireEvent.keyDown(edge('Width of the evidence'), { key: 'ArrowRight' });
  expect(grid().getPropertyValue('--right')).toBe('284px');
  fireEvent.keyDown(edge('Width of the evidence'), { key: 'Enter' });
  expect(grid().getPropertyValue('--right')).toBe('0px');
  expect(edge('Width of the evidence').getAttribute('aria-valuetext')).toBe('folded');
  fireEvent.keyDown(edge('Width of the evidence'), { key: 'Enter' });
  expect(grid().getPropertyValue('--right')).toBe('');
});

test('what was chosen is there the next time; a double click puts it back; nonsense counts as nothing', () => {
  const { unmount } = render(<Both />);
  fireEvent.keyDown(edge('Width of the controls'), { key: 'ArrowLeft' });
  unmount();
  const again = render(<Both />);
  expect(grid().getPropertyValue('--left')).toBe('284px');
  act(() => void fireEvent.doubleClick(edge('Width of the controls')));
  expect(grid().getPropertyValue('--left')).toBe('');
  again.unmount();
  for (const odd of ['{', '[]', '{"left":"wide"}', '{"left":-3,"right":1e9}']) {
    localStorage.setItem('ritaglio.panels', odd);
    const { unmount: gone } = render(<Both />);
    expect(grid().length).toBe(0);
    gone();
  }
});
