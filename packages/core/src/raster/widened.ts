/**
 * 1 wherever something non-zero lies within `reach` along both axes (a dilation by a square). Rows far from anything cost
 * hardly more than looking at them.
 *
 * @param mask 0 or not, row by row
 * @param reach px
 */
export function widened(mask: Uint8Array, width: number, height: number, reach: number): Uint8Array {
  const across = new Uint8Array(width * height);
  const filled = new Uint8Array(height);
  for (let y = 0, row = 0; y < height; y++, row += width) {
    let until = 0;
    for (let x = 0; x < width; x++) {
      if (!mask[row + x]) continue;
      const to = Math.min(width, x + reach + 1);
      for (let k = Math.max(until, x - reach); k < to; k++) across[row + k] = 1;
      until = to;
      filled[y] = 1;
    }
  }
  const out = new Uint8Array(width * height);
  const until = new Int32Array(width);
  let anyUntil = 0;
  for (let y = -reach; y < height; y++) {
    const ahead = y + reach;
    if (ahead < height && filled[ahead]) {
      anyUntil = ahead + reach + 1;
      for (let x = 0, row = ahead * width; x < width; x++) if (across[row + x]) until[x] = anyUntil;
    }
    if (y < 0 || y >= anyUntil) continue;
    for (let x = 0, p = y * width; x < width; x++, p++) if (y < until[x]) out[p] = 1;
  }
  return out;
}
