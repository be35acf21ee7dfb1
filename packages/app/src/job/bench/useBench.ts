import type { Card, Recipe } from '@ritaglio/core';
import { useMemo } from 'react';
import { editCard } from '../edit';
import { useChange, useRecipe } from '../jobContext';
import { useJobPictures } from '../steps/PicturesControls';
import { useView } from '../viewStore';
import { cardIn, wayOf, type Sizes } from './cards';

/** Sizes of the job's pictures. */
export function useSizes(): Sizes {
  const { files } = useJobPictures();
  const { clips } = useRecipe();
  return useMemo(
    () =>
      new Map([...files.map((p) => [p.id, { width: p.width, height: p.height }] as const), ...clips.map((c) => [c.id, c.size] as const)]),
    [files, clips],
  );
}

/** The card that is picked out, the way between it and the frame, and how it is changed. */
export function useCard(): {
  card: Card | undefined;
  way: ReturnType<typeof wayOf> | undefined;
  preview: (change: (card: Card) => Card) => void;
  commit: (change: (card: Card) => Card) => void;
} {
  const recipe = useRecipe();
  const chosen = useView((s) => s.card);
  const sizes = useSizes();
  const { preview, commit } = useChange();
  const card = cardIn(recipe, chosen);
  const edit = (change: (card: Card) => Card) => (r: Recipe) => (card ? editCard(r, card.id, change) : r);
  return {
    card,
    way: card && wayOf(recipe, card, sizes),
    preview: (change) => preview(edit(change)),
    commit: (change) => commit(edit(change)),
  };
}
