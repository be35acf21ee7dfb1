import type { Fill, Recipe, Region, RetouchStroke, SubjectRecipe } from '@ritaglio/core';
import { editSubject } from '../edit';
import type { Drawing, TipPoint } from '../matte/tools';
import type { ViewState } from '../viewStore';

export type Plate = SubjectRecipe['plate'];
export type FillKind = Fill['kind'];

/** Whether presses set corners: regions by corners, strokes never. */
export function plateSetsCorners(s: ViewState): boolean {
  return s.plateTool !== 'retouch' && s.way === 'polygon';
}

/** What a drawing is as a region. */
export function regionOf(s: ViewState, drawing: Drawing): Region {
  const closed = s.way !== 'stroke' && drawing.points.length > 2;
  return { radius: closed ? 1 : s.tip / 2, points: drawing.points, ...(closed && { filled: true }) };
}

/** Where a stroke that begins at a point copies from, and what it is matched with from now on. */
export function sourceOf(
  s: ViewState,
  start: TipPoint,
): { source: readonly [number, number]; sourceFor: readonly [number, number] } | undefined {
  if (!s.source) return undefined;
  const from = s.fixedSource || !s.sourceFor ? ([start[0], start[1]] as const) : s.sourceFor;
  return { source: [s.source[0] + start[0] - from[0], s.source[1] + start[1] - from[1]], sourceFor: from };
}

/** What a drawing is as a retouching stroke, or nothing while there is no source. */
export function retouchOf(s: ViewState, drawing: Drawing): RetouchStroke | undefined {
  const stroke = { tip: s.retouch, radius: s.tip / 2, hardness: s.hardness, opacity: s.strength, points: drawing.points };
  if (s.retouch === 'paint') return { ...stroke, colour: s.paint };
  const from = sourceOf(s, drawing.points[0]);
  return from && { ...stroke, source: from.source, flip: s.flipSource, size: s.sourceSize };
}

/** A fill of a kind to begin with; what was tried stays when the kind does. */
export function newFill(kind: FillKind, before?: Fill): Fill {
  if (before?.kind === kind) return before;
  const tried = before && 'tries' in before ? { tries: before.tries, taken: before.taken } : { tries: 1, taken: 1 };
  switch (kind) {
    case 'patch':
      return { kind, ...tried };
    case 'borrowed':
      return { kind, from: [], x: 0, y: 0, ...tried };
    case 'photographed':
      return { kind, picture: null };
    default:
      return { kind };
  }
}

/** The recipe with a finished drawing in its plate. */
export function withPlateDrawing(recipe: Recipe, s: ViewState, drawing: Drawing): Recipe {
  return editPlate(recipe, (plate) => {
    const region = regionOf(s, drawing) as Plate['parts'][number]['region'];
    switch (s.plateTool) {
      case 'add':
      case 'take':
        return { ...plate, regions: [...plate.regions, { how: s.plateTool, region }] };
      case 'part':
        return { ...plate, parts: [...plate.parts, { region, fill: { kind: 'smooth' } }] };
      case 'borrow': {
        const fill = newFill('borrowed', plate.fill as Fill) as Extract<Plate['fill'], { kind: 'borrowed' }>;
        return { ...plate, fill: { ...fill, from: [...fill.from, region] } };
      }
      case 'move':
        return { ...plate, moves: [...plate.moves, { region, x: 0, y: 0, size: 1, feather: 8 }] };
      case 'retouch': {
        const stroke = retouchOf(s, drawing);
        return stroke ? { ...plate, retouch: [...plate.retouch, stroke as Plate['retouch'][number]] } : plate;
      }
      case 'look':
        return plate;
    }
  });
}

/** The recipe with its plate changed. */
export function editPlate(recipe: Recipe, change: (plate: Plate) => Plate): Recipe {
  return editSubject(recipe, (s) => ({ ...s, plate: change(s.plate) }));
}

/** The plate filled again just in one place, by patches of another seed. */
export function withReseed(plate: Plate, place: { x: number; y: number; width: number; height: number }): Plate {
  const rim = 6;
  const [left, top] = [place.x - rim, place.y - rim];
  const [right, bottom] = [place.x + place.width + rim, place.y + place.height + rim];
  const points: [number, number][] = [[left, top], [right, top], [right, bottom], [left, bottom]]; // prettier-ignore
  const taken = 2 + plate.parts.length;
  return {
    ...plate,
    parts: [...plate.parts, { region: { radius: 1, filled: true, points }, fill: { kind: 'patch', tries: taken, taken } }],
  };
}
