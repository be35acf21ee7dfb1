import { blendModes, newRecipe, defaultCard, defaultLamps, type Recipe, type Samples } from '@ritaglio/core';
import type { RasterLayer } from '@ritaglio/formats';

/** A layer on a canvas of its picture's size, RGBA of 8 bits; what lies beyond is cut off. */
export function onCanvas({ samples, x, y }: RasterLayer, width: number, height: number): Samples {
  const data = new Uint8Array(4 * width * height);
  const { channels } = samples;
  // Of 16 bits the upper eight are what a layer of 8 would hold.
  const eight = samples.data instanceof Uint16Array ? (v: number): number => v >> 8 : (v: number): number => v;
  for (let v = Math.max(0, -y); v < samples.height && v + y < height; v++) {
    for (let u = Math.max(0, -x); u < samples.width && u + x < width; u++) {
      const [from, to] = [channels * (v * samples.width + u), 4 * ((v + y) * width + u + x)];
      for (let c = 0; c < 3; c++) data[to + c] = eight(samples.data[from + (channels < 3 ? 0 : c)]);
      data[to + 3] = channels === 2 || channels === 4 ? eight(samples.data[from + channels - 1]) : 255;
    }
  }
  return { width, height, channels: 4, data };
}

/** The nearest and the farthest of layers that become cards, m: even ratios between them. */
const [nearest, farthest] = [3, 20];

/**
 * A recipe whose cards are the layers of a layered picture, the lowest farthest away, each as sharp as it is.
 *
 * @param shot identifier of the merged picture
 * @param layers lowest first, each with its picture's identifier
 */
export function recipeOfLayers(
  name: string,
  shot: string,
  size: { width: number; height: number },
  layers: (Pick<RasterLayer, 'name' | 'opacity' | 'blend' | 'hidden'> & { picture: string })[],
): Recipe {
  const fresh = newRecipe(name, shot, size.width, size.height);
  const cards = layers.map(({ name: called, picture, opacity, blend, hidden }, i): Recipe['cards'][number] => ({
    ...defaultCard,
    ...{ id: `card-layer-${i + 1}`, kind: 'picture', picture, matte: null, lamps: { ...defaultLamps, lift: 0 } },
    ...{ name: called.slice(0, 100), opacity, hidden, blur: 0 },
    blend: blendModes.find((b) => b === blend) ?? 'normal',
    distance: farthest * (nearest / farthest) ** (layers.length > 1 ? i / (layers.length - 1) : 0),
  }));
  return { ...fresh, cards: cards.length > 0 ? cards : fresh.cards };
}
