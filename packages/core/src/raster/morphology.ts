/**
 * A mask grown by a disc: 1 for every pixel within `radius` of a non-zero one. The cost is the
 * number of runs of its pixels in rows times the disc's height.
 */
export function grownMask(mask: ArrayLike<number>, width: number, height: number, radius: number): Uint8Array {
  const out = new Uint8Array(width * height);
  const reach = Math.floor(radius);
  const half = Int32Array.from({ length: 2 * reach + 1 }, (_, i) => Math.floor(Math.sqrt(radius * radius - (i - reach) ** 2)));
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      if (!mask[y * width + x]) continue;
      const from = x;
      while (x + 1 < width && mask[y * width + x + 1]) x++;
      for (let dy = -reach; dy <= reach; dy++) {
        const ny = y + dy;
        if (ny < 0 || ny >= height) continue;
        const h = half[dy + reach];
        out.fill(1, ny * width + Math.max(0, from - h), ny * width + Math.min(width - 1, x + h) + 1);
      }
    }
  }
  return out;
}
