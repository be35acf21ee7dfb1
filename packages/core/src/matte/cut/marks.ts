import { fillPolygon } from '../../raster/fillPolygon';
import { nearWay } from '../../raster/nearWay';

/**
 * What a mark says: surely subject, surely not, or undecided (wool, hair, glass: solve it here). A loop is drawn roughly around the
 * subject: what is outside all loops is not subject. A trace runs along the subject's border; a filled one all around it.
 */
export type MarkKind = 'inside' | 'outside' | 'edge' | 'loop' | 'trace';

/** One stroke of the user's, in pixels of the full-size shot. */
export interface Mark {
  kind: MarkKind;
  /** Half the tip's width. */
  radius: number;
  /** Points in order, each x, y and optionally the pen's pressure, 0 to 1, which narrows the tip. */
  points: readonly (readonly [number, number] | readonly [number, number, number])[];
  /** The points go around a region, all of which is marked. */
  filled?: boolean;
  /** Of a trace: which of the points were pressed. Between them it follows contours. */
  anchors?: readonly number[];
}

/** Whether a mark alone says where the subject is. */
export function closesSubject({ kind, filled }: Mark): boolean {
  return kind === 'inside' || kind === 'loop' || (kind === 'trace' && filled === true);
}

/** What the marks say of a pixel. */
export const unmarked = 0;
export const markedInside = 1;
export const markedOutside = 2;
export const markedEdge = 3;

const codeOf = { inside: markedInside, outside: markedOutside, edge: markedEdge };

/** Width of what is left open along a traced border, and of what is outside beyond it, px at least. */
const openAlong = 1;
const outsideAlong = 2;

/**
 * The marks as one code a pixel, later marks over earlier ones, loops below all. What lies outside the picture is ignored;
 * however much the picture is reduced, a mark on it covers at least one pixel. An open trace covers nothing.
 *
 * @param scale pixels of the result per pixel of the full-size shot
 */
export function rasterMarks(marks: readonly Mark[], width: number, height: number, scale: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const loops = marks.filter((m) => m.kind === 'loop');
  if (loops.length > 0) {
    out.fill(markedOutside);
    for (const loop of loops) fillRegion(out, loop, width, height, scale, unmarked);
  }
  for (const mark of marks) {
    if (mark.kind === 'loop') continue;
    const along = (code: number, wider: number, least: number): void => {
      const tip = (p: Mark['points'][number]): [number, number, number] => [
        p[0] * scale,
        p[1] * scale,
        Math.max(least, mark.radius * scale * (p[2] ?? 1)) + wider,
      ];
      mark.points.forEach((point, i) => {
        fillCapsule(out, width, height, tip(mark.points[Math.max(0, i - 1)]), tip(point), code);
      });
    };
    if (mark.kind === 'trace') {
      if (!mark.filled) continue;
      along(markedOutside, outsideAlong, openAlong);
      fillRegion(out, mark, width, height, scale, markedInside);
      along(unmarked, 0, openAlong);
    } else {
      const code = codeOf[mark.kind];
      if (mark.filled) fillRegion(out, mark, width, height, scale, code);
      along(code, 0, 0.71);
    }
  }
  return out;
}

/** All pixels at least half of which lie within the mark's points. */
function fillRegion(out: Uint8Array, mark: Mark, width: number, height: number, scale: number, code: number): void {
  const corners = mark.points.map((p) => [p[0] * scale, p[1] * scale] as const);
  const cover = fillPolygon(corners, width, height).data;
  const within = (y: number): number => Math.min(height, Math.max(0, y));
  const ys = corners.map((c) => c[1]);
  const [from, to] = [within(Math.floor(Math.min(...ys))), within(Math.ceil(Math.max(...ys)))];
  for (let p = from * width; p < to * width; p++) if (cover[p] >= 0.5) out[p] = code;
}

/** All pixels whose centre is within the (linearly changing) radius of a segment. */
function fillCapsule(
  out: Uint8Array,
  width: number,
  height: number,
  [x0, y0, r0]: readonly [number, number, number],
  [x1, y1, r1]: readonly [number, number, number],
  code: number,
): void {
  const dx = x1 - x0;
  const dy = y1 - y0;
  const length2 = dx * dx + dy * dy;
  const rows = nearWay(x0, y0, x1, y1, Math.max(r0, r1), width, height);
  for (let k = 0, y = rows.top; k < rows.ends.length; k += 2, y++) {
    for (let x = rows.ends[k]; x < rows.ends[k + 1]; x++) {
      const px = x + 0.5 - x0;
      const py = y + 0.5 - y0;
      const t = length2 > 0 ? Math.min(1, Math.max(0, (px * dx + py * dy) / length2)) : 0;
      const ex = px - t * dx;
      const ey = py - t * dy;
      const r = r0 + t * (r1 - r0);
      if (ex * ex + ey * ey <= r * r) out[y * width + x] = code;
    }
  }
}
