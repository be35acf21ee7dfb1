import { jobFrame } from '@ritaglio/core';
import { useMemo } from 'react';
import { useSizes } from './bench/useBench';
import { useProductsOfJob, useRecipe } from './jobContext';
import { clipOf } from './moments';
import { placesToWalk, type ProofPlace } from './proof';
import { useView } from './viewStore';

/** How close a place is looked at: screen pixels per full-size pixel. */
const closeUp = 2;

/** The places of the proof, which of them is looked at, and the way to another. */
export function useProof(): { places: ProofPlace[]; at: number; go: (to: number) => void } {
  const recipe = useRecipe();
  const sizes = useSizes();
  const { checks } = useProductsOfJob().figures;
  const place = useView((s) => s.place);
  const set = useView((s) => s.set);
  const places = useMemo(() => (checks ? placesToWalk(checks, recipe, sizes) : []), [checks, recipe, sizes]);
  const at = places.length > 0 ? ((place % places.length) + places.length) % places.length : 0;
  const go = (to: number): void => {
    const next = places[((to % places.length) + places.length) % places.length];
    if (!next) return;
    const clip = clipOf(recipe, recipe.subjects[0].shot);
    const frame =
      next.frame !== undefined
        ? { frame: clip ? jobFrame(clip, next.frame) : next.frame }
        : { look: { zoom: closeUp, x: next.x, y: next.y } };
    set({ place: to, compare: 'whole', picture: 'finished', ...frame });
  };
  return { places, at, go };
}
