import { readRecipe, type Recipe } from '@ritaglio/core';
import type { QuickJob } from './quickJobs';
import { Dexie, type EntityTable, type Table } from 'dexie';
import type { Operation } from 'fast-json-patch';

/** A job kept in this browser. */
export interface KeptJob {
  id: string;
  name: string;
  changed: number;
  /** Number of the recipe state that is current, and of the newest that was not undone for good; the newest of all if left out. */
  cursor: number;
  head?: number;
  /** Pictures brought into the job, whether the recipe uses them now or not. */
  pictures: string[];
  /** The common job that it was begun as, while only its controls are shown. */
  quick?: QuickJob;
  /** Which demo it was made from, if any. */
  demo?: string;
  /** Small prints for the shelf. */
  before?: Blob;
  after?: Blob;
}

/** One state of a job's recipe, for undo and redo. States are added and never changed. */
export interface KeptState {
  job: string;
  number: number;
  /** The whole recipe; or what differs from that of another state, which is kept whole. */
  recipe?: Recipe;
  patch?: { base: number; changes: Operation[] };
  /** Number of the state it was made from; the one before it if left out. */
  after?: number;
  /** Digest of the recipe, or of the other state’s digest and the patch; states of older programs have none. */
  sum?: string;
}

/** A picture file, untouched. Its identifier is the hash of its content. */
export interface KeptPicture {
  id: string;
  name: string;
  blob: Blob;
  width: number;
  height: number;
  notes: string[];
  /** The colour over which it seems to be multiplied by its opacity, #rrggbb. */
  multiplied?: string;
}

/** A state of a job kept under a name. */
export interface KeptTake {
  id: string;
  job: string;
  name: string;
  made: number;
  recipe: Recipe;
  /** A small print. */
  print?: Blob;
}

class Store extends Dexie {
  jobs!: EntityTable<KeptJob, 'id'>;
  states!: Table<KeptState, [string, number]>;
  pictures!: EntityTable<KeptPicture, 'id'>;
  takes!: EntityTable<KeptTake, 'id'>;

  constructor() {
    super('ritaglio');
    this.version(1).stores({ jobs: 'id, changed, demo', states: '[job+number], job', pictures: 'id' });
    this.version(2).stores({ takes: 'id, job' });
    // Recipes of older programs are brought up to this one's, those of takes as well; one that cannot be is left as it is.
    for (const version of [3, 4]) {
      this.version(version).upgrade(async (t) => {
        for (const table of ['states', 'takes']) {
          await t
            .table<{ recipe: Recipe }>(table)
            .toCollection()
            .modify((s) => {
              try {
                s.recipe = readRecipe(s.recipe);
              } catch {
                // It is told when the job is opened.
              }
            });
        }
      });
    }
  }
}

export const store = new Store();
