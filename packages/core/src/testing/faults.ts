import type { Picture, Plane } from '../raster/plane';
import { makePicture, makePlane } from '../raster/plane';
import { seeded } from '../raster/random';
import { distanceTo } from '../raster/distance';
import { gaussian } from '../raster/filter';
import { planeFrom } from './scenes';

/** A made-up picture before anything is wrong with it: a thing with a soft edge before ground of one of five kinds. */
export interface ProofScene {
  width: number;
  height: number;
  /** Pixels per full-size pixel. */
  scale: number;
  front: Picture;
  back: Picture;
  matte: Plane;
  /** Middle of the thing, and how far it reaches. */
  x: number;
  y: number;
  radius: number;
}

const channels = ['r', 'g', 'b'] as const;

/** Noise about so many pixels apart, 0 to 1. */
function clouds(width: number, height: number, apart: number, random: () => number): Plane {
  const noise = makePlane(width, height);
  for (let p = 0; p < noise.data.length; p++) noise.data[p] = random();
  const soft = gaussian(noise, apart).data;
  const spread = 1 / (0.29 / (2 * apart * Math.sqrt(Math.PI)) + 1e-6) / 5;
  return { width, height, data: soft.map((v) => Math.min(1, Math.max(0, 0.5 + (v - 0.5) * spread))) };
}

/** A scene from a seed; the same every time. */
export function proofScene(seed: number, width = 420, height = 300): ProofScene {
  const random = seeded(911 + 37 * seed);
  const kind = seed % 5;
  const [broad, fine] = [clouds(width, height, 22, random), clouds(width, height, 2.2, random)];
  const base = [0.08 + 0.35 * random(), 0.08 + 0.3 * random(), 0.08 + 0.3 * random()];
  const plank = 14 + 20 * random();
  const lean = (random() - 0.5) * 0.8;
  const back = makePicture(width, height);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      const across = (x + lean * y) / plank;
      const light = [
        0.7 + 0.6 * (y / height),
        (across - Math.floor(across) < 0.09 ? 0.35 : 0.8 + 0.35 * ((Math.floor(across) * 0.618) % 1)) * (0.8 + 0.4 * fine.data[p]),
        0.4 + 1.1 * broad.data[p],
        0.5 + 0.5 * fine.data[p] + 0.5 * broad.data[p],
        0.35 + 0.3 * broad.data[p] + 0.9 * (x / width),
      ][kind];
      channels.forEach((c, k) => (back[c][p] = base[k] * light * (1 + 0.02 * (fine.data[p] - 0.5))));
    }
  }
  const radius = 55 + 25 * random();
  const [x, y] = [width / 2 + 40 * (random() - 0.5), height / 2 - 15 + 20 * (random() - 0.5)];
  const lobes = 2 + Math.floor(3 * random());
  const turn = 6.28 * random();
  const rim = 3 + 5 * random();
  const matte = planeFrom(width, height, (u, v) => {
    const angle = Math.atan2(v - y, u - x);
    const reach = radius * (1 + 0.16 * Math.sin(lobes * angle + turn));
    return Math.min(1, Math.max(0, (reach - Math.hypot(u - x, v - y)) / rim + 0.5));
  });
  const own = [0.1 + 0.5 * random(), 0.1 + 0.35 * random(), 0.05 + 0.3 * random()];
  const texture = clouds(width, height, 4, random).data;
  const front = makePicture(width, height);
  for (let p = 0; p < front.r.length; p++) channels.forEach((c, k) => (front[c][p] = own[k] * (0.75 + 0.5 * texture[p])));
  return { width, height, scale: 0.5, front, back, matte, x, y, radius };
}

/** The thing laid over its ground. */
export function laidOver({ front, back, matte, width, height }: ProofScene, ground: Picture = back, subject: Picture = front): Picture {
  const out = makePicture(width, height);
  for (let p = 0; p < out.r.length; p++) {
    for (const c of channels) out[c][p] = matte.data[p] * subject[c][p] + (1 - matte.data[p]) * ground[c][p];
  }
  return out;
}

/** The ground with a smear of light, dark or colour around an arc of the thing's outline; the whole of it when no arc is given. */
export function smeared(s: ProofScene, seed: number, arc?: { from: number; length: number }): Picture {
  const away = distanceTo(s.matte.data.map((a) => (a >= 0.5 ? 1 : 0)), s.width, s.height, 40).data; // prettier-ignore
  const colours = [[0.9, 0.9, 0.95], [0.004, 0.004, 0.006], [0.7, 0.1, 0.5], [0.1, 0.75, 0.9]]; // prettier-ignore
  const colour = colours[seed % colours.length];
  const out = makePicture(s.width, s.height);
  for (let p = 0; p < out.r.length; p++) {
    const angle = Math.atan2(Math.floor(p / s.width) - s.y, (p % s.width) - s.x);
    const turned = (((angle - (arc?.from ?? 0)) % 6.2832) + 6.2832) % 6.2832;
    const share = arc && turned > arc.length ? 0 : 0.55 * Math.exp(-((away[p] / 4) ** 2));
    channels.forEach((c, k) => (out[c][p] = s.back[c][p] + share * (colour[k] - s.back[c][p])));
  }
  return out;
}

/** The matte with pieces of its edge cut hard. */
export function torn(s: ProofScene, seed: number, pieces = 3): { matte: Plane; places: { x: number; y: number }[] } {
  const random = seeded(seed + 5);
  const data = s.matte.data.slice();
  const places: { x: number; y: number }[] = [];
  const begin = 6.28 * random();
  for (let i = 0; i < pieces; i++) {
    const from = begin + (6.28 * i) / pieces;
    const length = 0.75;
    const middle = from + length / 2;
    let found = { x: s.x, y: s.y };
    for (let r = 0; r < 1.5 * s.radius; r++) {
      const [x, y] = [Math.round(s.x + r * Math.cos(middle)), Math.round(s.y + r * Math.sin(middle))];
      if (s.matte.data[y * s.width + x] >= 0.5) found = { x, y };
    }
    places.push({ x: found.x / s.scale, y: found.y / s.scale });
    for (let p = 0; p < data.length; p++) {
      const angle = Math.atan2(Math.floor(p / s.width) - s.y, (p % s.width) - s.x);
      const turned = (((angle - from) % 6.2832) + 6.2832) % 6.2832;
      if (turned < length) data[p] = data[p] >= 0.5 ? 1 : 0;
    }
  }
  return { matte: { ...s.matte, data }, places };
}

/** The matte with dots of opacity beside the thing, or holes in it. */
export function dotted(s: ProofScene, seed: number, value: 0 | 1, count = 5): { matte: Plane; places: { x: number; y: number }[] } {
  const random = seeded(seed + 77);
  const data = s.matte.data.slice();
  const places: { x: number; y: number }[] = [];
  while (places.length < count) {
    const [x, y] = [Math.floor(4 + random() * (s.width - 8)), Math.floor(4 + random() * (s.height - 8))];
    const p = y * s.width + x;
    const far = [0, -3, 3, -3 * s.width, 3 * s.width].every((o) => s.matte.data[p + o] === 1 - value);
    if (!far || data[p] === value) continue;
    data[p] = value;
    places.push({ x: x / s.scale, y: y / s.scale });
  }
  return { matte: { ...s.matte, data }, places };
}

/** Light taken from the ground under the thing, as a body that touches it does. */
export function grounded(s: ProofScene, strength = 0.6): Picture {
  const low = lowestOf(s);
  const out = makePicture(s.width, s.height);
  for (let p = 0; p < out.r.length; p++) {
    const [x, y] = [p % s.width, Math.floor(p / s.width)];
    const reach = ((x - s.x) / (0.8 * s.radius)) ** 2 + ((y - low) / (0.11 * s.radius)) ** 2;
    const keep = 1 - strength * Math.exp(-reach);
    for (const c of channels) out[c][p] = s.back[c][p] * keep;
  }
  return out;
}

export function lowestOf({ matte, width, height }: ProofScene): number {
  for (let p = width * height - 1; p >= 0; p--) if (matte.data[p] >= 0.5) return Math.floor(p / width);
  return 0;
}

/** The subject's colour with the old ground in its half-covered pixels, as it stands in the shot. */
export function fringed({ front, matte, width, height }: ProofScene, old: Picture): Picture {
  const out = makePicture(width, height);
  for (let p = 0; p < out.r.length; p++) {
    for (const c of channels) out[c][p] = matte.data[p] * front[c][p] + (1 - matte.data[p]) * old[c][p];
  }
  return { ...out, a: matte.data };
}

/** Normal noise over a picture, in encoded light. */
export function noisy(p: Picture, sigma: number, seed: number): Picture {
  const random = seeded(seed);
  const normal = (): number => Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(6.2832 * random());
  const out = { ...p, r: p.r.slice(), g: p.g.slice(), b: p.b.slice() };
  for (let i = 0; i < p.r.length; i++) {
    const n = sigma * normal();
    for (const c of channels) out[c][i] = Math.max(0, out[c][i] ** (1 / 2.2) + n) ** 2.2;
  }
  return out;
}
