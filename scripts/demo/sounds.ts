import { writeFileSync } from 'node:fs';
import { seeded } from '@ritaglio/core';

/** Samples a second, and how long the cart rolls, s. */
const rate = 22_050;
const seconds = 3;
/** A plank is so wide, m, and the cart so fast, m a second. */
const plank = 0.09;
const speed = 0.62;

/**
 * The soft rattle of a small cart on planks: wheels knock at every gap, the box rings a little, and the axles squeak. Synthesised from
 * decaying tones and filtered noise; the same samples every time.
 */
function cartRattle(): Int16Array {
  const random = seeded(12);
  const out = new Float64Array(rate * seconds);
  const ring = (at: number, hertz: number, decay: number, loud: number): void => {
    const from = Math.round(at * rate);
    for (let i = 0; i < 6 * decay * rate && from + i < out.length; i++) {
      if (from + i >= 0) out[from + i] += loud * Math.exp(-i / (decay * rate)) * Math.sin((2 * Math.PI * hertz * i) / rate);
    }
  };
  for (let t = 0.05; t < seconds; t += plank / speed) {
    // Front wheels, and the rear ones a bit later; no two knocks are alike.
    for (const later of [0, 0.061]) {
      const at = t + later + 0.006 * (random() - 0.5);
      ring(at, 190 + 40 * random(), 0.018, 0.22);
      ring(at, 640 + 90 * random(), 0.009, 0.1);
      ring(at + 0.002, 1900 + 300 * random(), 0.004, 0.05);
    }
  }
  for (let t = 0.2; t < seconds; t += 0.47) ring(t, 1240 + 60 * Math.sin(t * 9), 0.05, 0.012);
  let low = 0;
  for (let i = 0; i < out.length; i++) {
    low += 0.06 * (random() - 0.5 - low);
    const swell = Math.min(1, i / (0.3 * rate), (out.length - i) / (0.3 * rate));
    out[i] = swell * (out[i] + 0.5 * low);
  }
  return Int16Array.from(out, (v) => Math.round(32_767 * Math.max(-1, Math.min(1, 0.9 * v))));
}

/** Samples as a WAV file: one channel of 16 bits. */
function wavOf(samples: Int16Array): Buffer {
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.byteLength, 4);
  head.write('WAVEfmt ', 8);
  [16, 1 | (1 << 16), rate, rate * 2, 2 | (16 << 16)].forEach((v, i) => head.writeUInt32LE(v, 16 + 4 * i));
  head.write('data', 36);
  head.writeUInt32LE(samples.byteLength, 40);
  return Buffer.concat([head, Buffer.from(samples.buffer)]);
}

writeFileSync(new URL('../../demo/sounds/cart-rattle.wav', import.meta.url), wavOf(cartRattle()));
console.log('Written: demo/sounds/cart-rattle.wav');
