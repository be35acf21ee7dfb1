import { pause, type Context } from '../runtime/context';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { maskAt, maskOf } from '../raster/mask';
import { assertSameSize, makePlane, type Picture, type Plane } from '../raster/plane';
import { resizePicture, resizePlane, scaledSize } from '../raster/resize';
import { residueKinds, type ResidueKind } from './residueKinds';
import { look, placesFor, sceneOf } from './residueRings';

/** A place where something of the subject is left, px of the full-size shot. */
interface ResiduePlace {
  x: number;
  y: number;
  kind: ResidueKind;
  /** Area, px² of the full-size shot. */
  area: number;
}

/** What of the subject is left beside its matte. */
export interface Residue {
  /** 1 where something is left, of kinds that are found clearly more often than by chance; at the shot's size. */
  map: Plane;
  /** What each pixel is taken for: 0 nothing, else a place in `residueKinds` and one. Chance finds among them. */
  kind: Uint8Array;
  /** By kind: area found for each pixel of outline, px of a shot whose longest side is 1200. */
  found: number[];
  /** The same where the outline was laid over ground alone; nothing where there was no room to lay it. */
  chance?: number[];
  /** Length of the matte's outline, px of the shot. */
  outline: number;
}

/** What of it a hole does not swallow. */
export interface Left {
  /** Its mean width along the outline, px of the full-size shot; nothing when it cannot be told from what is there by chance. */
  width?: number;
  /** The largest places, largest first. */
  places: ResiduePlace[];
}

/** Longest side, px, at which it is looked for. */
const workSide = 900;
const doing = 'Looking for what is left';
/** By kind, so much of it for each pixel of outline is something, px, if it is also so many times what is found by chance. */
const enough = [0.15, 0.03, 0.012, 0.15];
const beyondChance = [1.6, 2.5, 1.8, 1.6];
/** What is left is swallowed with so much around it, px of the full-size shot. */
const swallowed = 2;

/**
 * What of the subject is left in the ground beside its matte: a soft or smeared rim, a part that the matte lacks, single strands,
 * its contact shadow. The ground is guessed from what lies farther away. In rings around the matte, and along the outline place by
 * place, it is measured how far the shot's colour has moved from that guess towards the subject beside it, or into the dark. What the
 * subject leaves falls off with the distance from it or has no contour towards it; what merely looks alike rarely does. How
 * rarely is measured with the same outline laid over ground alone.
 *
 * @throws RangeError when sizes differ; AbortError
 */
export async function residueOf(shot: Picture, matte: Plane, context: Context): Promise<Residue> {
  assertSameSize(shot, matte, 'looking for what is left of the subject');
  const whole = { width: matte.width, height: matte.height };
  const longest = Math.max(whole.width, whole.height);
  const size = scaledSize(whole.width, whole.height, Math.min(1, workSide / longest));
  const scene = sceneOf(resizePicture(shot, size.width, size.height), resizePlane(matte, size.width, size.height));
  await pause(context, doing, 0.2);
  const own = look(scene, 0, 0);
  const shifts = placesFor(scene);
  const chance = residueKinds.map(() => 0);
  for (const [i, [dx, dy]] of shifts.entries()) {
    await pause(context, doing, 0.3 + (0.7 * i) / shifts.length);
    look(scene, dx, dy).share.forEach((v, k) => (chance[k] += v / scene.unit / shifts.length));
  }
  const measured = { found: own.share.map((v) => v / scene.unit), ...(shifts.length > 0 && { chance }) };
  const clear = residueKinds.map((kind) => isClear(measured, kind));
  const map: Plane = { ...size, data: Float32Array.from(own.kind, (k) => (k > 0 && clear[k - 1] ? 1 : 0)) };
  return {
    ...measured,
    map: resizePlane(map, whole.width, whole.height),
    kind: maskAt(own.kind, size.width, size.height, whole.width, whole.height),
    outline: (own.outline * whole.width) / size.width,
  };
}

/** Nothing known of what is left: the ground itself is known. */
export function notLookedFor({ width, height }: { width: number; height: number }): Residue {
  const map = makePlane(width, height);
  return { map, kind: new Uint8Array(width * height), found: residueKinds.map(() => 0), outline: 0 };
}

/** Whether a kind is found clearly more often than by chance. */
export function isClear({ found, chance }: Pick<Residue, 'found' | 'chance'>, kind: ResidueKind): boolean {
  const i = residueKinds.indexOf(kind);
  return chance !== undefined && found[i] > enough[i] && found[i] > beyondChance[i] * chance[i];
}

/** The hole with all in it that is clearly left of the subject, shadows excepted: they belong to the ground. */
export function swallowing(hole: Plane, residue: Residue, scale: number): Plane {
  const { width, height } = hole;
  const shade = residueKinds.indexOf('shade') + 1;
  const left = maskOf(residue.map.data, (v, p) => v > 0.5 && residue.kind[p] !== shade);
  if (!left.includes(1)) return hole;
  const reach = swallowed * scale;
  const away = distanceTo(left, width, height, reach + 1).data;
  return { ...hole, data: hole.data.map((h, p) => Math.max(h, Math.min(1, Math.max(0, reach + 1 - away[p])))) };
}

/** What of the subject is left where a hole does not reach. */
export function leftOutside(residue: Residue, hole: Plane, scale: number): Left {
  const kept = (p: number): boolean => hole.data[p] < 0.5;
  const places = residuePlaces(residue, kept, scale);
  const area = places.reduce((sum, p) => sum + p.area, 0);
  return { ...(residue.chance && { width: (area * scale) / Math.max(1, residue.outline) }), places: places.slice(0, 40) };
}

/** Places of what is left where it is kept, the largest first. */
function residuePlaces({ map, kind }: Residue, kept: (p: number) => boolean, scale: number): ResiduePlace[] {
  const { width, height } = map;
  const mask = maskOf(map.data, (v, p) => v > 0.5 && kind[p] > 0 && kept(p));
  const { label, area } = components(mask, width, height);
  const sums = area.map(() => ({ x: 0, y: 0, kinds: [0, 0, 0, 0] }));
  for (let p = 0; p < label.length; p++) {
    if (label[p] === 0) continue;
    const s = sums[label[p]];
    s.x += p % width;
    s.y += Math.floor(p / width);
    s.kinds[kind[p] - 1]++;
  }
  const out: ResiduePlace[] = [];
  for (let i = 1; i < area.length; i++) {
    const { x, y, kinds } = sums[i];
    const most = kinds.indexOf(Math.max(...kinds));
    out.push({ x: (x / area[i] + 0.5) / scale, y: (y / area[i] + 0.5) / scale, kind: residueKinds[most], area: area[i] / scale ** 2 });
  }
  return out.sort((a, b) => b.area - a.area);
}
