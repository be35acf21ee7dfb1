import { canBeKeyed } from '@ritaglio/core';
import { useMemo } from 'react';
import type { Keying } from '../../ui/keyed';
import type { JobStore } from '../jobStore';
import { useStore } from 'zustand';
import { useView } from '../viewStore';
import { pointToggled } from './points';

/** How the numbers of a job that has time are keyed. */
export function useKeying(store: JobStore): Keying | undefined {
  const recipe = useStore(store, (s) => s.draft ?? s.recipe);
  const frame = useView((s) => s.frame);
  return useMemo(() => {
    if (!recipe.time) return undefined;
    return {
      state: (of) => {
        const key = recipe.keys.find((k) => k.of === of);
        return !key ? 'none' : key.points.some((p) => p.frame === frame) ? 'point' : 'keyed';
      },
      toggle: (of) => store.getState().commit((r) => pointToggled(r, of, frame)),
      take: (of) => canBeKeyed(recipe, of) && useView.setState({ inHand: of }),
    };
  }, [recipe, frame, store]);
}
