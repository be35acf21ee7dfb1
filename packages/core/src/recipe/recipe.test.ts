import { newRecipe, picturesOf, readRecipe, RecipeError } from './recipe';

const recipe = newRecipe('A goat', 'shot-1', 1800, 1200);

test('a new recipe is a valid one and survives being written down', () => {
  expect(readRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
  expect(picturesOf(recipe)).toEqual(['shot-1']);
});

test.each([
  ['nothing', undefined, /recipe itself/],
  ['a wrong number', { ...recipe, lens: { ...recipe.lens, fNumber: -1 } }, /lens\.fNumber/],
  [
    'a mark without points',
    { ...recipe, subjects: [{ ...recipe.subjects[0], marks: [{ kind: 'inside', radius: 3, points: [] }] }] },
    /marks/,
  ],
  ['a card of a subject that is not there', { ...recipe, subjects: [] }, /does not hold/],
  ['a later version', { ...recipe, version: 7 }, /version 7/],
  ['Infinity', { ...recipe, cards: [{ ...recipe.cards[0], distance: Infinity }] }, /cards/],
])('%s is refused with its place', (_, data, words) => {
  expect(() => readRecipe(data)).toThrow(RecipeError);
  expect(() => readRecipe(data)).toThrow(words);
});
