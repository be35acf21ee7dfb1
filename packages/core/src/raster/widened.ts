/**
 * 1 wherever something non-zero lies within `reach` along both axes (a dilation by a square).
 *
 * @param mask 0 or not, row by row
 * @param reach px
 */
export function widened(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const across = new Uint8Array(width * height);
  for (let y = 0, row = 0; y < height; y++, row += width) {
    // The last non-zero column so far, and from where on the row is filled.
    let filled = 0;
    for (let x = 0; x < width; x++) {
      if (mask[row + x] === 0) continue;
      const end = Math.min(width, x + reach + 1);
      across.fill(1, row + Math.max(filled, x - reach), row + end);
      filled = end;
    }
  }
  const out = new Uint8Array(width * height);
  const until = new Int32Array(width);
  for (let y = 0; y < Math.min(reach, height); y++) {
    for (let x = 0; x < width; x++) if (across[y * width + x]) until[x] = y + reach + 1;
  }
  for (let y = 0; y < height; y++) {
    const ahead = y + reach;
    for (let x = 0, p = y * width; x < width; x++, p++) {
      if (ahead < height && across[ahead * width + x]) until[x] = ahead + reach + 1;
      if (y < until[x]) out[p] = 1;
    }
  }
  return out;
}
