import { weightOf } from '../raster/mask';
import { inArena } from '../runtime/arena';
import { pause, type Context } from '../runtime/context';
import { hashed, indicesOf } from './nearestPatches';
import { comparing, patchArea, type PatchLevel } from './patchLevel';

/** How much luck changes what a source costs, as a squared code difference a pixel: it makes one try differ from another. */
const luck = 60;
/** Side of the squares that share their luck, px. */
const square = 8;
/** So many patches are filled between two looks at whether the work is still wanted. */
const atOnce = 32;

/**
 * A first filling from the rim inwards, patch by patch: first where much around is known and where a line meets the rim, so that
 * lines run on into the hole (Criminisi et al. 2004). Writes the level's colours and codes.
 *
 * @returns for each invented pixel where it was copied from, -1 elsewhere
 * @throws AbortError
 */
export async function continueLines(level: PatchLevel, seed: number, context: Context): Promise<Int32Array> {
  const { open, colour } = level;
  const from = new Int32Array(open.length).fill(-1);
  const { rows, places, lots } = triedSources(level, seed);
  await inArena(async (arena) => {
    const { run } = arena;
    const { codes } = comparing(arena, level);
    const copied = arena.copyIn(from);
    const sure = arena.copyIn(weightOf(open, (o) => o === 0));
    const room = arena.filled(9 * open.length + 256);
    run.linesBegin(arena.copyIn(open), sure, copied, arena.copyIn(rows), arena.copyIn(places), arena.copyIn(lots), room);
    const all = open.reduce((sum, o) => sum + o, 0);
    for (let left = all; left > 0; left = run.linesGrow(atOnce)) await pause(context, 'Continuing lines', 1 - left / all);
    arena.copyOut(copied, from);
    arena.copyOut(codes, level.codes);
  });
  for (let p = 0; p < from.length; p++) {
    if (from[p] < 0) continue;
    // What may be copied has nothing invented in it.
    for (const plane of [colour.r, colour.g, colour.b]) plane[p] = plane[from[p]];
  }
  return from;
}

/** A quarter of what may be copied, row by row, and what luck adds to the cost of each. */
function triedSources({ width, height, source }: PatchLevel, seed: number): { rows: Int32Array; places: Int32Array; lots: Float64Array } {
  const places = indicesOf(source).filter((q) => ((q % width) + 2 * Math.floor(q / width) + seed) % 4 === 0);
  const rows = new Int32Array(height + 1);
  for (const q of places) rows[Math.floor(q / width) + 1]++;
  for (let y = 0; y < height; y++) rows[y + 1] += rows[y];
  const lots = Float64Array.from(places, (q) => {
    const [x, y] = [q % width, Math.floor(q / width)];
    return (luck * patchArea * hashed(Math.floor(x / square), Math.floor(y / square), seed, 5)) / 0x100000000;
  });
  return { rows, places, lots };
}
