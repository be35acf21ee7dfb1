import type { Card, Recipe, SubjectRecipe } from '@ritaglio/core';
import { useView } from './viewStore';

/** The subject whose matte and plate are open: the one that was chosen, or the first. */
export function openSubject(recipe: Recipe, chosen: string | undefined = useView.getState().subject): SubjectRecipe {
  return recipe.subjects.find((s) => s.id === chosen) ?? recipe.subjects[0];
}

/** The recipe with its open subject changed. */
export function editSubject(recipe: Recipe, change: (subject: SubjectRecipe) => SubjectRecipe): Recipe {
  const open = openSubject(recipe);
  return { ...recipe, subjects: recipe.subjects.map((s) => (s === open ? change(s) : s)) };
}

/** The recipe without a kept matte, wherever it was used. */
export function withoutMatte(recipe: Recipe, id: string): Recipe {
  const freed = <T extends { limit: Recipe['finish']['limit'] }>(of: T): T =>
    of.limit.matte === id ? { ...of, limit: { ...of.limit, matte: null } } : of;
  return {
    ...recipe,
    mattes: recipe.mattes.filter((m) => m.id !== id),
    subjects: recipe.subjects.map((s) => ({ ...s, with: s.with.filter((w) => w.matte !== id) })),
    cards: recipe.cards.map((c) => freed(c.kind === 'picture' && c.matte === id ? { ...c, matte: null } : c)),
    finish: freed(recipe.finish),
  };
}

/** The recipe with one card changed. */
export function editCard(recipe: Recipe, id: string, change: (card: Card) => Card): Recipe {
  return { ...recipe, cards: recipe.cards.map((c) => (c.id === id ? change(c) : c)) };
}

/** The card that stands farthest away and is no subject. */
export function backgroundCard(recipe: Recipe): Card | undefined {
  return recipe.cards.filter((c) => c.kind !== 'subject').sort((a, b) => b.distance - a.distance)[0];
}

/** The card of the subject. */
export function subjectCard(recipe: Recipe): Card | undefined {
  return recipe.cards.find((c) => c.kind === 'subject');
}

/** Moves a card on the bench; the lens stays on the subject when it was focused on it. */
export function moveCard(recipe: Recipe, id: string, distance: number): Recipe {
  const card = recipe.cards.find((c) => c.id === id);
  const follows = card?.kind === 'subject' && Math.abs(card.distance - recipe.lens.focus) < 1e-6;
  const moved = editCard(recipe, id, (c) => ({ ...c, distance }));
  return follows ? { ...moved, lens: { ...moved.lens, focus: distance } } : moved;
}
