import fc from 'fast-check';
import { zipSync } from 'fflate';
import { crc32, unzipped } from './zip';

const text = (s: string): Uint8Array => new TextEncoder().encode(s);
const files = { 'a.txt': text('hello '.repeat(50)), 'pictures/b.bin': Uint8Array.from({ length: 300 }, (_, i) => (i * 37) % 256) };

test('the checksum is that of the standard, and a zip comes back as it was', () => {
  expect(crc32(text('123456789')).toString(16)).toBe('cbf43926');
  for (const level of [0, 9] as const) expect(unzipped('x.zip', zipSync(files, { level }))).toEqual(files);
});

test('wherever a bit is flipped, what comes out is right or it is refused with a sentence', () => {
  const good = zipSync(files, { level: 6 });
  let refused = 0;
  for (let at = 0; at < good.length; at++) {
    const bad = good.slice();
    bad[at] ^= 1 << (at % 8);
    try {
      for (const [file, content] of Object.entries(unzipped('x.zip', bad))) {
        // A name may be another one now; contents are right.
        expect(Object.values(files).some((f) => f.length === content.length && f.every((v, i) => v === content[i]))).toBe(true);
        expect(file).not.toBe('');
      }
    } catch (error) {
      expect((error as Error).name).toBe('FormatError');
      expect((error as Error).message).toMatch(/^“x.zip”/);
      refused++;
    }
  }
  // Every byte of what is packed is looked after; times and comments are not.
  expect(refused).toBeGreaterThan(0.55 * good.length);
});

test('sizes are looked at before anything is unpacked', () => {
  const zeros = zipSync({ 'bomb.bin': new Uint8Array(8e6) }, { level: 9 });
  expect(zeros.length).toBeLessThan(20_000);
  expect(() => unzipped('bomb.zip', zeros)).toThrow(/bomb.bin unpacks to \d+ times its size/);
  expect(() => unzipped('x.zip', zipSync(files), { files: 1 })).toThrow('holds 2 files; up to 1');
  expect(() => unzipped('x.zip', zipSync({ 'a.bin': new Uint8Array(3e6) }), { each: 1e6 })).toThrow('unpacks to 3 MB; up to 1 MB');
  expect(() => unzipped('x.zip', zipSync({ 'a.bin': new Uint8Array(3e6) }), { total: 2e6 })).toThrow('unpacks to 3 MB; up to 2 MB');
});

test('anything at all is refused with a sentence, or read', () => {
  const good = zipSync(files);
  const mutated = fc
    .array(fc.tuple(fc.nat(good.length - 1), fc.nat(255)), { minLength: 1, maxLength: 12 })
    .map((changes) => changes.reduce((bytes, [at, v]) => ((bytes[at] = v), bytes), good.slice()));
  fc.assert(
    fc.property(
      fc.oneof(
        fc.uint8Array({ maxLength: 400 }),
        mutated,
        fc.nat(good.length).map((n) => good.slice(0, n)),
      ),
      (bytes) => {
        try {
          unzipped('x.zip', bytes);
        } catch (error) {
          expect((error as Error).name).toBe('FormatError');
        }
      },
    ),
    { numRuns: 1500 },
  );
});
