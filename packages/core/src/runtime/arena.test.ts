import fc from 'fast-check';
import { inArena, inArenaNow, type Arena, type Numbers } from './arena';

const later = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

describe('an arena', () => {
  test('gives back what was put in, of any kind, from memory of one thread or of all', () => {
    const kinds = [Uint8Array, Int8Array, Int16Array, Int32Array, Float32Array, Float64Array];
    fc.assert(
      fc.property(
        fc.constantFrom(...kinds),
        fc.array(fc.integer({ min: -100, max: 100 }), { maxLength: 60 }),
        fc.boolean(),
        (Kind, values, all) => {
          const size = values.length * Kind.BYTES_PER_ELEMENT;
          const Made = Kind as new (from: number | SharedArrayBuffer) => Numbers;
          const data = all ? new Made(new SharedArrayBuffer(size)) : new Made(values.length);
          data.set(values);
          inArenaNow((arena) => {
            const before = arena.copyIn(Uint8Array.of(1, 2, 3));
            const at = arena.copyIn(data);
            const after = arena.copyIn(Float64Array.of(0.5));
            expect(at % 8).toBe(0);
            expect(after).toBeGreaterThanOrEqual(at + size);
            expect(at).toBeGreaterThanOrEqual(before + 3);
            const out = new Made(values.length);
            arena.copyOut(at, out);
            expect([...out]).toEqual([...data]);
          });
        },
      ),
    );
  });

  test('copies a window of a plane row by row, and nothing beside it', () => {
    const window = fc.record({
      ...{ left: fc.nat(9), top: fc.nat(9), width: fc.nat(9), height: fc.nat(9) },
      ...{ right: fc.nat(9), below: fc.nat(9), Kind: fc.constantFrom(Uint8Array, Float32Array) },
    });
    fc.assert(
      fc.property(window, ({ left, top, width, height, right, below, Kind }) => {
        const pitch = left + width + right;
        const plane = new Kind(pitch * (top + height + below)).map((_, p) => p % 251);
        inArenaNow((arena) => {
          const at = arena.copyInWindow(plane, top * pitch + left, pitch, width, height);
          const after = arena.copyIn(Uint8Array.of(255));
          expect(after).toBeGreaterThanOrEqual(at + width * height * Kind.BYTES_PER_ELEMENT);
          const out = new Kind(width * height);
          arena.copyOut(at, out);
          expect([...out]).toEqual([...out.keys()].map((k) => ((top + Math.floor(k / width)) * pitch + left + (k % width)) % 251));
        });
      }),
    );
  });

  test('grows as it is needed, and what is in it stays', () => {
    inArenaNow((arena) => {
      const numbers = Int32Array.from({ length: 1000 }, (_, i) => i);
      const at = arena.copyIn(numbers);
      const filled = arena.filled(5_000_000, 7);
      const out = new Int32Array(1000);
      arena.copyOut(at, out);
      expect(out).toEqual(numbers);
      const far = new Uint8Array(5_000_000);
      arena.copyOut(filled, far);
      expect(far.every((v) => v === 7)).toBe(true);
      arena.fill(filled + 10, 20);
      arena.copyOut(filled, far);
      expect(far.reduce((s, v) => s + v, 0)).toBe(7 * (5_000_000 - 20));
    });
  });

  test('is nobody else’s until the work in it is done', async () => {
    const seen = new Set<Arena>();
    const work = (value: number): Promise<number> =>
      inArena(async (arena) => {
        expect(seen.has(arena)).toBe(false);
        seen.add(arena);
        const at = arena.copyIn(Int32Array.of(value));
        await later(5);
        inArenaNow((other) => other.copyIn(Int32Array.of(-1)));
        const out = new Int32Array(1);
        arena.copyOut(at, out);
        return out[0];
      });
    expect(await Promise.all([work(1), work(2), work(3)])).toEqual([1, 2, 3]);
  });

  test('is free again after work that failed', async () => {
    let first: Arena | undefined;
    await expect(
      inArena((arena) => {
        first = arena;
        return Promise.reject(new Error('broken'));
      }),
    ).rejects.toThrow('broken');
    expect(() =>
      inArenaNow((arena) => {
        expect(arena).toBe(first);
        throw new Error('again');
      }),
    ).toThrow('again');
    inArenaNow((arena) => expect(arena).toBe(first));
  });
});
