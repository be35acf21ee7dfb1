import { newRecipe, type Recipe } from '../../recipe/recipe';
import { checkEnlarged, type SizeOf } from './framing';

const plain = newRecipe('Goat', 'shot', 600, 400);
const sizeOf: SizeOf = () => ({ width: 600, height: 400 });
const sharp = (): number => 0;
const scaled = (kind: Recipe['cards'][number]['kind'], scale: number, recipe = plain): Recipe => ({
  ...recipe,
  cards: recipe.cards.map((c) => (c.kind === kind ? { ...c, placement: { ...c.placement, scale } } : c)),
});

describe('a source that is shown larger than it is', () => {
  test('is told by how many times, of the one that is enlarged most, and where it stands', () => {
    expect(checkEnlarged(plain, sizeOf, sharp)).toMatchObject({ verdict: 'good', figure: 1 });
    const twice = scaled('subject', 2, scaled('plate', 1.2));
    const check = checkEnlarged(twice, sizeOf, sharp);
    expect(check.verdict).toBe('look');
    expect(check.figure).toBeCloseTo(2, 6);
    const [place] = check.places;
    expect([place.width, place.height]).toEqual([1200, 800]);
    // It stands about the frame's middle.
    expect([place.x + place.width / 2, place.y + place.height / 2]).toEqual([300, 200]);
    expect(checkEnlarged(scaled('subject', 2.3), sizeOf, sharp).verdict).toBe('wrong');
  });

  test('does not count where a blur hides it, where it is hidden, or where its size is not known', () => {
    const twice = scaled('subject', 2);
    const blurred = (disc: number): number | undefined => checkEnlarged(twice, sizeOf, (c) => (c.kind === 'subject' ? disc : 0)).figure;
    expect(blurred(5)).toBeCloseTo(2, 6);
    expect(blurred(7)).toBeCloseTo(1, 6);
    const hidden = { ...twice, cards: twice.cards.map((c) => ({ ...c, hidden: c.kind === 'subject' })) };
    expect(checkEnlarged(hidden, sizeOf, sharp).figure).toBeCloseTo(1, 6);
    const nowhere = checkEnlarged(twice, () => undefined, sharp);
    expect(nowhere).toMatchObject({ verdict: 'unknown', places: [] });
    expect(nowhere.why).toMatch(/\.$/);
  });

  test('a camera that comes nearer enlarges as well', () => {
    const near = { ...plain, camera: { ...plain.camera, z: plain.cards.find((c) => c.kind === 'subject')!.distance / 2 } };
    expect(checkEnlarged(near, sizeOf, sharp).figure).toBeCloseTo(2, 6);
  });
});
