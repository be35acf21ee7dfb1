import { bytesFrom, inArena, inArenaNow } from '../context/compiled';
import type { Context } from '../context/context';
import { components } from '../raster/components';
import { grownMask } from '../raster/morphology';
import { sidesOf, type ColourModel, type Features } from './colourModel';
import { colourEvidence } from './evidence';
import { drawnToSurroundings, type LocalColours } from './localEvidence';
import { geodesicWays, type Ways } from '../colour/geodesic';
import { markedEdge, markedInside, markedOutside, rasterMarks, type Mark } from './marks';
import { cutAt, type GraphAt, type PixelGraph } from './minimumCut';
import { contrastSteepness, WholeGraph } from './wholeGraph';
import { indicesWhere, maskOfCode, placesOf } from '../raster/mask';
import { placesBetween } from '../raster/resize';

/** A first separation, hard. */
export interface RoughCut {
  /** 1 where the subject is thought to be, else 0. */
  label: Uint8Array;
  width: number;
  height: number;
  /** The marks' codes at its size. */
  said: Uint8Array;
  inside: ColourModel;
  outside: ColourModel;
  /** What colour alone says along the border before, and 1 where it was asked. */
  evidence?: { colour: Float32Array; asked: Uint8Array };
}

/** Evidence for being nearer to inside than to outside marks, at most. */
const positionWeight = 6;
/** Head start of outside marks over the picture's rim. */
const rimCost = 0.2;
/** Toll on every step under an edge mark: the border runs there, so ways seldom cross it. */
const fence = 0.1;
/** Half-width, in pixels, of the ribbon in which a larger picture's cut may differ from the smaller one's. */
const ribbon = 5;

/** What cuts of one picture have in common, and what the last one left for the next to begin with. */
export interface CutMemory {
  /** The smallest level's graph for the first answer, and for the second once there was one. */
  first: WholeGraph;
  second?: WholeGraph;
  /** The ways from inside and from outside marks. */
  ways?: Ways[];
  /** How much a difference of neighbours counts, by level. */
  steepness: number[];
  /** The last ribbons, by level. */
  ribbons: (Ribbon | undefined)[];
}

/** A ribbon that has been cut. */
interface Ribbon {
  /** The node of each pixel of the level, or −1. */
  node: Int32Array;
  graph: Pick<PixelGraph, 'beside' | 'joint'>;
  /** What colours along it were learnt to say. */
  colours: LocalColours;
}

/** A memory without a cut in it yet. */
export function cutMemory(levels: Features[]): CutMemory {
  const steepness = levels.map(contrastSteepness);
  return { first: new WholeGraph(levels[0], steepness[0]), steepness, ribbons: [] };
}

/**
 * Where the subject is, by colour and place: mixtures of Gaussians learnt from the marks (and once more from
 * the first answer), a weak preference for the nearer mark, and a minimum cut on contrast-weighted neighbours
 * (Boykov & Jolly 2001; Rother et al. 2004). Marks are hard. Without outside marks the picture's rim is
 * taken for outside.
 *
 * The first of `levels` is cut whole, each larger one only in a ribbon along the border found before
 * (Lombaert et al. 2005). All levels show the same picture, smallest first.
 *
 * @param scales pixels of each level per pixel of the full-size shot, for the marks
 * @param memory of the same levels; whatever is in it, the answer is the same
 * @throws AbortError
 */
export async function roughCut(
  levels: Features[],
  scales: number[],
  marks: readonly Mark[],
  context: Context,
  memory = cutMemory(levels),
): Promise<RoughCut> {
  const lab = levels[0];
  const { width, height } = lab;
  const said = rasterMarks(marks, width, height, scales[0]);
  const insidePixels = indicesOf(said, markedInside);
  const outsidePixels = surelyOutside(said, width, height);
  const nearer = await placePreference(lab, said, insidePixels, outsidePixels, memory, context);
  const place = new Float32Array(nearer.length);
  for (let p = 0; p < place.length; p++) place[p] = positionWeight * nearer[p];
  const cutBy = async (graph: WholeGraph, inside: ArrayLike<number>, outside: ArrayLike<number>): Promise<Uint8Array> => {
    const models = await sidesOf(lab, inside, outside, context);
    const label = await graph.cut(said, await colourEvidence(lab, models, context), place, context);
    return dropUnmarked(label, said, width, height);
  };
  let label = await cutBy(memory.first, insidePixels, likelyOutside(said, nearer));
  memory.second ??= memory.first.twin();
  label = await cutBy(memory.second, agreed(label, said, 1, markedInside), agreed(label, said, 0, markedOutside));

  const colour: Features = { width, height, l: lab.l, a: lab.a, b: lab.b };
  const sides = await sidesOf(colour, agreed(label, said, 1, markedInside), agreed(label, said, 0, markedOutside), context);
  let cut: RoughCut = { label, width, height, said, ...sides };
  for (let i = 1; i < levels.length; i++) {
    const larger = rasterMarks(marks, levels[i].width, levels[i].height, scales[i]);
    cut = await cutRibbon(cut, levels[i], larger, memory, i, context);
  }
  return cut;
}

function indicesOf(codes: Uint8Array, code: number): Int32Array {
  return placesOf(maskOfCode(codes, code));
}

/** Marked outside; failing that, a rim of the picture of a fiftieth of its size where nothing else is said. */
function surelyOutside(said: Uint8Array, width: number, height: number): Int32Array {
  const marked = indicesOf(said, markedOutside);
  if (marked.length > 0) return marked;
  const rim = Math.max(1, Math.round(Math.min(width, height) / 50));
  const out: number[] = [];
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const near = Math.min(x, y, width - 1 - x, height - 1 - y);
      if (near < rim && said[y * width + x] === 0) out.push(y * width + x);
    }
  }
  return Int32Array.from(out);
}

/** Marked outside, and whatever is unmarked and much nearer to outside than to inside. */
function likelyOutside(said: Uint8Array, place: Float32Array): Int32Array {
  return indicesWhere(said.length, (p) => said[p] === markedOutside || (said[p] === 0 && place[p] < -0.3));
}

/** Pixels that the cut and the marks agree on; the models are learnt from them the second time. */
function agreed(label: Uint8Array, said: Uint8Array, wanted: number, code: number): Int32Array {
  return inArenaNow((arena) => {
    const out = arena.room(4 * label.length);
    const places = new Int32Array(arena.run.agreedPlaces(label.length, arena.put(label), arena.put(said), wanted, code, out));
    arena.take(out, places);
    return places;
  });
}

/**
 * −1 beside outside marks to 1 beside inside marks, by the cheaper way over the picture. The picture's rim, far
 * from any inside mark, counts as a weaker kind of outside.
 */
async function placePreference(
  lab: Features,
  said: Uint8Array,
  insidePixels: Int32Array,
  outsidePixels: Int32Array,
  memory: CutMemory,
  context: Context,
): Promise<Float32Array> {
  const { width, height } = lab;
  const n = width * height;
  const fromInside = new Float32Array(n).fill(Infinity);
  const fromOutside = new Float32Array(n).fill(Infinity);
  for (const p of insidePixels) fromInside[p] = 0;
  const close = grownMask(maskOfCode(said, markedInside), width, height, 0.12 * Math.max(width, height));
  const onRim = (p: number): void => {
    if (!close[p]) fromOutside[p] = rimCost;
  };
  for (let x = 0; x < width; x++) {
    onRim(x);
    onRim(n - 1 - x);
  }
  for (let p = 0; p < n; p += width) {
    onRim(p);
    onRim(p + width - 1);
  }
  for (const p of outsidePixels) fromOutside[p] = 0;
  const toll = new Float32Array(n);
  for (let p = 0; p < n; p++) if (said[p] === markedEdge) toll[p] = fence;
  memory.ways = await geodesicWays(lab, [fromInside, fromOutside], toll, context, memory.ways);
  const [toInside, toOutside] = memory.ways.map((w) => w.cost);
  const out = new Float32Array(n);
  for (let p = 0; p < n; p++) {
    const d = toInside[p];
    const e = toOutside[p];
    if (d === Infinity) out[p] = e === Infinity ? 0 : -1;
    else out[p] = e === Infinity ? 1 : (e - d) / (e + d + 1e-3);
  }
  return out;
}

/** Whatever no inside mark touches is not subject, however alike it looks. */
function dropUnmarked(label: Uint8Array, said: Uint8Array, width: number, height: number): Uint8Array {
  const found = components(label, width, height);
  const touched = new Uint8Array(found.area.length);
  for (let p = 0; p < said.length; p++) if (said[p] === markedInside) touched[found.label[p]] = 1;
  for (let p = 0; p < label.length; p++) if (label[p] === 1 && touched[found.label[p]] === 0) label[p] = 0;
  return label;
}

/**
 * The cut again on a larger picture, free only near the border of the smaller one's and where marks disagree. It begins with
 * what flowed in the level's last ribbon wherever that is part of the new one.
 */
async function cutRibbon(
  small: RoughCut,
  lab: Features,
  said: Uint8Array,
  { steepness, ribbons }: CutMemory,
  level: number,
  context: Context,
): Promise<RoughCut> {
  const { width, height } = lab;
  const n = width * height;
  const label = enlarge(small, width, height);
  inArenaNow((arena) => {
    const marked = arena.put(label);
    arena.run.markLabel(n, arena.put(said), marked);
    arena.take(marked, label);
  });
  const near = grownMask(borderOf(label, width, height), width, height, ribbon);
  const last = ribbons[level];
  const colour = await colourEvidence(lab, small, context, near);
  const { drawn, colours } = await drawnToSurroundings(colour, { label, near, said }, lab, context, last?.colours);
  const { node, graph } = await inArena(async (arena) => {
    const { run } = arena;
    const nodes = arena.room(4 * n);
    const count = run.numberPixels(arena.put(near), n, nodes);
    const [l, a, b] = [lab.l, lab.a, lab.b].map((plane) => arena.put(plane));
    const at: GraphAt = { count, beside: arena.filled(32 * count, 255), joint: arena.filled(32 * count), pull: arena.filled(4 * count) };
    const before = last ? [last.node, last.graph.beside, last.graph.joint].map((data) => arena.put(data)) : [0, 0, 0];
    const labels = arena.put(label);
    run.jointsOn(l, a, b, steepness[level]);
    run.joinRibbon(width, height, labels, arena.put(said), arena.put(drawn), nodes, at.beside, at.joint, at.pull, ...before);
    run.takeSides(n, nodes, await cutAt(arena, at, context), labels);
    arena.take(labels, label);
    const ribbon = { node: new Int32Array(n), graph: { beside: new Int32Array(8 * count), joint: new Int32Array(8 * count) } };
    arena.take(nodes, ribbon.node);
    arena.take(at.beside, ribbon.graph.beside);
    arena.take(at.joint, ribbon.graph.joint);
    return ribbon;
  });
  ribbons[level] = { node, graph, colours };
  return { ...small, label, width, height, said, evidence: { colour, asked: near } };
}

/** A hard separation at another size, its border smoothed by interpolation. */
export function enlarge(cut: { label: Uint8Array; width: number; height: number }, width: number, height: number): Uint8Array {
  const { label } = cut;
  const { left, share } = placesBetween(cut.width, width);
  return bytesFrom(width * height, (arena, out) => {
    const places = [arena.put(left), arena.put(share)];
    arena.run.enlargeLabel(arena.put(label), cut.width, cut.height, ...places, width, height, arena.room(cut.width), out);
  });
}

/** 1 on every pixel with a neighbour, to the right or below or the other way about, on the other side. */
export function borderOf(label: Uint8Array, width: number, height: number): Uint8Array {
  return bytesFrom(width * height, (arena, out) => arena.run.borderOf(arena.put(label), width, height, out));
}
