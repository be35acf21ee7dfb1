import { pause, type Context } from '../runtime/context';
import { components } from '../raster/components';
import { distanceTo } from '../raster/distance';
import { maskAt, maskOf } from '../raster/mask';
import { encodedQuickly } from '../colour/srgb';
import { assertSameSize, type Picture, type Plane } from '../raster/plane';
import { resizePicture, resizePlane, scaledSize } from '../raster/resize';
import { residueKinds, type ResidueKind } from './residueKinds';
import { outlineOf } from './outlineRings';
import { mirrorBelow } from './residueMirror';
import { look, placesFor, sceneOf } from './residueParts';
import { strandsBeside } from './residueStrands';
import { canTell, hasRim, lookedAt, shadeBeside } from './residueTone';

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
  /** What each pixel is: 0 nothing that is left, else a place in `residueKinds` and one; at the shot's size. */
  kind: Uint8Array;
  /** Kinds that are clearly there. */
  clear: readonly ResidueKind[];
  /** Length of the matte's outline, px of the shot; nothing when there is too little ground beside it to tell anything. */
  outline: number | undefined;
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
/** So far from the matte it is looked for, px of a shot 1200 px long. */
const outlineReach = 46;
const doing = 'Looking for what is left';
/** So much of parts that the matte lacks for each pixel of outline is something, px of a shot 1200 px long, if it is also so many times what is found by chance. */
const partsEnough = 0.12;
const partsBeyondChance = 2.5;
/** Shadows and reflections belong to the ground: they are told, and not swallowed. */
export const ofGround: readonly ResidueKind[] = ['shade', 'mirror'];
/** What is left is swallowed with so much around it, px of a shot of the usual size. */
const swallowed = 2;

/**
 * What of the subject is left in the ground beside its matte. Five looks, each of which knows what chance gives:
 * a soft or smeared rim and a contact shadow stand out from a ring farther out, all along the outline or along a whole side of it
 * (`residueTone`); single strands are more than the clutter farther out lets expect (`residueStrands`); a reflection is alike the
 * subject turned upside down, more than the same moved sideways (`residueMirror`); a part that the matte lacks has no contour towards
 * it, more often than the same outline laid over ground alone (`residueParts`).
 *
 * @throws RangeError when sizes differ; AbortError
 */
export async function residueOf(shot: Picture, matte: Plane, context: Context): Promise<Residue> {
  assertSameSize(shot, matte, 'looking for what is left of the subject');
  const whole = { width: matte.width, height: matte.height };
  const size = scaledSize(whole.width, whole.height, Math.min(1, workSide / Math.max(whole.width, whole.height)));
  const small = resizePicture(shot, size.width, size.height);
  const cover = resizePlane(matte, size.width, size.height);
  const codes = [small.r, small.g, small.b].map((data) => data.map((v) => encodedQuickly(v)));
  const outline = outlineOf(cover, outlineReach);
  const looked = lookedAt(small, codes, cover, outline);
  if (!canTell(looked)) return notLookedFor(whole);
  const kind = new Uint8Array(size.width * size.height);
  const clear: ResidueKind[] = [];
  const mark = (name: ResidueKind, mask: Uint8Array | undefined): void => {
    if (!mask) return;
    const code = residueKinds.indexOf(name) + 1;
    for (let p = 0; p < mask.length; p++) if (mask[p] === 1) kind[p] = code;
    clear.push(name);
  };
  const isRimmed = hasRim(looked);
  // A soft rim of a dark subject is dark towards it as well.
  if (!isRimmed) mark('shade', shadeBeside(looked));
  await pause(context, doing, 0.2);
  mark('mirror', mirrorBelow(looked));
  mark('strand', strandsBeside(looked));
  await pause(context, doing, 0.4);
  const scene = sceneOf(codes, cover);
  const own = look(scene, 0, 0);
  if (isRimmed) mark('rim', own.rim);
  const shifts = own.parts > partsEnough * scene.unit ? placesFor(scene) : [];
  let chance = 0;
  for (const [i, [dx, dy]] of shifts.entries()) {
    await pause(context, doing, 0.5 + (0.5 * i) / shifts.length);
    chance += look(scene, dx, dy).parts / shifts.length;
  }
  if (shifts.length > 0 && own.parts > partsBeyondChance * chance) mark('part', own.part);
  return {
    kind: maskAt(kind, size.width, size.height, whole.width, whole.height),
    clear,
    outline: (own.outline * whole.width) / size.width,
  };
}

/** Nothing known of what is left: the ground itself is known. */
export function notLookedFor({ width, height }: { width: number; height: number }): Residue {
  return { kind: new Uint8Array(width * height), clear: [], outline: undefined };
}

/** The hole with all in it that is clearly left of the subject. @param scale pixels of it per pixel of a picture of the usual size */
export function swallowing(hole: Plane, { kind }: Residue, scale: number): Plane {
  const kept = [0, ...ofGround.map((name) => residueKinds.indexOf(name) + 1)];
  return takingIn(
    hole,
    maskOf(kind, (k) => !kept.includes(k)),
    scale,
  );
}

/** The hole with a mask in it, and a little around. @param scale as for `swallowing` */
export function takingIn(hole: Plane, mask: Uint8Array, scale: number): Plane {
  if (!mask.includes(1)) return hole;
  const reach = swallowed * scale;
  const away = distanceTo(mask, hole.width, hole.height, reach + 1).data;
  return { ...hole, data: hole.data.map((h, p) => Math.max(h, Math.min(1, Math.max(0, reach + 1 - away[p])))) };
}

/** What of the subject is left where a hole does not reach. */
export function leftOutside(residue: Residue, hole: Plane, scale: number): Left {
  const kept = (p: number): boolean => hole.data[p] < 0.5;
  const places = residuePlaces(residue.kind, hole, kept, scale);
  const area = places.reduce((sum, p) => sum + p.area, 0);
  return { ...(residue.outline !== undefined && { width: (area * scale) / Math.max(1, residue.outline) }), places: places.slice(0, 40) };
}

/** Places of what is left where it is kept, the largest first. */
function residuePlaces(kind: Uint8Array, { width, height }: Plane, kept: (p: number) => boolean, scale: number): ResiduePlace[] {
  const mask = maskOf(kind, (k, p) => k > 0 && kept(p));
  const { label, area } = components(mask, width, height);
  const sums = area.map(() => ({ x: 0, y: 0, kinds: residueKinds.map(() => 0) }));
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
