import { newRecipe, readRecipe, type Recipe } from '@ritaglio/core';
import { backgroundCard, editCard, editSubject, moveCard, subjectCard, withoutMatte } from './edit';

const recipe = newRecipe('Trial', 'shot', 300, 200);

describe('edits of the recipe', () => {
  test('leave the recipe they were given alone', () => {
    const before = JSON.stringify(recipe);
    editSubject(recipe, (s) => ({ ...s, shot: 'other' }));
    editCard(recipe, recipe.cards[0].id, (c) => ({ ...c, distance: 99 }));
    moveCard(recipe, recipe.cards[1].id, 5);
    expect(JSON.stringify(recipe)).toBe(before);
  });

  test('a kept matte that is removed is used nowhere any more', () => {
    const limit = { ...recipe.finish.limit, matte: 'm' };
    const used: Recipe = {
      ...recipe,
      mattes: [{ id: 'm', name: 'Wheels', picture: 'grey' }],
      subjects: recipe.subjects.map((s) => ({ ...s, with: [{ matte: 'm', how: 'union' }] })),
      cards: recipe.cards.map((c) => ({ ...c, limit })),
      finish: { ...recipe.finish, limit },
    };
    expect(withoutMatte(used, 'm')).toEqual(recipe);
    expect(readRecipe(JSON.parse(JSON.stringify(used)))).toEqual(JSON.parse(JSON.stringify(used)));
  });

  test('the background card is the farthest that is no subject', () => {
    const more: Recipe = { ...recipe, cards: [...recipe.cards, { ...backgroundCard(recipe)!, id: 'farther', distance: 500 }] };
    expect(backgroundCard(more)?.id).toBe('farther');
    expect(backgroundCard({ ...recipe, cards: recipe.cards.filter((c) => c.kind === 'subject') })).toBeUndefined();
  });

  test('the lens follows a subject in focus, and stays when it was focused elsewhere', () => {
    const card = subjectCard(recipe)!;
    const focused: Recipe = { ...recipe, lens: { ...recipe.lens, focus: card.distance } };
    expect(moveCard(focused, card.id, 7).lens.focus).toBe(7);
    const elsewhere: Recipe = { ...recipe, lens: { ...recipe.lens, focus: card.distance + 4 } };
    expect(moveCard(elsewhere, card.id, 7).lens.focus).toBe(card.distance + 4);
    expect(subjectCard(moveCard(elsewhere, card.id, 7))?.distance).toBe(7);
    const behind = backgroundCard(focused)!;
    expect(moveCard(focused, behind.id, 40).lens).toEqual(focused.lens);
  });
});
