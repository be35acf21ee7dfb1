import type { Recipe, SubjectRecipe } from '@ritaglio/core';
import { createContext, useContext } from 'react';
import { useStore } from 'zustand';
import { openSubject } from './edit';
import type { JobState, OpenJob } from './jobStore';
import type { Products } from './useProducts';
import { useView } from './viewStore';

/** The open job and what has been worked out of it. */
export interface JobContextValue {
  job: OpenJob;
  products: Products;
}

export const JobContext = createContext<JobContextValue | undefined>(undefined);

function useJobContext(): JobContextValue {
  const value = useContext(JobContext);
  if (!value) throw new Error('No job is open here.');
  return value;
}

export function useOpenJob(): OpenJob {
  return useJobContext().job;
}

export function useProductsOfJob(): Products {
  return useJobContext().products;
}

/** A part of the job's state. */
function useJob<T>(select: (state: JobState) => T): T {
  return useStore(useJobContext().job.store, select);
}

/** The recipe as it is seen now, while dragging too. */
export function useRecipe(): Recipe {
  return useJob((s) => s.draft ?? s.recipe);
}

/** The subject whose matte and plate are open. */
export function useOpenSubject(): SubjectRecipe {
  const chosen = useView((s) => s.subject);
  return openSubject(useRecipe(), chosen);
}

/** How to change the recipe. */
export function useChange(): Pick<JobState, 'preview' | 'commit'> {
  const { store } = useOpenJob();
  const { preview, commit } = store.getState();
  return { preview, commit };
}
