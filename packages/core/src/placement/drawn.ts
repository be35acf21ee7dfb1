import { inverse, mapped } from '../align/projective';
import { linearOfHex } from '../colour/srgb';
import { fillPolygons } from '../raster/fillPolygon';
import { makePicture, type Picture } from '../raster/plane';
import type { Way } from './place';
import { placedPoint } from './place';

/** Outlines of letters, closed, in heights of the type: x to the right from the line's middle, y downwards from its middle line. */
export type Outlines = [number, number][][];

/**
 * Lettering in its place in a frame, opaque where the letters are, their edges antialiased.
 *
 * @param size height of the type, px of the full-size picture
 * @param scale pixels per full-size pixel
 * @param way its place; the width and height in it are those of a picture of 1 × 1
 */
export function lettering(
  outlines: Outlines,
  size: number,
  colour: string,
  width: number,
  height: number,
  way: Way,
  scale: number,
): Picture {
  const out = filled(colour, width, height);
  const one = { width: 1, height: 1 };
  const k = size * scale;
  const placed = outlines.map((ring) =>
    ring.map(([x, y]): [number, number] => {
      const p = placedPoint({ ...way, width: way.width * k, height: way.height * k }, one, x + 0.5, y + 0.5);
      return [p.x, p.y];
    }),
  );
  return { ...out, a: fillPolygons(placed, width, height).data };
}

function filled(colour: string, width: number, height: number, times = 1): Picture {
  const out = makePicture(width, height, 0);
  const [r, g, b] = linearOfHex(colour).map((c) => c * times);
  out.r.fill(r);
  out.g.fill(g);
  out.b.fill(b);
  return out;
}

/**
 * A glow: light that falls off from a middle like a Gaussian, half as strong at half its size from it.
 *
 * @param size diameter at half strength, px of the full-size picture
 * @param lift stops above display white in the middle
 * @param way its place; the width and height in it are those of a picture of 1 × 1
 */
export function glow(size: number, colour: string, lift: number, width: number, height: number, way: Way, scale: number): Picture {
  const out = filled(colour, width, height, 2 ** lift);
  const [rx, ry] = [(way.width * size * scale) / 2, (way.height * size * scale) / 2];
  const [c, s] = [Math.cos((way.turn * Math.PI) / 180), Math.sin((way.turn * Math.PI) / 180)];
  const straight = way.view && inverse(way.view);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const [ux, uy] = straight ? mapped(straight, x + 0.5, y + 0.5) : [x + 0.5, y + 0.5];
      const [dx, dy] = [ux - way.x, uy - way.y];
      const away = ((dx * c - dy * s) / rx) ** 2 + ((dx * s + dy * c) / ry) ** 2;
      out.a![p] = 2 ** -away;
    }
  }
  return out;
}
