import type { Samples } from '@ritaglio/core';

/** Turned and mirrored as the file says, 1 (as it is) to 8. */
export function upright(samples: Samples, orientation: number): Samples {
  const { width: w, height: h, channels, data } = samples;
  const way = orientation;
  if (way < 2 || way > 8) return samples;
  const turned = way >= 5;
  const [width, height] = turned ? [h, w] : [w, h];
  const out = data.slice();
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const [u, v] = turned ? [y, x] : [x, y];
      const sx = [2, 3, 7, 8].includes(way) ? w - 1 - u : u;
      const sy = [3, 4, 6, 7].includes(way) ? h - 1 - v : v;
      for (let c = 0; c < channels; c++) out[(y * width + x) * channels + c] = data[(sy * w + sx) * channels + c];
    }
  }
  return { ...samples, width, height, data: out };
}
