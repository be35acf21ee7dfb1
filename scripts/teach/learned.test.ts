import {
  encodedFinely,
  layerSteps,
  learnedOpacity,
  learnedWeights,
  leastLacking,
  makePicture,
  defaultContext,
  seeded,
  shareAdded,
  widened,
} from '@ritaglio/core';
import { Network } from './network';

/** Noise with something undecided across it, at a size that is odd along both sides. */
function scene(width: number, height: number) {
  const random = seeded(8);
  const shot = makePicture(width, height);
  for (const plane of [shot.r, shot.g, shot.b]) for (let i = 0; i < plane.length; i++) plane[i] = random() ** 2;
  const opacity = { width, height, data: new Float32Array(width * height) };
  const state = new Uint8Array(width * height);
  for (let p = 0; p < state.length; p++) {
    const away = (p % width) - 0.6 * Math.floor(p / width);
    state[p] = away < 10 ? 2 : away < 25 ? 1 : 0;
    opacity.data[p] = state[p] === 1 ? Math.round(255 * random()) / 255 : state[p] / 2;
  }
  return { shot, opacity, state };
}

test('the application corrects by the very network that is taught', async () => {
  const [width, height] = [91, 73];
  const { shot, opacity, state } = scene(width, height);
  const shape = { seen: 18, channels: 32, steps: layerSteps, given: 4 };
  const [across, down] = [46, 37];
  const seen = new Float64Array(18 * across * down);
  for (let y = 0; y < 2 * down; y++) {
    for (let x = 0; x < 2 * across; x++) {
      const p = Math.min(height - 1, y) * width + Math.min(width - 1, x);
      const at = 18 * ((y >> 1) * across + (x >> 1));
      const k = 2 * (y & 1) + (x & 1);
      [shot.r, shot.g, shot.b].forEach((plane, c) => (seen[at + 4 * c + k] = 2 * encodedFinely(plane[p]) - 0.8));
      seen[at + 12 + k] = 2 * opacity.data[p] - 1;
      if (state[p] === 2) seen[at + 16] += 0.25;
      if (state[p] === 0) seen[at + 17] += 0.25;
    }
  }
  const said = new Network(shape, Float64Array.from(learnedWeights())).run({ width: across, height: down, data: seen });
  const { opacity: found } = await learnedOpacity(shot, opacity, { matte: opacity, trimap: state }, defaultContext());
  const near = widened(
    Uint8Array.from(state, (s) => (s === 1 ? 1 : 0)),
    width,
    height,
    1,
  );
  let changed = 0;
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (!near[p]) continue;
      const by = said[4 * ((y >> 1) * across + (x >> 1)) + 2 * (y & 1) + (x & 1)];
      const after = Math.min(1, Math.max(0, opacity.data[p] + shareAdded * by));
      const lacking = Math.abs(after - opacity.data[p]);
      const isSure = state[p] !== 1 || opacity.data[p] === 0 || opacity.data[p] === 1;
      // What is sure is left alone unless much lacks; close to that limit either may be.
      if (isSure && Math.abs(lacking - leastLacking) < 1e-3) continue;
      expect(found.data[p]).toBeCloseTo(isSure && lacking < leastLacking ? opacity.data[p] : after, 3);
      if (Math.abs(by) > leastLacking) changed++;
    }
  }
  expect(changed).toBeGreaterThan(100);
});
