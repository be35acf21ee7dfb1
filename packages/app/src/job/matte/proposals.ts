import type { Mark, Recipe } from '@ritaglio/core';
import { editSubject } from '../edit';
import type { JobStore } from '../jobStore';
import { useView } from '../viewStore';

function withMarks(recipe: Recipe, marks: Mark[]): Recipe {
  return editSubject(recipe, (s) => ({ ...s, cut: 'marks', marks: [...s.marks, ...(marks as typeof s.marks)] }));
}

/** Shows one of the proposed subjects as a draft; nothing is kept. */
export function propose(store: JobStore, list: Mark[][], at: number): void {
  const index = at % list.length;
  useView.setState({ proposals: { list, at: index } });
  store.getState().preview((r) => withMarks(r, list[index]));
}

/** Keeps the proposal that is shown. */
export function takeProposal(store: JobStore): void {
  const { proposals } = useView.getState();
  if (!proposals) return;
  useView.setState({ proposals: undefined });
  store.getState().commit((r) => withMarks(r, proposals.list[proposals.at]));
}

/** Goes back to what was kept. */
export function dropProposal(store: JobStore): void {
  useView.setState({ proposals: undefined });
  store.setState({ draft: undefined });
}
