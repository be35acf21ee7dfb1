import { inArenaNow } from '../../runtime/arena';
import type { Context } from '../../runtime/context';
import { copyOf, sharedBytes, sharedFloats, parallelFor, type Kernel } from '../../runtime/parallelFor';
import { differing, indicesWhere, placesOf } from '../../raster/mask';
import { fitColourModel, numbersAPart, seenFeatures, type Features } from './colourModel';
import { evidenceEnd } from './evidence';

/** Distance of the tiles' middles, and how far from its middle a tile looks for colours, px. */
const pitch = 40;
const reach = 60;
/** Components of each side of a tile. */
const partsASide = 3;
const numbersASide = numbersAPart * partsASide;
/** Tiles learn from one pixel in so many. */
const lattice = 10;
/** Pixels of each side that a tile must have seen. */
const enough = 12;
/** How much what is learnt around counts; the rest is what is known of the whole picture. */
const share = 0.7;

/** What a pixel's colour is learnt for; 0 for nobody. */
const forOutside = 1;
const forInside = 2;

/** Colours learnt tile by tile along a border, and from what. */
export interface LocalColours {
  /** 0, `forOutside` or `forInside` a pixel. */
  source: Uint8Array;
  /** 1 for each tile whose models are there. */
  learnt: Uint8Array;
  /** What the tiles around a pixel say, by how near each is, and how near they are together; where `asked`. */
  told: Float32Array;
  weight: Float32Array;
  asked: Uint8Array;
  /** The numbers of both sides' components, inside first, `NaN` beyond the last; a tile after the other. */
  parts: Float64Array;
}

interface LearnJob {
  lab: Features;
  source: Uint8Array;
  /** The tiles to be learnt. */
  tiles: Int32Array;
  parts: Float64Array;
}

/** Learns the models of one tile after the other, each from about one in ten of the pixels around its middle. */
export const learnTiles: Kernel<LearnJob> = {
  name: 'learnTiles',
  begin({ lab, source, tiles, parts }) {
    const { width, height } = lab;
    const across = tilesAlong(width);
    return (i) => {
      const tile = tiles[i];
      const x0 = middleOf(tile % across) - reach;
      const y0 = middleOf(Math.floor(tile / across)) - reach;
      const seen: number[][] = [[], [], []];
      for (let y = Math.max(0, y0); y < Math.min(height, y0 + 2 * reach); y++) {
        // A lattice that belongs to the picture, not to the tile.
        let x = Math.max(0, x0);
        x += (2 * lattice - ((x + 3 * y) % lattice)) % lattice;
        for (; x < Math.min(width, x0 + 2 * reach); x += lattice) seen[source[y * width + x]].push(y * width + x);
      }
      const room = parts.subarray(2 * numbersASide * tile, 2 * numbersASide * (tile + 1)).fill(NaN);
      if (seen[forInside].length < enough || seen[forOutside].length < enough) return;
      room.set(fitColourModel(lab, seen[forInside], partsASide).parts);
      room.set(fitColourModel(lab, seen[forOutside], partsASide).parts, numbersASide);
    };
  },
};

interface AskJob {
  lab: Features;
  /** The pixels that ask. */
  asking: Int32Array;
  parts: Float64Array;
  told: Float32Array;
  weight: Float32Array;
}

/** Pixels that a thread takes at a time. */
const stretch = 2048;

/** Asks the four tiles around each pixel, who count by how near they are. */
export const askTiles: Kernel<AskJob> = {
  name: 'askTiles',
  begin({ lab, asking, parts, told, weight }) {
    const { width } = lab;
    return (part) => {
      const own = asking.subarray(part * stretch, (part + 1) * stretch);
      const n = own.length;
      inArenaNow((arena) => {
        const asked = (plane: Float32Array): Float32Array => {
          const colour = new Float32Array(n);
          for (let i = 0; i < n; i++) colour[i] = plane[own[i]];
          return colour;
        };
        const colours = arena.copiesIn(asked(lab.l), asked(lab.a), asked(lab.b));
        const answers = arena.allocs(4 * n, 4 * n);
        const tiles = arena.copyIn(parts);
        arena.run.askTiles(n, arena.copyIn(own), ...colours, width, pitch, tilesAlong(width), tiles, partsASide, evidenceEnd, ...answers);
        [told, weight].forEach((plane, k) => {
          const answer = new Float32Array(n);
          arena.copyOut(answers[k], answer);
          for (let i = 0; i < n; i++) plane[own[i]] = answer[i];
        });
      });
    };
  },
};

/** Tiles in a row or column: the first middle lies half a pitch before the first pixel, the last beyond the last one. */
function tilesAlong(length: number): number {
  return Math.floor((length - 1) / pitch + 0.5) + 2;
}

function middleOf(tile: number): number {
  return tile * pitch - pitch / 2;
}

/**
 * Evidence of colour near a border, drawn towards what colours say that lie around: the same grey may be wool here and wall
 * there. Each tile of the picture learns both sides' colours from what lies farther from the border within sixty pixels.
 *
 * @param evidence what is known from the whole picture, as `colourEvidence` gives it
 * @param border 1 inside, else 0; 1 where the border may be; the marks' codes. Learnt from is what is not near, or marked inside or outside
 * @param last what was learnt on the same picture; only where its colours were others it is learnt again, for the same answer
 * @returns the evidence, drawn where `near`, and what to give next time
 * @throws AbortError
 */
export async function drawnToSurroundings(
  evidence: Float32Array,
  { label, near, seeds }: { label: Uint8Array; near: Uint8Array; seeds: Uint8Array },
  lab: Features,
  context: Context,
  last?: LocalColours,
): Promise<{ drawn: Float32Array; colours: LocalColours }> {
  const { width, height } = lab;
  const across = tilesAlong(width);
  const count = across * tilesAlong(height);
  const source = sharedBytes(width * height, context);
  inArenaNow((arena) => {
    const sources = arena.alloc(source.length);
    arena.run.sourcesOf(source.length, arena.copyIn(near), arena.copyIn(seeds), arena.copyIn(label), sources);
    arena.copyOut(sources, source);
  });
  const parts = new Float64Array(sharedBytes(8 * 2 * numbersASide * count, context).buffer);
  const told = sharedFloats(width * height, context);
  const weight = sharedFloats(width * height, context);
  const learnt = new Uint8Array(count);
  if (last) {
    parts.set(last.parts);
    told.set(last.told);
    weight.set(last.weight);
    learnt.set(last.learnt);
    const others = differing({ codes: source, numbers: weight }, { codes: last.source, numbers: weight });
    for (const p of placesOf(others)) forget(learnt, p % width, Math.floor(p / width), across);
  }
  const along = placesOf(near);
  const tileOf = new Int32Array(along.length);
  inArenaNow((arena) => {
    const out = arena.alloc(tileOf.byteLength);
    arena.run.tilesOf(along.length, arena.copyIn(along), width, pitch, across, out);
    arena.copyOut(out, tileOf);
  });
  /** 1 for each tile that has pixels to tell of in the square from its middle to the next ones. */
  const wanted = new Uint8Array(count);
  for (let i = 0; i < along.length; i++) wanted[tileOf[i]] = 1;
  const tiles = indicesWhere(
    count,
    (t) => !learnt[t] && Boolean(wanted[t] || wanted[t - 1] || wanted[t - across] || wanted[t - across - 1]),
  );
  const seen = seenFeatures({ width, height, l: lab.l, a: lab.a, b: lab.b }, context);
  await parallelFor(learnTiles, { lab: seen, source, tiles, parts }, tiles.length, context);
  for (const t of tiles) learnt[t] = 1;
  /** 1 for each square from a tile's middle to the next ones around which something was learnt. */
  const stale = new Uint8Array(count);
  for (const t of tiles) for (const q of [t, t - 1, t - across, t - across - 1]) if (q >= 0) stale[q] = 1;
  const asking = new Int32Array(along.length);
  let asked = 0;
  for (let i = 0; i < along.length; i++) {
    const p = along[i];
    if (!last?.asked[p] || stale[tileOf[i]]) asking[asked++] = p;
  }
  const job: AskJob = { lab: seen, asking: asking.subarray(0, asked), parts, told, weight };
  await parallelFor(askTiles, job, Math.ceil(asked / stretch), context);
  const drawn = copyOf(evidence);
  for (let i = 0; i < along.length; i++) {
    const p = along[i];
    drawn[p] += share * (told[p] - weight[p] * drawn[p]);
  }
  return { drawn, colours: { source, learnt, parts, told, weight, asked: near } };
}

/** Takes back what the tiles have learnt that look at this pixel. */
function forget(learnt: Uint8Array, x: number, y: number, across: number): void {
  const first = (at: number): number => Math.max(0, Math.ceil((at - reach) / pitch + 0.5));
  const last = (at: number): number => Math.floor((at + reach) / pitch + 0.5);
  for (let ty = first(y); ty <= last(y); ty++) {
    for (let tx = first(x); tx <= Math.min(across - 1, last(x)); tx++) {
      const tile = ty * across + tx;
      if (tile < learnt.length) learnt[tile] = 0;
    }
  }
}
