import { code } from './code';

/** Arrays that compiled code works on. */
export type Numbers = Uint8Array | Int8Array | Int16Array | Int32Array | Float32Array | Float64Array;

/** What the compiled code offers; addresses are in bytes, all else are numbers of what is there. */
interface Functions {
  memory: WebAssembly.Memory;
  cutRoom(nodes: number): number;
  cutBegin(nodes: number, beside: number, pairwise: number, unary: number, room: number): void;
  cutGrow(rounds: number): number;
  cutSides(out: number): void;
  evidence(n: number, ...places: number[]): void;
  colourLines(width: number, height: number, ...places: number[]): void;
  smoothLines(width: number, height: number, ...places: number[]): void;
  carryKinds(width: number, ...places: number[]): void;
  carryRow(width: number, ...places: number[]): void;
  pairsOn(width: number, height: number, ...places: number[]): void;
  lookForPairs(from: number, to: number, ...places: number[]): void;
  takePairs(from: number, to: number, ...places: number[]): void;
  addWindows(width: number, height: number, from: number, to: number, ...places: number[]): void;
  roundsBegin(n: number, ...places: number[]): void;
  round(last: number): void;
  followWays(width: number, height: number, ...places: number[]): void;
  pairwiseOn(l: number, a: number, b: number, steepness: number, contours: number, n: number): void;
  joinAll(width: number, height: number, beside: number, pairwise: number): void;
  numberPixels(mask: number, n: number, node: number): number;
  joinNarrowBand(width: number, height: number, ...places: number[]): void;
  markLabel(n: number, seeds: number, label: number): void;
  takeSides(n: number, node: number, sides: number, label: number): void;
  unaryAnew(n: number, ...places: number[]): void;
  borderOf(label: number, width: number, height: number, out: number): void;
  blurRows(width: number, height: number, ...places: number[]): void;
  addDown(rows: number, width: number, count: number, weights: number, out: number): void;
  takeAcross(row: number, first: number, count: number, weights: number, width: number, out: number): void;
  perceive(n: number, ...places: number[]): void;
  encode(n: number, light: number, codes: number, out: number): void;
  sumSlopes(width: number, height: number, ...places: number[]): void;
  tilesOf(n: number, pixels: number, width: number, pitch: number, across: number, out: number): void;
  askTiles(n: number, ...places: number[]): void;
  cluster(n: number, points: number, count: number, centres: number, rounds: number, sums: number, member: number): void;
  bandAsks(n: number, ...places: number[]): void;
  bandAgainst(n: number, ...places: number[]): void;
  bandTrimap(n: number, ...places: number[]): void;
  placesOf(n: number, mask: number, out: number): number;
  sampleOf(n: number, pixels: number, limit: number, out: number): number;
  maskOfCode(n: number, codes: number, code: number, out: number): void;
  keepWithin(n: number, mask: number, part: number): void;
  differing(n: number, ...places: number[]): void;
  agreedPlaces(n: number, ...places: number[]): number;
  sourcesOf(n: number, ...places: number[]): void;
  smallTrimap(trimap: number, ...places: number[]): void;
  enlargeLabel(label: number, ...places: number[]): void;
  openUnknowns(width: number, height: number, ...places: number[]): number;
  settleUnknowns(n: number, count: number, ...places: number[]): void;
  runsOf(mask: number, width: number, height: number, start: number, end: number): number;
  between(n: number, values: number, above: number, below: number, out: number): void;
  learnedOn(width: number, height: number, ...places: number[]): void;
  learnedBy(layers: number, steps: number, weights: number, added: number, least: number): void;
  correct(x: number, y: number, wide: number, high: number, ...places: number[]): void;
  distanceTo(goal: number, width: number, height: number, limit: number, room: number, out: number): void;
  growMask(mask: number, width: number, height: number, ...places: number[]): void;
  halfDiscs(width: number, height: number, ...places: number[]): void;
  thinContours(width: number, height: number, ...places: number[]): void;
  widenMask(mask: number, width: number, height: number, ...places: number[]): void;
  boxMean(width: number, height: number, radius: number, ...places: number[]): void;
  pullWeight(width: number, height: number, weight: number, out: number): void;
  pullDown(width: number, height: number, data: number, weight: number, out: number): void;
  pushUp(width: number, height: number, ...places: number[]): void;
  patchesOn(width: number, height: number, ...places: number[]): void;
  costPatches(target: number, at: number, cost: number, left: number, top: number, right: number, bottom: number): void;
  betterRow(target: number, at: number, cost: number, ...places: number[]): void;
  votes(target: number, ...places: number[]): void;
  linesBegin(open: number, ...places: number[]): void;
  linesGrow(most: number): number;
  bringAlong(width: number, height: number, ...places: number[]): void;
  alignOn(width: number, height: number, ...places: number[]): void;
  alignResiduals(map: number, gain: number, offset: number, out: number): number;
  alignSums(map: number, gain: number, offset: number, ...places: number[]): void;
  patchesAlong(length: number): number;
  flowOn(width: number, height: number, a: number, b: number, room: number): void;
  flowBegin(smallWidth: number, smallHeight: number, ...places: number[]): void;
  flowSearch(u: number, v: number, cost: number, back: number): void;
  flowSpread(u: number, v: number, outU: number, outV: number, weight: number): void;
}

/** The first byte that compiled code keeps nothing of its own at. */
const begin = 65536;
const page = 65536;

/**
 * Compiled code with memory of its own, for one piece of work at a time: what is to be worked on is put in, what came out is
 * taken out. Nothing in it outlives the work.
 */
export class Arena {
  readonly run: Functions;
  private end = begin;

  constructor() {
    compiled ??= new WebAssembly.Module(Uint8Array.from(atob(code), (c) => c.charCodeAt(0)));
    const abort = (): never => {
      throw new RangeError('compiled code stopped');
    };
    this.run = new WebAssembly.Instance(compiled, { env: { abort } }).exports as unknown as Functions;
  }

  /** Room for so many bytes, whatever is in it. @returns its address @throws RangeError when there is no more memory */
  alloc(bytes: number): number {
    const at = this.end;
    this.end = at + 8 * Math.ceil(bytes / 8);
    const lacking = this.end - this.run.memory.buffer.byteLength;
    if (lacking > 0) this.run.memory.grow(Math.ceil(lacking / page));
    return at;
  }

  /** A copy of an array. @returns its address */
  copyIn(data: Numbers): number {
    const at = this.alloc(data.byteLength);
    this.view(data, at).set(data);
    return at;
  }

  /** A copy of an array in room that is there already. */
  set(at: number, data: Numbers): void {
    this.view(data, at).set(data);
  }

  /** A copy of a window of a plane: some values of each of some rows, the first from one place on. @returns its address */
  copyInWindow(plane: Numbers, from: number, pitch: number, width: number, height: number): number {
    const each = width * plane.BYTES_PER_ELEMENT;
    const at = this.alloc(each * height);
    for (let y = 0; y < height; y++) {
      const row = plane.subarray(from + y * pitch, from + y * pitch + width);
      this.view(row, at + y * each).set(row);
    }
    return at;
  }

  /** Room for so many bytes, all of them zero or as they are asked for. @returns its address */
  filled(bytes: number, value = 0): number {
    const at = this.alloc(bytes);
    this.fill(at, bytes, value);
    return at;
  }

  /** So many bytes from an address on. */
  fill(at: number, bytes: number, value = 0): void {
    new Uint8Array(this.run.memory.buffer, at, bytes).fill(value);
  }

  /** Fills an array from an address on. */
  copyOut(at: number, into: Numbers): void {
    into.set(this.view(into, at));
  }

  /** Makes all room free again. */
  clear(): void {
    this.end = begin;
  }

  /** As many numbers of the same kind from an address on. */
  private view(like: Numbers, at: number): Numbers {
    const Kind = like.constructor as new (buffer: ArrayBuffer, at: number, length: number) => Numbers;
    return new Kind(this.run.memory.buffer, at, like.length);
  }
}

let compiled: WebAssembly.Module | undefined;
/** The arenas of this thread that are free. */
const vacant: Arena[] = [];

/** Work in an arena that nobody else uses until it is done. */
export async function inArena<T>(work: (arena: Arena) => Promise<T>): Promise<T> {
  const arena = vacant.pop() ?? new Arena();
  try {
    return await work(arena);
  } finally {
    giveBack(arena);
  }
}

/** The same for work that waits for nothing. */
export function inArenaNow<T>(work: (arena: Arena) => T): T {
  const arena = vacant.pop() ?? new Arena();
  try {
    return work(arena);
  } finally {
    giveBack(arena);
  }
}

/** Bytes that are worked out in zeroed room, whose address is told. */
export function bytesFrom(length: number, work: (arena: Arena, out: number) => void): Uint8Array {
  const bytes = new Uint8Array(length);
  inArenaNow((arena) => {
    const out = arena.filled(length);
    work(arena, out);
    arena.copyOut(out, bytes);
  });
  return bytes;
}

/** An arena that has grown to more bytes is not kept: so large a picture comes seldom. */
const large = 2 ** 26;

function giveBack(arena: Arena): void {
  arena.clear();
  if (arena.run.memory.buffer.byteLength <= large) vacant.push(arena);
}
