import type { Unmixed } from '../matte/foreground/edgeColour';
import type { Outlines } from '../placement/drawn';
import type { Picture, Plane } from '../raster/plane';
import type { Card, Recipe, SubjectRecipe } from '../recipe/recipe';

export type SubjectCard = Extract<Card, { kind: 'subject' }>;
/** A card that shows a picture: lettering and glows are made in the frame. */
export type PictureCard = Exclude<Card, { kind: 'lettering' | 'glow' }>;

/** Where the bench gets what stands on it. */
export interface BenchSource {
  picture(id: string): Promise<Picture>;
  pictureKey(id: string): unknown;
  /** A picture at a scale of its own, not kept. */
  photograph(id: string, scale: number): Promise<Picture>;
  /** Identifier of a kept matte's picture. */
  keptMatte(id: string): string;
  plate(subject: SubjectRecipe): Promise<Picture>;
  plateKey(subject: SubjectRecipe): unknown;
  subject(subject: SubjectRecipe): Promise<Pick<Unmixed, 'subject' | 'spill'>>;
  subjectKey(subject: SubjectRecipe): unknown;
  /** Share of the plate that is invented without texture. */
  smoothPlate(subject: SubjectRecipe): Promise<Plane | undefined>;
  letters(text: string, font: string, spacing: number): Promise<Outlines>;
}

/** The subject with an identifier. @throws Error when there is none */
export function subjectOf(recipe: Recipe, id: string): SubjectRecipe {
  const found = recipe.subjects.find((s) => s.id === id);
  if (!found) throw new Error(`The recipe holds no subject ${id}.`);
  return found;
}
