import type { Outlines } from '@ritaglio/core';
import opentype from 'opentype.js';

/** The typefaces that lettering can be set in, by the name a recipe knows them by, and the file of each. */
export const fonts: Record<string, { name: string; file: string }> = {
  'schibsted-bold': { name: 'Schibsted Grotesk Bold', file: '@fontsource/schibsted-grotesk/files/schibsted-grotesk-latin-700-normal.woff' },
  schibsted: { name: 'Schibsted Grotesk', file: '@fontsource/schibsted-grotesk/files/schibsted-grotesk-latin-400-normal.woff' },
  alegreya: { name: 'Alegreya', file: '@fontsource/alegreya/files/alegreya-latin-400-normal.woff' },
  'alegreya-bold': { name: 'Alegreya Bold', file: '@fontsource/alegreya/files/alegreya-latin-700-normal.woff' },
  caveat: { name: 'Caveat', file: '@fontsource/caveat/files/caveat-latin-700-normal.woff' },
};

/** Straight pieces a curve is cut into. */
const pieces = 8;

/**
 * Outlines of one or more lines of type, in heights of the type, about the middle of it all.
 *
 * @param font a file of a typeface: TTF, OTF or WOFF
 * @param spacing room added between letters, in heights of the type
 * @throws Error when the file is no typeface
 */
export function letterOutlines(font: Uint8Array, text: string, spacing: number): Outlines {
  const face = opentype.parse(font.buffer.slice(font.byteOffset, font.byteOffset + font.byteLength) as ArrayBuffer);
  const lines = text.split('\n');
  const leading = 1.2;
  const rings = lines.flatMap((line, i) => {
    const glyphs = face.stringToGlyphs(line);
    const advance = (g: opentype.Glyph, next?: opentype.Glyph): number =>
      ((g.advanceWidth ?? 0) + (next ? face.getKerningValue(g, next) : 0)) / face.unitsPerEm + (next ? spacing : 0);
    const whole = glyphs.reduce((sum, g, k) => sum + advance(g, glyphs[k + 1]), 0);
    let x = -whole / 2;
    return glyphs.flatMap((g, k) => {
      const at = x;
      x += advance(g, glyphs[k + 1]);
      // Half a capital above the line's middle: letters look centred on their x-height.
      return ringsOf(g.getPath(at, (i - (lines.length - 1) / 2) * leading + 0.35, 1).commands);
    });
  });
  return rings;
}

function ringsOf(commands: opentype.PathCommand[]): Outlines {
  const rings: Outlines = [];
  let ring: [number, number][] = [];
  const curve = (to: (t: number) => [number, number]): void => {
    for (let i = 1; i <= pieces; i++) ring.push(to(i / pieces));
  };
  for (const c of commands) {
    if (c.type === 'M') {
      ring = [[c.x, c.y]];
      rings.push(ring);
    } else if (c.type === 'L') ring.push([c.x, c.y]);
    else if (c.type === 'Q') {
      const [x, y] = ring[ring.length - 1];
      curve((t) => [mix3(x, c.x1, c.x, t), mix3(y, c.y1, c.y, t)]);
    } else if (c.type === 'C') {
      const [x, y] = ring[ring.length - 1];
      curve((t) => [mix4(x, c.x1, c.x2, c.x, t), mix4(y, c.y1, c.y2, c.y, t)]);
    }
  }
  return rings.filter((r) => r.length > 2);
}

function mix3(a: number, b: number, c: number, t: number): number {
  return (1 - t) ** 2 * a + 2 * t * (1 - t) * b + t * t * c;
}

function mix4(a: number, b: number, c: number, d: number, t: number): number {
  return (1 - t) ** 3 * a + 3 * t * (1 - t) ** 2 * b + 3 * t * t * (1 - t) * c + t ** 3 * d;
}
