/** @jest-environment jsdom */
import 'fake-indexeddb/auto';
import {
  makePicture,
  measureTone,
  newRecipe,
  restrained,
  scopeColumns,
  scopeLevels,
  scopeSide,
  type Recipe,
  type Scope,
} from '@ritaglio/core';
import { cleanup, fireEvent, render, screen, within } from '@testing-library/react';
import { act, type ReactNode } from 'react';
import { temporal } from 'zundo';
import { createStore } from 'zustand';
import type { Keeping } from '../jobStore';
import type { Figures } from '../../worker/protocol';
import { reading, Scopes } from '../evidence/Scopes';
import { SidesTable } from '../evidence/SidesTable';
import { JobScope } from '../JobScope';
import type { JobState, JobStore } from '../jobStore';
import type { Products } from '../useProducts';
import { useView } from '../viewStore';
import { CurvesPart } from './CurvesPart';
import { GradePart } from './GradePart';
import { GrainPart } from './GrainPart';
import { MatchPart } from './MatchPart';
import { SurroundPart } from './SurroundPart';
import { VignettePart } from './VignettePart';

jest.mock('../../worker/renderer', () => ({ renderer: () => ({ finished: () => new Promise(() => undefined) }) }));
jest.mock('../steps/PicturesControls', () => ({ useJobPictures: () => ({ pictures: [], files: [] }) }));

beforeAll(() => {
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  };
  HTMLCanvasElement.prototype.getContext = (() => null) as never;
});
afterEach(cleanup);

const grey = (v: number) => {
  const p = makePicture(16, 16);
  for (const c of [p.r, p.g, p.b]) c.fill(v);
  return measureTone(p);
};
const grain = { level: 0.5, byTone: new Array<number>(9).fill(0.5), tone: 50, size: 0.6, blocks: 40 };
const sides: NonNullable<Figures['sides']> = {
  banding: { share: 0.2, places: [{ x: 100, y: 50, width: 40, height: 20 }] },
  ownPlate: false,
  subject: { tone: grey(0.05), grain, light: { angle: 150, certainty: 0.8 } },
  background: { tone: grey(0.4), grain: { ...grain, level: 0.05 }, light: { angle: 20, certainty: 0.3 } },
};
const scope = (level: number): Scope => {
  const four = (n: number) => [0, 1, 2, 3].map(() => new Uint32Array(n)) as Scope['histogram'];
  const s: Scope = { histogram: four(scopeLevels), waveform: four(scopeColumns * scopeLevels), vector: new Uint32Array(scopeSide ** 2), below: 0, above: 0.5, samples: 100 }; // prettier-ignore
  s.histogram[0][level] = 25;
  return s;
};

/** Shows a panel on a job, and gives its recipe. */
function show(panel: ReactNode, figures: Figures = { sides }, begin: (r: Recipe) => Recipe = (r) => r): () => Recipe {
  const store = createStore<JobState>()(
    temporal((set, get) => ({
      recipe: begin(newRecipe('Trial', 'shot', 300, 200)),
      draft: undefined,
      preview: (change) => set({ draft: change(get().recipe) }),
      commit: (change) => set({ recipe: change(get().recipe), draft: undefined }),
    })),
  ) as unknown as JobStore;
  const products: Products = {
    shown: {},
    figures,
    scopes: [scope(10), scope(200)],
    settled: true,
    answered: true,
    isOld: () => false,
    stopped: false,
    cancel: () => undefined,
    resume: () => undefined,
  };
  const none = (): void => undefined;
  const keeping = createStore<Keeping>()(() => ({ writing: true, pending: 0 }));
  const job = { id: 'j', store, keeping, settled: () => Promise.resolve(), again: none, takeOver: none, close: none };
  render(
    <JobScope job={job} products={products}>
      {panel}
    </JobScope>,
  );
  return () => store.getState().recipe;
}
const type = (label: string, text: string): void => {
  const field = screen.getByLabelText(`${label}, typed`);
  fireEvent.focus(field);
  fireEvent.change(field, { target: { value: text } });
  fireEvent.keyDown(field, { key: 'Enter' });
};
const open = (title: string): void => void fireEvent.click(screen.getByText(title));

describe('the table of both sides', () => {
  test('has a row a property, with figures, tolerance and a press', () => {
    const recipe = show(<SidesTable />);
    const rows = screen.getAllByRole('row').slice(1);
    expect(rows).toHaveLength(10);
    const middle = rows.find((r) => r.textContent?.startsWith('Middle'))!;
    expect(within(middle).getByText('15')).toBeTruthy();
    expect(middle.textContent).toContain('out of tolerance');
    fireEvent.click(screen.getByLabelText('Match middle'));
    expect(recipe().match.strengths.middle).toBe(1);
    expect(screen.getByLabelText('Match middle').getAttribute('aria-pressed')).toBe('true');
  });

  test('one press for all, one to put back; what cannot be matched cannot be pressed', () => {
    const recipe = show(<SidesTable />);
    const blur = screen.getByLabelText<HTMLButtonElement>('Match blur');
    expect(blur.disabled).toBe(true);
    expect(blur.title).toMatch(/no edges/);
    fireEvent.click(screen.getByText('Match all'));
    expect(recipe().match.strengths).toEqual(restrained);
    expect(screen.getByTestId('match-done').textContent).toContain('Grain is put back');
    expect(recipe().finish.grain.back).toBe(1);
    fireEvent.click(screen.getByText('Put back'));
    expect(Object.values(recipe().match.strengths).every((v) => v === 0)).toBe(true);
  });

  test('light has an arrow on each side, and a press that turns the background round', () => {
    const recipe = show(<SidesTable />);
    expect(screen.getByLabelText('Light on the subject: 150°')).toBeTruthy();
    expect(screen.getByLabelText('Light on the behind: 20°')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Flip the background'));
    expect(recipe().cards.find((c) => c.kind === 'plate')?.placement.flip).toBe(true);
  });

  test('of one photograph it says what is judged; without figures what is missing', () => {
    show(<SidesTable />, { sides: { ...sides, ownPlate: true } });
    expect(screen.getByText(/of one photograph/)).toBeTruthy();
    cleanup();
    show(<SidesTable />, {});
    expect(screen.getByText(/once the subject is cut out/)).toBeTruthy();
  });
});

describe('scopes', () => {
  test('say what leaves the range, and read levels under the pointer', () => {
    show(<Scopes />);
    expect(screen.getByText('above 1: 50.0 %')).toBeTruthy();
    const both = [scope(10), scope(200)];
    expect(reading('histogram', 10 / 255, 0.5, both, false)).toBe('level 10: 25.00 / 0.00 %');
    expect(reading('waveform', 0.5, 0.25, both, false)).toBe('level 191');
    expect(reading('vector', 0.5, 0.25, both, false)).toBe('hue 90° strength 0.25');
    expect(reading('vector', 0.5, 0.25, both, true)).toBe('hue 90° strength 0.13');
  });

  test('one of four is chosen', () => {
    show(<Scopes />);
    fireEvent.click(screen.getByText('Vector'));
    expect(useView.getState().scope).toBe('vector');
    fireEvent.click(screen.getByLabelText('2 ×'));
    expect(useView.getState().close).toBe(true);
    act(() => useView.setState({ scope: 'histogram', close: false }));
  });
});

describe('panels', () => {
  test('match: side, strength, hues that are let go', () => {
    const recipe = show(<MatchPart />, { sides }, (r) => ({
      ...r,
      match: { ...r.match, strengths: { ...r.match.strengths, cast: 1, tint: 1 }, protect: [{ hue: 30, width: 25 }] },
    }));
    fireEvent.click(screen.getByText('Half way'));
    expect(recipe().match.moves).toBe('both');
    type('Strength', '35');
    expect(recipe().match.strengths).toMatchObject({ cast: 0.35, tint: 0.35, black: 0 });
    type('Strength', '70');
    expect(recipe().match.strengths).toMatchObject({ cast: 0.7, tint: 0.7, black: 0 });
    type('Hue 30° ±', '40');
    expect(recipe().match.protect).toEqual([{ hue: 30, width: 40 }]);
    fireEvent.click(screen.getByLabelText('Protect hue 30° no longer'));
    expect(recipe().match.protect).toEqual([]);
    const [ours] = screen.getAllByText('Point at a part');
    fireEvent.click(ours);
    expect(useView.getState().benchTool).toBe('ours');
    fireEvent.click(ours);
    expect(useView.getState().benchTool).toBe('look');
  });

  test('light and air: what is on is counted, colours are measured or chosen', () => {
    const recipe = show(<SurroundPart />);
    open('Light and air');
    type('Wrap', '60');
    type('Air', '20');
    fireEvent.change(screen.getByLabelText('Air colour'), { target: { value: '#aabbcc' } });
    type('Contact', '50');
    type('Falls to', '-30');
    const { wrap, air, contact } = recipe().match;
    expect([wrap.strength, air.haze, air.colour, contact.strength, contact.direction]).toEqual([0.6, 0.2, '#aabbcc', 0.5, -30]);
    expect(screen.getByText('3 on')).toBeTruthy();
    fireEvent.click(screen.getByLabelText('Air colour measured'));
    expect(recipe().match.air.colour).toBe('auto');
  });

  test('grain: measured, put back, over all; banding has a place to go to and a cure', () => {
    const recipe = show(<GrainPart />);
    open('Grain, banding');
    expect(screen.getByText('0.50 L*, 0.60 px')).toBeTruthy();
    expect(screen.getByText('20.0 %')).toBeTruthy();
    type('Put back', '80');
    type('Over all', '0.5');
    expect(recipe().finish.grain).toMatchObject({ back: 0.8, over: 0.5 });
    fireEvent.click(screen.getByText('Go to it'));
    expect(useView.getState().look).toEqual({ zoom: 1, x: 120, y: 60 });
    fireEvent.click(screen.getByLabelText('Dissolve steps'));
    expect(recipe().finish.dither).toBe(true);
    act(() => useView.setState({ look: undefined }));
  });

  test('grade: of the whole, or of a card, put back as one', () => {
    const recipe = show(<GradePart />);
    open('Grade');
    type('Contrast', '20');
    expect(recipe().finish.grade.contrast).toBeCloseTo(0.2, 9);
    const card = recipe().cards[0].id;
    fireEvent.change(screen.getByLabelText('What is graded'), { target: { value: card } });
    type('Temperature', '25');
    type('Greys’ blue', '-10');
    type('Sharpen', '50');
    expect(recipe().cards[0].grade).toMatchObject({ temperature: 25, neutrals: [0, 0, -0.1] });
    expect(recipe().cards[0].detail.sharpen).toBe(0.5);
    fireEvent.click(screen.getByText('Put back'));
    expect(recipe().cards[0].grade.temperature).toBe(0);
    expect(recipe().finish.grade.contrast).toBeCloseTo(0.2, 9);
    fireEvent.click(screen.getByLabelText('Outside instead'));
    expect(recipe().cards[0].limit.outside).toBe(true);
    act(() => useView.setState({ grading: 'whole' }));
  });

  test('hues are changed each on its own, and dropped', () => {
    const hue = { hue: 40, width: 25, turn: 0, saturation: 1, lightness: 0 };
    const recipe = show(<GradePart />, { sides }, (r) => ({
      ...r,
      finish: { ...r.finish, grade: { ...r.finish.grade, hues: [hue, { ...hue, hue: 200 }] } },
    }));
    open('Grade');
    const [first] = screen.getAllByLabelText('Its colour, typed');
    fireEvent.focus(first);
    fireEvent.change(first, { target: { value: '50' } });
    fireEvent.keyDown(first, { key: 'Enter' });
    expect(recipe().finish.grade.hues.map((h) => h.saturation)).toEqual([0.5, 1]);
    fireEvent.click(screen.getByLabelText('Drop hue 40°'));
    expect(recipe().finish.grade.hues.map((h) => h.hue)).toEqual([200]);
  });

  test('curves: points are nudged and taken away by keys, the ends stay, straight is straight', () => {
    const bent: [number, number][] = [[0, 0], [0.4, 0.5], [1, 1]]; // prettier-ignore
    const recipe = show(<CurvesPart />, { sides }, (r) => ({
      ...r,
      finish: { ...r.finish, grade: { ...r.finish.grade, curves: { ...r.finish.grade.curves, all: bent } } },
    }));
    open('Curves');
    const point = (n: number) => screen.getByLabelText(`Point ${n} of the curve`);
    fireEvent.keyDown(point(2), { key: 'ArrowUp' });
    expect(recipe().finish.grade.curves.all[1][1]).toBeCloseTo(0.51, 6);
    fireEvent.keyDown(point(1), { key: 'Delete' });
    expect(recipe().finish.grade.curves.all).toHaveLength(3);
    fireEvent.keyDown(point(2), { key: 'Delete' });
    expect(recipe().finish.grade.curves.all).toHaveLength(2);
    fireEvent.click(screen.getByText('Red'));
    fireEvent.keyDown(point(2), { key: 'ArrowDown', shiftKey: true });
    expect(recipe().finish.grade.curves.red[1][1]).toBeCloseTo(0.95, 6);
    fireEvent.click(screen.getByText('Straight'));
    expect(recipe().finish.grade.curves.red).toEqual([[0, 0], [1, 1]]); // prettier-ignore
  });

  test('vignette: strength, shape, and a wash', () => {
    const recipe = show(<VignettePart />);
    open('Vignette, wash');
    type('Fall-off', '-1');
    type('Roundness', '30');
    type('Wash', '15');
    fireEvent.change(screen.getByLabelText('Colour of the wash'), { target: { value: '#102030' } });
    expect(recipe().finish.vignette).toMatchObject({ strength: -1, roundness: 0.3 });
    expect(recipe().finish.wash).toEqual({ colour: '#102030', strength: 0.15 });
  });
});
