import { code } from './code';
import type { Address, Functions } from './functions';

/** Arrays that compiled code works on. */
export type Numbers = Uint8Array | Int8Array | Int16Array | Int32Array | Float32Array | Float64Array;

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

  /** The same for several. */
  copiesIn<const T extends readonly Numbers[]>(...data: T): { [K in keyof T]: Address } {
    return data.map((d) => this.copyIn(d)) as { [K in keyof T]: Address };
  }

  /** Room for several, of so many bytes each. */
  allocs<const T extends readonly number[]>(...bytes: T): { [K in keyof T]: Address } {
    return bytes.map((b) => this.alloc(b)) as { [K in keyof T]: Address };
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
