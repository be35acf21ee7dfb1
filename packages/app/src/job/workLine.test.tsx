/** @jest-environment jsdom */
import 'fake-indexeddb/auto';
import { newRecipe, type Recipe } from '@ritaglio/core';
import { cleanup, render, screen } from '@testing-library/react';
import type { ReactNode } from 'react';
import { createStore } from 'zustand';
import type { Keeping } from './jobStore';
import { temporal } from 'zundo';
import type { Figures } from '../worker/protocol';
import { Old } from './evidence/Old';
import { JobScope } from './JobScope';
import type { JobState, JobStore } from './jobStore';
import type { Products } from './useProducts';
import { WorkLine } from './WorkLine';

jest.mock('react-router', () => ({
  Link: ({ to, title, children }: { to: string; title: string; children: ReactNode }) => (
    <a href={to} title={title}>
      {children}
    </a>
  ),
}));
jest.mock('../worker/renderer', () => ({ renderer: () => ({}) }));
afterEach(cleanup);

const plate = { showing: 0.1, left: { places: [] } } as unknown as NonNullable<Figures['plate']>;
const covering = (subject: number): Figures['matte'] => ({ subject, soft: 0.01, specks: 0, pinholes: 0, solved: 0, left: 0 });

function show(figures: Figures, old: readonly string[] = [], change: (r: Recipe) => Recipe = (r) => r): void {
  const store = createStore<JobState>()(
    temporal<JobState>(() => ({
      recipe: change(newRecipe('Trial', 'shot', 300, 200)),
      draft: undefined,
      preview: () => undefined,
      commit: () => undefined,
    })),
  ) as unknown as JobStore;
  const products: Products = {
    shown: {},
    figures,
    scopes: [],
    settled: true,
    answered: true,
    isOld: (what) => old.includes(what),
    stopped: false,
    cancel: () => undefined,
    resume: () => undefined,
  };
  const none = (): void => undefined;
  const keeping = createStore<Keeping>()(() => ({ writing: true, pending: 0 }));
  const job = { id: 'j', store, keeping, settled: () => Promise.resolve(), again: none, takeOver: none, close: none };
  render(
    <JobScope job={job} products={products}>
      <WorkLine step="match" jobId="j" />
      <Old what="plate">the plate’s figures</Old>
    </JobScope>,
  );
}
const step = (name: string): HTMLElement => screen.getByRole('link', { name: new RegExp(name) });

describe('the work line', () => {
  test('without a cut nothing that needs one is done', () => {
    show({ plate, matte: covering(0) });
    for (const name of ['Plate', 'Stage', 'Export']) expect(step(name).title).toMatch(/not yet/);
  });

  test('a subject that was cut without marks counts as one: by a screen, or by the picture’s own opacity', () => {
    show({ plate, matte: covering(0.2) });
    expect(step('Plate').title).toMatch(/done/);
    expect(step('Export').title).toMatch(/done/);
    cleanup();
    show({ plate, matte: covering(0) }, [], (r) => ({ ...r, subjects: [{ ...r.subjects[0], cut: 'screen' }] }));
    expect(step('Export').title).toMatch(/done/);
  });

  test('what is of an older recipe is said to be old, on the line and beside the figures', () => {
    show({ plate, matte: covering(0.2) }, ['plate']);
    expect(step('Plate').title).toMatch(/old, being worked out anew/);
    expect(step('Plate').textContent).toContain('was 10 % seen');
    expect(step('Matte').title).toMatch(/done/);
    expect(screen.getByRole('status').textContent).toMatch(/old/);
  });
});
