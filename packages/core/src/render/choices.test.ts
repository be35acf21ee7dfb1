import { defaultContext } from '../runtime/context';
import { meanDeltaE } from '../proof/compare';
import { seeded } from '../raster/random';
import { resizePicture, scaledSize } from '../raster/resize';
import { newRecipe } from '../recipe/recipe';
import { pictureFrom, softDisc } from '../testing/scenes';
import type { PictureSource } from './products';
import { render } from './render';

test('a fill holds the same at every size of a large shot, where the full size is told', async () => {
  const [width, height] = [2100, 180];
  // Grains of 12 px in many shades: whatever else is copied differs.
  const random = seeded(9);
  const shades = Float32Array.from({ length: 175 * 15 }, () => 0.05 + 0.6 * random());
  const disc = softDisc(width, height, 1050, 90, 45, 8);
  const large = pictureFrom(width, height, (x, y) => {
    const v = shades[Math.floor(y / 12) * 175 + Math.floor(x / 12)];
    const a = disc.data[y * width + x];
    return [a * 0.7 + (1 - a) * v, a * 0.1 + (1 - a) * v, a * 0.05 + (1 - a) * 0.8 * v];
  });
  const told: PictureSource = {
    key: (id) => id,
    size: () => Promise.resolve({ width, height }),
    load: (_, scale) => {
      const size = scaledSize(width, height, scale);
      return Promise.resolve(resizePicture(large, size.width, size.height));
    },
  };
  const recipe = newRecipe('Disc', 'disc', width, height);
  const marks = [
    {
      kind: 'inside' as const,
      radius: 18,
      points: [
        [1035, 90],
        [1065, 90],
      ] as [number, number][],
    },
    {
      kind: 'outside' as const,
      radius: 15,
      points: [
        [800, 20],
        [1300, 20],
        [1300, 160],
        [800, 160],
        [800, 20],
      ] as [number, number][],
    },
  ];
  recipe.subjects = [{ ...recipe.subjects[0], marks }];
  const whole = await render(recipe, told, 'plate', defaultContext());
  const apart = async (pictures: PictureSource): Promise<number> => {
    const half = await render(recipe, pictures, 'plate', defaultContext({ scale: 0.6 }));
    const { width: w, height: h } = half.plate;
    return meanDeltaE(resizePicture(whole.plate, w, h), half.plate, half.hole.data.map((v) => (v > 0.5 ? 1 : 0))); // prettier-ignore
  };
  const [same, anew] = [await apart(told), await apart({ ...told, size: undefined })];
  expect(same).toBeLessThan(3);
  expect(same).toBeLessThan(0.5 * anew);
});
