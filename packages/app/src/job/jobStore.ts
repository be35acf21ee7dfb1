import type { Recipe } from '@ritaglio/core';
import { temporal, type TemporalState } from 'zundo';
import { createStore, type StoreApi } from 'zustand';
import { claimJob, type Claimant, type Tabs } from '../data/claim';
import { addState, GoneError, moveTo, readHistory, type Base, type History } from '../data/history';
import { Refused } from '../data/refused';
import { isFull, refuse } from '../ui/refuse';
import { say } from '../words/say';

/** The state of an open job. */
export interface JobState {
  /** What is kept, with undo. */
  recipe: Recipe;
  /** The recipe while something is being dragged; not kept until it is let go. */
  draft?: Recipe;
  /** Shows a change without keeping it. */
  preview: (change: (recipe: Recipe) => Recipe) => void;
  /** Keeps a change. Nothing happens when it changes nothing. */
  commit: (change: (recipe: Recipe) => Recipe) => void;
}

type Kept = Pick<JobState, 'recipe'>;
export type JobStore = StoreApi<JobState> & { temporal: StoreApi<TemporalState<Kept>> };

/** How an open job stands with the disk and with other tabs. */
export interface Keeping {
  /** Whether this tab may change the job. */
  writing: boolean;
  /** Changes that have not reached the disk, and why the last try failed. */
  pending: number;
  reason?: string;
  /** What was found when the job was opened. */
  note?: string;
}

/** The open job: its store, and a promise that all that was kept so far has reached the disk. */
export interface OpenJob {
  id: string;
  store: JobStore;
  keeping: StoreApi<Keeping>;
  settled: () => Promise<void>;
  /** Writes what is pending now. */
  again: () => void;
  takeOver: () => void;
  close: () => void;
}

/** Time until a write that failed is tried again, ms: longer each time. */
const pauses = [500, 1000, 2000, 5000, 10_000];

/**
 * Opens a job with its whole history. The first tab writes it; another one looks on, follows what is kept, and can take over.
 *
 * @returns nothing when there is no such job
 */
export async function openJob(id: string, tabs?: Tabs): Promise<OpenJob | undefined> {
  const history = await readHistory(id);
  if (!history) return undefined;
  const keeping = createStore<Keeping>()(() => ({ writing: false, pending: 0, ...(history.note && { note: history.note }) }));
  const mayChange = (): boolean => {
    if (keeping.getState().writing) return true;
    refuse(new Refused(say('This job is open in another tab, which writes it. Take over here to change it.')));
    return false;
  };
  const store: JobStore = createStore<JobState>()(
    temporal(
      (set, get) => ({
        recipe: history.states[history.at].recipe,
        draft: undefined,
        preview: (change) => {
          if (keeping.getState().writing) set({ draft: change(get().recipe) });
        },
        commit: (change) => {
          const recipe = change(get().recipe);
          const same = JSON.stringify(recipe) === JSON.stringify(get().recipe);
          set(same || !mayChange() ? { draft: undefined } : { recipe, draft: undefined });
        },
      }),
      { partialize: ({ recipe }): Kept => ({ recipe }), equality: (a, b) => a.recipe === b.recipe },
    ),
  );
  const writer = new Writer(id, store, keeping);
  writer.load(history);
  const { undo, redo } = store.temporal.getState();
  store.temporal.setState({
    undo: (steps) => mayChange() && undo(steps),
    redo: (steps) => mayChange() && redo(steps),
  });
  const claimant: Claimant = {
    begin: () => writer.reload(),
    end: () => writer.flushed(),
    changed: (writing) => {
      keeping.setState({ writing });
      if (!writing) void writer.reload();
    },
  };
  const claim = await claimJob(id, claimant, ...(tabs ? [tabs] : []));
  writer.tell = claim.tell;
  return {
    id,
    store,
    keeping,
    settled: () => writer.settled(),
    again: () => writer.again(),
    takeOver: claim.takeOver,
    close: () => void writer.flushed().finally(claim.close),
  };
}

/** Writes every state as it is made, in order, and again until it is kept; undo and redo merely move the cursor. */
class Writer {
  tell: () => void = () => undefined;
  /** Which state of the log a recipe is. */
  private readonly numbers = new WeakMap<Recipe, number>();
  /** The number that the next state should get; not known before one was written. */
  private next: number | undefined;
  /** What it may be told by. */
  private base: Base | undefined;
  private readonly queue: (() => Promise<void>)[] = [];
  private working: Promise<void> | undefined;
  private loading = false;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private failures = 0;

  constructor(
    private readonly id: string,
    private readonly store: JobStore,
    private readonly keeping: StoreApi<Keeping>,
  ) {
    store.subscribe((state, before) => {
      if (state.recipe === before.recipe || this.loading) return;
      const { recipe } = state;
      this.queue.push(() => this.write(recipe, before.recipe));
      this.report();
      void this.work();
    });
  }

  /** Takes a history as what is open. */
  load({ states, at, base, note }: History): void {
    this.loading = true;
    this.base = base;
    states.forEach((s) => this.numbers.set(s.recipe, s.number));
    this.store.setState({ recipe: states[at].recipe, draft: undefined });
    this.store.temporal.setState({
      pastStates: states.slice(0, at).map(({ recipe }) => ({ recipe })),
      futureStates: states.slice(at + 1).reverse().map(({ recipe }) => ({ recipe })), // prettier-ignore
    });
    this.loading = false;
    if (note) this.keeping.setState({ note });
  }

  /** Reads what is kept, unless something of this tab's is still to be written. */
  async reload(): Promise<void> {
    if (this.queue.length > 0) return;
    const history = await readHistory(this.id);
    if (!history || this.queue.length > 0) return;
    if (this.numbers.get(this.store.getState().recipe) === history.states[history.at].number) {
      const { pastStates, futureStates } = this.store.temporal.getState();
      if (pastStates.length + 1 + futureStates.length === history.states.length) return;
    }
    this.load(history);
  }

  private async write(recipe: Recipe, from: Recipe): Promise<void> {
    const number = this.numbers.get(recipe);
    if (number !== undefined) return moveTo(this.id, number, recipe.name);
    const added = await addState(this.id, recipe, { after: this.numbers.get(from), next: this.next, base: this.base });
    this.numbers.set(recipe, added.number);
    this.next = added.number + 1;
    this.base = added.base;
  }

  private report(reason?: string): void {
    this.keeping.setState({ pending: this.queue.length, reason });
  }

  private work(): Promise<void> {
    this.working ??= this.drain().finally(() => (this.working = undefined));
    return this.working;
  }

  private async drain(): Promise<void> {
    clearTimeout(this.timer);
    while (this.queue.length > 0) {
      try {
        await this.queue[0]();
        this.queue.shift();
        this.failures = 0;
        this.report();
        this.tell();
      } catch (error) {
        this.report(reasonOf(error));
        if (error instanceof GoneError) return;
        this.timer = setTimeout(() => void this.work(), pauses[Math.min(this.failures++, pauses.length - 1)]);
        return;
      }
    }
  }

  again(): void {
    this.failures = 0;
    void this.work();
  }

  /** All that can be written now has been. */
  async flushed(): Promise<void> {
    await this.working;
    await this.work();
  }

  /** All is on the disk. */
  async settled(): Promise<void> {
    while (this.queue.length > 0 || this.working) {
      await this.work();
      if (this.queue.length > 0) await new Promise((resolve) => setTimeout(resolve, 20));
    }
  }
}

/** Why a write failed, for people. */
function reasonOf(error: unknown): string {
  if (error instanceof GoneError) return error.message;
  if (isFull(error)) return say('the storage of this browser is full');
  return say('the browser would not write ({message})', { message: error instanceof Error ? error.message : String(error) });
}
