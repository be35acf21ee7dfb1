import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { join } from 'node:path';
import { fonts, letterOutlines } from './letters';

const require = createRequire(join(process.cwd(), 'packages/app/package.json'));
const bytes = (font: string): Uint8Array => new Uint8Array(readFileSync(require.resolve(fonts[font].file)));

test.each(Object.keys(fonts))('%s sets a line about its middle', (font) => {
  const rings = letterOutlines(bytes(font), 'Lantern', 0);
  const xs = rings.flat().map(([x]) => x);
  const ys = rings.flat().map(([, y]) => y);
  // Seven letters; a, e have an inside.
  expect(rings.length).toBeGreaterThanOrEqual(9);
  expect(Math.abs(Math.min(...xs) + Math.max(...xs))).toBeLessThan(0.25);
  expect(Math.max(...ys) - Math.min(...ys)).toBeLessThan(1.2);
});

test('spacing widens, lines stand below each other', () => {
  const width = (spacing: number): number => {
    const xs = letterOutlines(bytes('schibsted'), 'quay', spacing).flat().map(([x]) => x); // prettier-ignore
    return Math.max(...xs) - Math.min(...xs);
  };
  expect(width(0.2) - width(0)).toBeCloseTo(0.6, 2);
  const ys = letterOutlines(bytes('schibsted'), 'a\na', 0).flat().map(([, y]) => y); // prettier-ignore
  expect(Math.max(...ys) - Math.min(...ys)).toBeGreaterThan(1.2);
});

test('no text has no outlines, no typeface is refused', () => {
  expect(letterOutlines(bytes('caveat'), '', 0)).toEqual([]);
  expect(() => letterOutlines(new Uint8Array(40), 'a', 0)).toThrow();
});
