import { picturesOf, type Recipe } from '@ritaglio/core';
import { store as kept } from '../data/store';
import { onForgotten, renderer } from './renderer';

const given = new Set<string>();
onForgotten(() => given.clear());

/** Gives the renderer the pictures of a recipe that it does not have yet. @throws Error with a sentence when one is gone */
export async function givePictures(recipe: Recipe): Promise<void> {
  for (const id of picturesOf(recipe)) {
    if (given.has(id)) continue;
    const picture = await kept.pictures.get(id);
    if (!picture) throw new Error('a picture of this job is not in this browser’s store any more; bring it in again');
    await renderer().addPicture(id, picture.name, picture.blob);
    given.add(id);
  }
}
