import type { Mark, Recipe } from '@ritaglio/core';
import { editSubject } from '../edit';
import type { JobStore } from '../jobStore';
import { onFrameNow } from '../moments';
import { useView, type Proposals } from '../viewStore';

function withMarks(recipe: Recipe, marks: Mark[]): Recipe {
  return editSubject(recipe, (s) => {
    const frame = onFrameNow(recipe, s.shot);
    return { ...s, cut: 'marks', marks: [...s.marks, ...(marks.map((m) => ({ ...m, ...frame })) as typeof s.marks)] };
  });
}

/** What would be kept: the subject that is shown, or all gaps that are left. */
function wanted({ of, list, at }: Proposals): Mark[] {
  return of === 'subject' ? list[at] : list.flat();
}

function show(store: JobStore, proposals: Proposals): void {
  useView.setState({ proposals });
  store.getState().preview((r) => withMarks(r, wanted(proposals)));
}

/** Shows one of the proposed subjects as a draft; nothing is kept. */
export function propose(store: JobStore, list: Mark[][], at: number): void {
  show(store, { of: 'subject', list, at: at % list.length });
}

/** Shows gaps as a draft, the first of them picked out; nothing is kept. */
export function proposeGaps(store: JobStore, gaps: Mark[]): void {
  show(store, { of: 'gaps', list: gaps.map((gap) => [gap]), at: 0 });
}

/** The next proposed subject, or the next gap picked out. */
export function nextProposal(store: JobStore): void {
  const { proposals } = useView.getState();
  if (proposals) show(store, { ...proposals, at: (proposals.at + 1) % proposals.list.length });
}

/** Leaves the gap out that is picked out; with the last one nothing is left to be proposed. */
export function leaveOut(store: JobStore): void {
  const { proposals } = useView.getState();
  if (proposals?.of !== 'gaps') return;
  const list = proposals.list.filter((_, i) => i !== proposals.at);
  if (list.length === 0) dropProposal(store);
  else show(store, { ...proposals, list, at: proposals.at % list.length });
}

/** Keeps the proposal that is shown. */
export function takeProposal(store: JobStore): void {
  const { proposals } = useView.getState();
  if (!proposals) return;
  useView.setState({ proposals: undefined });
  store.getState().commit((r) => withMarks(r, wanted(proposals)));
}

/** Goes back to what was kept. */
export function dropProposal(store: JobStore): void {
  useView.setState({ proposals: undefined });
  store.setState({ draft: undefined });
}
