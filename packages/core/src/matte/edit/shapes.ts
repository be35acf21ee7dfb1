import { fillPolygon } from '../../raster/fillPolygon';
import { makePlane, type Plane } from '../../raster/plane';

/** A rough shape, lengths in pixels of the full-size shot. `clears`: nothing within it is subject; else nothing outside of all such is. */
export type Shape = (
  | { kind: 'rectangle' | 'ellipse'; x: number; y: number; width: number; height: number }
  | { kind: 'polygon'; points: readonly (readonly [number, number])[] }
) & { clears?: boolean | undefined };

/** Corners of an ellipse's polygon. */
const corners = 96;

/** A shape's outline as corners, px of the full-size shot. */
export function cornersOf(shape: Shape): (readonly [number, number])[] {
  if (shape.kind === 'polygon') return [...shape.points];
  const { x, y, width, height } = shape;
  if (shape.kind === 'rectangle') {
    return [
      [x, y],
      [x + width, y],
      [x + width, y + height],
      [x, y + height],
    ];
  }
  return Array.from({ length: corners }, (_, i) => {
    const angle = (2 * Math.PI * i) / corners;
    return [x + (width / 2) * (1 + Math.cos(angle)), y + (height / 2) * (1 + Math.sin(angle))];
  });
}

/**
 * How much of each pixel is covered by any of the shapes, 0 to 1.
 *
 * @param scale pixels of the result per pixel of the full-size shot
 */
export function rasterShapes(shapes: readonly Shape[], width: number, height: number, scale: number): Plane {
  const out = makePlane(width, height);
  for (const shape of shapes) {
    const cover = fillPolygon(
      cornersOf(shape).map(([x, y]) => [x * scale, y * scale]),
      width,
      height,
    );
    for (let p = 0; p < out.data.length; p++) if (cover.data[p] > out.data[p]) out.data[p] = Math.min(1, cover.data[p]);
  }
  return out;
}
