import { assertSameSize, type Plane } from '../../raster/plane';

/** How a kept matte is put together with the one being made. */
export type Combining = 'union' | 'subtract' | 'intersect' | 'instead';

/**
 * Two mattes as one. Opacities are taken as independent coverage, so soft edges stay soft: union 1 − (1 − a)(1 − b),
 * subtract a(1 − b), intersect ab, instead b.
 *
 * @throws RangeError when sizes differ
 */
export function combineMattes(a: Plane, b: Plane, how: Combining): Plane {
  assertSameSize(a, b, 'combining mattes');
  if (how === 'instead') return b;
  const rule: Record<Exclude<Combining, 'instead'>, (x: number, y: number) => number> = {
    union: (x, y) => x + y - x * y,
    subtract: (x, y) => x * (1 - y),
    intersect: (x, y) => x * y,
  };
  const join = rule[how];
  return { width: a.width, height: a.height, data: a.data.map((v, p) => join(v, b.data[p])) };
}
