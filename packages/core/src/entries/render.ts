/** Whole recipes: read, checked, and made into pictures, each product remembered. */
export type { Card, Recipe, SubjectRecipe } from '../recipe/recipe';
export { newRecipe, picturesOf, readRecipe, RecipeError, recipeVersion } from '../recipe/recipe';
export { momentOf } from '../recipe/moment';
export { ProductMemory } from '../render/memory';
export type { PictureSource, Products, Want } from '../render/products';
export { render } from '../render/render';
