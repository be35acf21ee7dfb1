import { isAbort } from '../runtime/context';

/** A short key for anything that can be written as JSON. What is keyed is taken to stay as it is: each object is looked at once. */
export function keyOf(...parts: unknown[]): string {
  return summed(parts.map(textOf).join());
}

/** Two independent 32-bit FNV-1a sums. */
function summed(text: string): string {
  let a = 0x811c9dc5;
  let b = 0x2f9be6cc;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x01000197);
  }
  return (a >>> 0).toString(36) + '-' + (b >>> 0).toString(36);
}

/** What stands for an object in keys. */
const texts = new WeakMap<object, string>();
/** A longer text is summed up. */
const longest = 64;

/** A text that is the same for what is written as the same JSON, and only for that. */
function textOf(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value) ?? 'null';
  const known = texts.get(value);
  if (known !== undefined) return known;
  const whole = writtenOut(value);
  const text = whole.length > longest ? `#${summed(whole)}` : whole;
  texts.set(value, text);
  return text;
}

const isPlain = (value: unknown): boolean => typeof value !== 'object' || value === null;

function writtenOut(value: object): string {
  if (!Array.isArray(value)) {
    const parts = Object.entries(value).filter(([, part]) => part !== undefined);
    return `{${parts.map(([name, part]) => `${JSON.stringify(name)}:${textOf(part)}`).join()}}`;
  }
  // Lists of numbers and of points are long and share nothing.
  if (value.every((part) => isPlain(part) || (Array.isArray(part) && part.every(isPlain)))) return JSON.stringify(value);
  return `[${value.map(textOf).join()}]`;
}

/** What is kept of a product. */
interface Kept {
  product: unknown;
  buffers: Set<ArrayBufferLike>;
}

/**
 * Products kept under the key of what made them, the least recently used dropped first. What is asked for while it is being made is
 * made once. A buffer that several products hold counts once.
 */
export class ProductMemory {
  private readonly kept = new Map<string, Kept>();
  private readonly running = new Map<string, Promise<unknown>>();
  private readonly holders = new Map<ArrayBufferLike, number>();
  private bytes = 0;

  /** @param limit bytes of typed arrays to keep at most */
  constructor(private readonly limit = 600e6) {}

  /** The product under that key, made now if it is not there. A failed or aborted making leaves nothing behind. */
  async get<T>(key: string, make: () => Promise<T>): Promise<T> {
    for (;;) {
      const found = this.kept.get(key);
      if (found) {
        this.kept.delete(key);
        this.kept.set(key, found);
        return found.product as T;
      }
      const running = this.running.get(key);
      if (!running) return this.made(key, make);
      try {
        return (await running) as T;
      } catch (error) {
        // Whoever began it does not want it any more; it is made for who does.
        if (!isAbort(error)) throw error;
      }
    }
  }

  /** Whether a product is there or being made. */
  has(key: string): boolean {
    return this.kept.has(key) || this.running.has(key);
  }

  private async made<T>(key: string, make: () => Promise<T>): Promise<T> {
    const making = make();
    this.running.set(key, making);
    try {
      const product = await making;
      this.keep(key, product);
      return product;
    } finally {
      this.running.delete(key);
    }
  }

  private keep(key: string, product: unknown): void {
    const buffers = new Set<ArrayBufferLike>();
    buffersIn(product, buffers);
    for (const b of buffers) {
      const holders = this.holders.get(b) ?? 0;
      if (holders === 0) this.bytes += b.byteLength;
      this.holders.set(b, holders + 1);
    }
    this.kept.set(key, { product, buffers });
    for (const old of this.kept.keys()) {
      if (this.bytes <= this.limit || old === key) break;
      this.drop(old);
    }
  }

  private drop(key: string): void {
    for (const b of this.kept.get(key)!.buffers) {
      const holders = this.holders.get(b)! - 1;
      if (holders > 0) this.holders.set(b, holders);
      else {
        this.holders.delete(b);
        this.bytes -= b.byteLength;
      }
    }
    this.kept.delete(key);
  }

  /** Number of products kept. */
  get size(): number {
    return this.kept.size;
  }

  /** Bytes that the products kept take. */
  get used(): number {
    return this.bytes;
  }
}

function buffersIn(value: unknown, into: Set<ArrayBufferLike>): void {
  if (ArrayBuffer.isView(value)) into.add(value.buffer);
  else if (typeof value === 'object' && value !== null) for (const part of Object.values(value)) buffersIn(part, into);
}
