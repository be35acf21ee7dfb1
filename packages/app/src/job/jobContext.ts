import { changedAt, keyedAt, type Recipe, type SubjectRecipe } from '@ritaglio/core';
import { createContext, useContext, useMemo } from 'react';
import { useStore } from 'zustand';
import { openSubject } from './edit';
import type { JobState, OpenJob } from './jobStore';
import type { Products } from './useProducts';
import { useView } from './viewStore';

/** The open job; it stays the same while it is open. */
export const OpenJobContext = createContext<OpenJob | undefined>(undefined);
/** What has been worked out of it. */
export const ProductsContext = createContext<Products | undefined>(undefined);

function given<T>(value: T | undefined): T {
  if (value === undefined) throw new Error('No job is open here.');
  return value;
}

export function useOpenJob(): OpenJob {
  return given(useContext(OpenJobContext));
}

export function useProductsOfJob(): Products {
  return given(useContext(ProductsContext));
}

/** A part of the job's state. */
function useJob<T>(select: (state: JobState) => T): T {
  return useStore(useOpenJob().store, select);
}

/** The recipe as it is seen now, while dragging too; what is keyed as it is at the frame that is looked at. */
export function useRecipe(): Recipe {
  const recipe = useJob((s) => s.draft ?? s.recipe);
  const frame = useView((s) => s.frame);
  return useMemo(() => keyedAt(recipe, frame), [recipe, frame]);
}

/** The recipe with all its time: what is keyed as it is without. */
export function useWholeRecipe(): Recipe {
  return useJob((s) => s.draft ?? s.recipe);
}

/** The subject whose matte and plate are open. */
export function useOpenSubject(): SubjectRecipe {
  const chosen = useView((s) => s.subject);
  return openSubject(useRecipe(), chosen);
}

/** How to change the recipe as it is at the frame that is looked at. */
export function useChange(): Pick<JobState, 'preview' | 'commit'> {
  const { store } = useOpenJob();
  return useMemo(() => {
    const { preview, commit } = store.getState();
    const here = (change: (r: Recipe) => Recipe) => (r: Recipe) => changedAt(r, useView.getState().frame, change);
    return { preview: (change) => preview(here(change)), commit: (change) => commit(here(change)) };
  }, [store]);
}
