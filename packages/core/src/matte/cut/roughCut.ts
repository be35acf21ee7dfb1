import { bytesFrom, inArena, inArenaNow } from '../../runtime/arena';
import { pause, type Context } from '../../runtime/context';
import { components } from '../../raster/components';
import { grownMask } from '../../raster/morphology';
import { sidesOf, type ColourModel, type Features } from './colourModel';
import { contoursOf } from './contours';
import { colourEvidence } from './evidence';
import { drawnToSurroundings, type LocalColours } from './localEvidence';
import { closesSubject, markedInside, markedOutside, rasterMarks, type Mark } from './marks';
import { cutAt, type GraphAt, type PixelGraph } from './minimumCut';
import { chanceOfInside, walkGraphOf, type Ties, type WalkGraph } from './randomWalk';
import { apartInColour, regionsOf } from './regions';
import { withSides } from './trace';
import { contrastSteepness, WholeGraph } from './wholeGraph';
import { indicesWhere } from '../../raster/mask';
import { placesBetween } from '../../raster/resize';

/** A first separation, hard. */
export interface RoughCut {
  /** 1 where the subject is thought to be, else 0. */
  label: Uint8Array;
  width: number;
  height: number;
  /** The marks' codes at its size. */
  seeds: Uint8Array;
  inside: ColourModel;
  outside: ColourModel;
  /** What colour alone says, and 1 where it was asked. */
  evidence?: { colour: Float32Array; asked: Uint8Array };
  /** 1 on thin parts that the cut has left out, and where slits that it has closed may be. */
  thin?: { parts: Uint8Array; slits: Uint8Array };
}

/** How much the log odds of a walker's chance count beside a colour's evidence, and how far they go. */
const chanceWeight = 2;
const chanceEnd = 3;
/** Colours are learnt from what a walker almost surely is caught by. */
const almostSure = 0.8;
/** What holds a marked region to its side, a pixel of the picture's rim to the outside, and any region. */
const markTie = 1000;
const rimTie = 0.3;
const plainTie = 0.05;
/** So few pixels of a mark, and so small a share of a region, say nothing of the region: a fine tip ends at its rim. */
const fewPixels = 8;
const fewOfRegion = 0.01;
/** What holds a region within a loop to the inside while nothing is marked there, and how unlike the loop's surroundings it must be. */
const loopTie = 3;
const unlikeLoop = 0.06;

const likeliest = 0.98;

/** Half-width, in pixels, of the narrow band in which a larger picture's cut may differ from the smaller one's. */
const narrowBand = 5;

/** What cuts of one picture have in common, and what the last one left for the next to begin with. */
export interface CutMemory extends RibbonMemory {
  /** The smallest level's graph. */
  whole: WholeGraph;
  /** A walker's ways over its regions. */
  walk: WalkGraph;
}

/** What cuts along a border have in common. */
export interface RibbonMemory {
  /** How much a difference of neighbours counts, by level. */
  steepness: number[];
  /** The last ribbons, by level. */
  ribbons: (Ribbon | undefined)[];
}

/** What is known of a picture before anything is marked on it, as from another frame of a clip. */
export interface Prior {
  /** Evidence for inside (positive) a pixel of the smallest level, in the colour models' units. */
  place: Float32Array;
}

/** Where a cut along a border is free, and evidence for inside beside that of colour; both of the level's size. */
export interface Freedom {
  near: Uint8Array;
  evidence: Float32Array;
}

/** A narrow band that has been cut. */
interface Ribbon {
  /** The node of each pixel of the level, or −1. */
  node: Int32Array;
  graph: Pick<PixelGraph, 'beside' | 'pairwise'>;
  /** What colours along it were learnt to say. */
  colours: LocalColours;
}

/** A memory without a cut in it yet. @throws AbortError */
export async function cutMemory(levels: Features[], context: Context): Promise<CutMemory> {
  const [lab] = levels;
  const steepness = levels.map(contrastSteepness);
  const contours = await contoursOf(lab, context);
  const regions = regionsOf(lab, contours);
  await pause(context);
  const walk = walkGraphOf(regions, Math.max(lab.width, lab.height));
  await pause(context);
  return { whole: new WholeGraph(lab, steepness[0], contours), walk, steepness, ribbons: [] };
}

/**
 * Where the subject is. A walker over the picture's regions is caught by inside marks or by outside marks: its chance says what place
 * and contours say (Grady 2006). Mixtures of Gaussians say what colours say, learnt from where that chance is almost sure. A minimum cut
 * over contours brings both together (Boykov & Jolly 2001). Marks are hard. The picture's rim is weakly outside.
 *
 * The first of `levels` is cut whole, each larger one only in a narrow band along the border found before
 * (Lombaert et al. 2005). All levels show the same picture, smallest first.
 *
 * @param scales pixels of each level per pixel of the full-size shot, for the marks
 * @param memory of the same levels; whatever is in it, the answer is the same
 * @param prior what is known besides the marks
 * @throws AbortError
 */
export async function roughCut(
  levels: Features[],
  scales: number[],
  marks: readonly Mark[],
  context: Context,
  memory?: CutMemory,
  prior?: Prior,
): Promise<RoughCut> {
  memory ??= await cutMemory(levels, context);
  const lab = levels[0];
  const { width, height } = lab;
  const n = width * height;
  const { walk } = memory;
  const { region } = walk.regions;
  const chance = chanceOfInside(walk, tiesOf(walk, rasterMarks(marks, width, height, scales[0]), marks));
  // Within a loop and without inside marks nobody is surely inside: the likeliest are taken for it.
  if (!marks.some((m) => closesSubject(m) && m.kind !== 'loop')) raise(chance, likeliest);
  // What is traced has a side that is more likely inside, and is marked from here on.
  const chanceAt = (x: number, y: number): number => chance[region[y * width + x]];
  marks = withSides(marks, { width, height, scale: scales[0], chanceAt });
  const seeds = rasterMarks(marks, width, height, scales[0]);
  const place = new Float32Array(n);
  for (let p = 0; p < n; p++) {
    const c = Math.min(1 - 1e-6, Math.max(1e-6, chance[region[p]]));
    place[p] = chanceWeight * Math.max(-chanceEnd, Math.min(chanceEnd, Math.log(c / (1 - c)))) + (prior?.place[p] ?? 0);
  }
  await pause(context);
  const sure = (code: number, likely: (c: number) => boolean): Int32Array =>
    indicesWhere(n, (p) => seeds[p] === code || (seeds[p] === 0 && likely(chance[region[p]])));
  const models = await sidesOf(
    lab,
    sure(markedInside, (c) => c > almostSure),
    sure(markedOutside, (c) => c < 1 - almostSure),
    context,
  );
  const whole = await memory.whole.cut(seeds, await colourEvidence(lab, models, context), place, context);
  const looped = marks.some((m) => m.kind === 'loop');
  const label = dropUnmarked(whole, seeds, width, height, looped);
  const colour: Features = { width, height, l: lab.l, a: lab.a, b: lab.b };
  const sides = await sidesOf(colour, agreed(label, seeds, 1, markedInside), agreed(label, seeds, 0, markedOutside), context);
  let cut: RoughCut = { label, width, height, seeds, ...sides };
  for (let i = 1; i < levels.length; i++) {
    const larger = rasterMarks(marks, levels[i].width, levels[i].height, scales[i]);
    cut = await cutNarrowBand(cut, levels[i], larger, memory, i, context);
  }
  return cut;
}

/** Raises chances so that the greatest is as great as asked. */
function raise(chance: Float64Array, to: number): void {
  const most = chance.reduce((a, b) => Math.max(a, b), 0);
  if (most > 0) for (let r = 0; r < chance.length; r++) chance[r] *= to / most;
}

/** What marks and the picture's rim hold each region to. */
function tiesOf({ regions }: WalkGraph, seeds: Uint8Array, marks: readonly Mark[]): Ties {
  const { count, region, area, rim } = regions;
  const [inside, outside] = [new Float64Array(count), new Float64Array(count)];
  for (let p = 0; p < seeds.length; p++) {
    if (seeds[p] === markedInside) inside[region[p]]++;
    else if (seeds[p] === markedOutside) outside[region[p]]++;
  }
  const ring = marks.some((m) => m.kind === 'loop') ? indicesWhere(count, (r) => outside[r] > 0 && outside[r] < area[r]) : [];
  for (let r = 0; r < count; r++) {
    if (saysNothing(inside[r], area[r])) inside[r] = 0;
    if (saysNothing(outside[r], area[r])) outside[r] = 0;
    const marked = inside[r] + outside[r];
    const reach = Math.sqrt(area[r]);
    const looped = ring.length > 0 && marked === 0;
    inside[r] = marked > 0 ? (markTie * reach * inside[r]) / marked : looped ? loopTie * reach * unlikeness(r) : 0;
    outside[r] = (marked > 0 ? (markTie * reach * outside[r]) / marked : 0) + rimTie * rim[r] + (looped ? 0 : plainTie * reach);
  }
  return { inside, outside };

  /** How unlike what lies along the loop a region is, 0 to 1. */
  function unlikeness(r: number): number {
    let alike = 0;
    for (const q of ring) alike = Math.max(alike, Math.exp(-apartInColour(regions, r, q) / (2 * unlikeLoop ** 2)));
    return 1 - alike;
  }
}

/** Whether a mark covers too little of a region to speak for it. */
function saysNothing(marked: number, area: number): boolean {
  return marked < fewPixels && marked < fewOfRegion * area;
}

/** Pixels that the cut and the marks agree on; the narrow band’s models are learnt from them. */
function agreed(label: Uint8Array, seeds: Uint8Array, wanted: number, code: number): Int32Array {
  return inArenaNow((arena) => {
    const out = arena.alloc(4 * label.length);
    const places = new Int32Array(arena.run.agreedPlaces(label.length, arena.copyIn(label), arena.copyIn(seeds), wanted, code, out));
    arena.copyOut(out, places);
    return places;
  });
}

/**
 * Whatever no inside mark touches is not subject, however alike it looks. Within a loop, and where nothing is marked inside, only what is
 * much smaller than the largest part is dropped.
 */
function dropUnmarked(label: Uint8Array, seeds: Uint8Array, width: number, height: number, looped: boolean): Uint8Array {
  const found = components(label, width, height);
  const kept = new Uint8Array(found.area.length);
  for (let p = 0; p < seeds.length; p++) if (seeds[p] === markedInside) kept[found.label[p]] = 1;
  if (looped || !kept.includes(1)) {
    const largest = Math.max(...found.area.slice(1), 0);
    for (let i = 1; i < kept.length; i++) if (found.area[i] >= largest / 5) kept[i] = 1;
  }
  for (let p = 0; p < label.length; p++) if (label[p] === 1 && kept[found.label[p]] === 0) label[p] = 0;
  return label;
}

/**
 * The cut again on a larger picture, free only near the border of the smaller one's and where marks disagree, or where it is said. It
 * begins with what flowed in the level's last narrow band wherever that is part of the new one.
 */
export async function cutNarrowBand(
  small: RoughCut,
  lab: Features,
  seeds: Uint8Array,
  { steepness, ribbons }: RibbonMemory,
  level: number,
  context: Context,
  freedom?: Freedom,
): Promise<RoughCut> {
  const { width, height } = lab;
  const n = width * height;
  const label = enlarge(small, width, height);
  inArenaNow((arena) => {
    const marked = arena.copyIn(label);
    arena.run.markLabel(n, arena.copyIn(seeds), marked);
    arena.copyOut(marked, label);
  });
  const near = freedom?.near ?? grownMask(borderOf(label, width, height), width, height, narrowBand);
  const last = ribbons[level];
  const colour = await colourEvidence(lab, small, context, near);
  const { drawn, colours } = await drawnToSurroundings(colour, { label, near, seeds }, lab, context, last?.colours);
  if (freedom) for (let p = 0; p < n; p++) drawn[p] += freedom.evidence[p];
  const { node, graph } = await inArena(async (arena) => {
    const { run } = arena;
    const nodes = arena.alloc(4 * n);
    const count = run.numberPixels(arena.copyIn(near), n, nodes);
    const [l, a, b] = arena.copiesIn(lab.l, lab.a, lab.b);
    const at: GraphAt = {
      count,
      beside: arena.filled(32 * count, 255),
      pairwise: arena.filled(32 * count),
      unary: arena.filled(4 * count),
    };
    const before = last ? arena.copiesIn(last.node, last.graph.beside, last.graph.pairwise) : ([0, 0, 0] as const);
    const labels = arena.copyIn(label);
    run.pairwiseOn(l, a, b, steepness[level], 0, 0);
    run.joinNarrowBand(width, height, labels, arena.copyIn(seeds), arena.copyIn(drawn), nodes, at.beside, at.pairwise, at.unary, ...before);
    run.takeSides(n, nodes, await cutAt(arena, at, context), labels);
    arena.copyOut(labels, label);
    const narrowBand = { node: new Int32Array(n), graph: { beside: new Int32Array(8 * count), pairwise: new Int32Array(8 * count) } };
    arena.copyOut(nodes, narrowBand.node);
    arena.copyOut(at.beside, narrowBand.graph.beside);
    arena.copyOut(at.pairwise, narrowBand.graph.pairwise);
    return narrowBand;
  });
  ribbons[level] = { node, graph, colours };
  return { ...small, label, width, height, seeds, evidence: { colour, asked: near } };
}

/** A hard separation at another size, its border smoothed by interpolation. */
export function enlarge(cut: { label: Uint8Array; width: number; height: number }, width: number, height: number): Uint8Array {
  const { label } = cut;
  const { left, share } = placesBetween(cut.width, width);
  return bytesFrom(width * height, (arena, out) => {
    const places = arena.copiesIn(left, share);
    arena.run.enlargeLabel(arena.copyIn(label), cut.width, cut.height, ...places, width, height, arena.alloc(cut.width), out);
  });
}

/** 1 on every pixel with a neighbour, to the right or below or the other way about, on the other side. */
export function borderOf(label: Uint8Array, width: number, height: number): Uint8Array {
  return bytesFrom(width * height, (arena, out) => arena.run.borderOf(arena.copyIn(label), width, height, out));
}
