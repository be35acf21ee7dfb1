/** A short key for anything that can be written as JSON: two independent 32-bit FNV-1a sums. */
export function keyOf(...parts: unknown[]): string {
  const text = JSON.stringify(parts);
  let a = 0x811c9dc5;
  let b = 0x2f9be6cc;
  for (let i = 0; i < text.length; i++) {
    const c = text.charCodeAt(i);
    a = Math.imul(a ^ c, 0x01000193);
    b = Math.imul(b ^ c, 0x01000197);
  }
  return (a >>> 0).toString(36) + '-' + (b >>> 0).toString(36);
}

/** Products kept under the key of what made them, the least recently used dropped first. */
export class ProductMemory {
  private readonly kept = new Map<string, { product: unknown; bytes: number }>();
  private bytes = 0;

  /** @param limit bytes of typed arrays to keep at most */
  constructor(private readonly limit = 600e6) {}

  /** The product under that key, made now if it is not there. A failed or aborted making leaves nothing behind. */
  async get<T>(key: string, make: () => Promise<T>): Promise<T> {
    const found = this.kept.get(key);
    if (found) {
      this.kept.delete(key);
      this.kept.set(key, found);
      return found.product as T;
    }
    const product = await make();
    const bytes = bytesIn(product);
    this.kept.set(key, { product, bytes });
    this.bytes += bytes;
    for (const [old, entry] of this.kept) {
      if (this.bytes <= this.limit || old === key) break;
      this.kept.delete(old);
      this.bytes -= entry.bytes;
    }
    return product;
  }

  /** Number of products kept. */
  get size(): number {
    return this.kept.size;
  }
}

function bytesIn(value: unknown): number {
  if (ArrayBuffer.isView(value)) return value.byteLength;
  if (typeof value !== 'object' || value === null) return 0;
  return Object.values(value).reduce<number>((sum, part) => sum + bytesIn(part), 0);
}
