/**
 * 1 wherever something non-zero lies within `reach` along both axes (a dilation by a square).
 *
 * @param mask 0 or not, row by row
 * @param reach px
 */
export function widened(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const across = new Uint8Array(width * height);
  for (let y = 0, row = 0; y < height; y++, row += width) {
    let until = 0;
    for (let x = -reach; x < width; x++) {
      if (x + reach < width && mask[row + x + reach]) until = x + 2 * reach + 1;
      if (x >= 0 && x < until) across[row + x] = 1;
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
