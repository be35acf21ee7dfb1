import {
  decodedQuickly,
  distanceTo,
  encodedQuickly,
  gaussian,
  holeOf,
  leftOutside,
  makePicture,
  maskOf,
  defaultContext,
  pushPull,
  residueOf,
  seeded,
  type Picture,
  type Plane,
  type ResidueKind,
} from '@ritaglio/core';
import { foregroundOf, plateOf, subjectsWithPlates } from './cuts/pictures';
import { matteAt, pictureAt } from './truth';

/** Subjects over each other's plates with something left of them outside the matte, made up from a seed, and the same without. */
const faults = ['hair', 'soft rim', 'missed part', 'shadow', 'reflection'] as const;
type Fault = (typeof faults)[number];
const told: Record<Fault, readonly ResidueKind[]> = {
  hair: ['strand'],
  'soft rim': ['rim'],
  'missed part': ['part', 'rim'],
  shadow: ['shade'],
  reflection: ['mirror'],
};

/** Subjects that touch the lower border of their frame. */
const standsOnTheFrame: readonly string[] = ['bird-cage', 'reed-plume'];

interface Scene {
  alpha: Plane;
  front: Picture;
  plate: Picture;
}

async function sceneOf(subject: string, ground: string): Promise<Scene> {
  const alpha = await matteAt(`demo/truth/cuts/${subject}/alpha.png`);
  const { width, height } = alpha;
  const front = await pictureAt(foregroundOf(subject)!);
  const sure: Plane = { width, height, data: alpha.data.map((a) => (a > 0.9 ? 1 : 0)) };
  const [r, g, b] = pushPull([front.r, front.g, front.b].map((data) => ({ width, height, data })), sure).map((p) => p.data); // prettier-ignore
  return { alpha, front: { width, height, r, g, b }, plate: await pictureAt(plateOf(ground)!) };
}

/** A subject over a ground with the noise of a camera. */
function composed(front: Picture, alpha: Plane, plate: Picture, seed: number): Picture {
  const random = seeded(seed);
  const out = makePicture(alpha.width, alpha.height);
  for (const c of ['r', 'g', 'b'] as const) {
    for (let p = 0; p < alpha.data.length; p++) {
      const gauss = Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
      const code = encodedQuickly(alpha.data[p] * front[c][p] + (1 - alpha.data[p]) * plate[c][p]) + (1.3 * gauss) / 255;
      out[c][p] = decodedQuickly(Math.min(1, Math.max(0, code)));
    }
  }
  return out;
}

/** The shot with a fault, the matte that does not know of it, and where it lies. */
function withFault({ alpha, front, plate }: Scene, fault: Fault, seed: number): { shot: Picture; matte: Plane; where: Uint8Array } {
  const { width, height } = alpha;
  const random = seeded(seed);
  const away = distanceTo(maskOf(alpha.data, (a) => a > 0.5), width, height).data; // prettier-ignore
  const inwards = distanceTo(maskOf(alpha.data, (a) => a < 0.5), width, height).data; // prettier-ignore
  const rim: [number, number][] = [];
  for (let p = 0; p < inwards.length; p++) {
    const [x, y] = [p % width, Math.floor(p / width)];
    if (inwards[p] === 1 && Math.min(x, y, width - 1 - x, height - 1 - y) > 40) rim.push([x, y]);
  }
  const somewhere = (): [number, number] => rim[Math.floor(random() * rim.length)];
  const clear = (a: Float32Array, least: number): Uint8Array => maskOf(a, (v, p) => v > least && alpha.data[p] < 0.01);
  const plane = (data: Float32Array): Plane => ({ width, height, data });
  switch (fault) {
    case 'hair': {
      const hair = new Float32Array(width * height);
      for (let k = 0; k < 14; k++) {
        let [x, y] = somewhere();
        const outwards = (dx: number, dy: number): number => away[(y + dy) * width + x + dx] - inwards[(y + dy) * width + x + dx];
        let angle = Math.atan2(outwards(0, 6) - outwards(0, -6), outwards(6, 0) - outwards(-6, 0)) + (random() - 0.5) * 1.4;
        const [length, bend, half] = [18 + 30 * random(), (random() - 0.5) * 0.06, 0.6 + 0.5 * random()];
        for (let t = 0; t < length; t += 0.4) {
          [x, y, angle] = [x + 0.4 * Math.cos(angle), y + 0.4 * Math.sin(angle), angle + 0.4 * bend];
          for (let v = Math.max(0, Math.floor(y) - 2); v < Math.min(height, y + 3); v++) {
            for (let u = Math.max(0, Math.floor(x) - 2); u < Math.min(width, x + 3); u++) {
              const cover = Math.min(1, Math.max(0, half + 0.5 - Math.hypot(u - x, v - y)));
              hair[v * width + u] = Math.max(hair[v * width + u], cover);
            }
          }
        }
      }
      const all = plane(alpha.data.map((a, p) => Math.max(a, hair[p])));
      return { shot: composed(front, all, plate, seed), matte: alpha, where: clear(hair, 0.3) };
    }
    case 'soft rim': {
      const sigma = 5 + 4 * random();
      const soft = gaussian(alpha, sigma);
      const blurred = (c: Float32Array): Float32Array =>
        gaussian(plane(c.map((v, p) => v * alpha.data[p])), sigma).data.map((v, p) => (soft.data[p] > 1e-4 ? v / soft.data[p] : 0));
      const matte = plane(soft.data.map((v) => Math.max(0, Math.min(1, (v - 0.45) / 0.3))));
      const shot = composed({ width, height, r: blurred(front.r), g: blurred(front.g), b: blurred(front.b) }, soft, plate, seed);
      return { shot, matte, where: maskOf(soft.data, (v, p) => v > 0.06 && matte.data[p] < 0.01) };
    }
    case 'missed part': {
      const [x, y] = somewhere();
      const radius = 22 + 24 * random();
      const kept = (p: number): number => Math.max(0, Math.min(1, Math.hypot((p % width) - x, Math.floor(p / width) - y) - radius));
      const matte = plane(alpha.data.map((a, p) => a * kept(p)));
      return { shot: composed(front, alpha, plate, seed), matte, where: maskOf(alpha.data, (a, p) => a > 0.3 && kept(p) < 1) };
    }
    case 'shadow': {
      const [down, strength] = [Math.round(6 + 6 * random()), 0.35 + 0.2 * random()];
      const cast = plane(alpha.data.map((_, p) => (p >= down * width ? alpha.data[p - down * width] : 0)));
      const shade = gaussian(cast, 7 + 5 * random()).data;
      const dark = (c: Float32Array): Float32Array => c.map((v, p) => v * (1 - strength * shade[p]));
      const ground = { width, height, r: dark(plate.r), g: dark(plate.g), b: dark(plate.b) };
      return { shot: composed(front, alpha, ground, seed), matte: alpha, where: clear(shade, 0.3) };
    }
    case 'reflection': {
      let bottom = 0;
      alpha.data.forEach((a, p) => (bottom = a > 0.5 ? Math.max(bottom, Math.floor(p / width)) : bottom));
      const mirror = new Float32Array(width * height);
      const ground = { width, height, r: plate.r.slice(), g: plate.g.slice(), b: plate.b.slice() };
      for (let y = bottom + 1; y < Math.min(height, bottom + 60); y++) {
        for (let x = 0; x < width; x++) {
          const [p, q] = [y * width + x, (2 * bottom - y) * width + x];
          mirror[p] = 0.3 * alpha.data[q] * (1 - (y - bottom) / 60);
          for (const c of ['r', 'g', 'b'] as const) ground[c][p] += mirror[p] * (front[c][q] - ground[c][p]);
        }
      }
      return { shot: composed(front, alpha, ground, seed), matte: alpha, where: clear(mirror, 0.06) };
    }
  }
}

/** So far from the fault a place may be, px. */
const near = 24;

/** How often what is left is seen, by kind, and how often it is seen where nothing is. */
export async function residueRows(): Promise<{ rows: string[][]; words: string }> {
  const counts = new Map(faults.map((f) => [f, { seen: 0, right: 0, of: 0 }]));
  let [alarms, clean, unknown] = [0, 0, 0];
  const n = subjectsWithPlates.length;
  for (let k = 0; k < 20; k++) {
    const fault = faults[k % faults.length];
    // What touches the frame's lower border has no room for a reflection.
    let at = k % n;
    while (fault === 'reflection' && standsOnTheFrame.includes(subjectsWithPlates[at])) at = (at + 1) % n;
    const [subject, ground] = [subjectsWithPlates[at], subjectsWithPlates[(at + 1 + (Math.floor(k / n) % (n - 1))) % n]];
    console.log(`What is left: ${fault}, ${subject} on ${ground}`);
    const scene = await sceneOf(subject, ground);
    const look = async (shot: Picture, matte: Plane): Promise<ReturnType<typeof leftOutside>> =>
      leftOutside(await residueOf(shot, matte, defaultContext()), holeOf(matte, 1, 1), 1);
    const { shot, matte, where } = withFault(scene, fault, 100 + k);
    const { places } = await look(shot, matte);
    const toFault = distanceTo(where, matte.width, matte.height).data;
    const count = counts.get(fault)!;
    count.of++;
    if (places.length > 0) count.seen++;
    const there = places.filter((p) => told[fault].includes(p.kind) && toFault[Math.floor(p.y) * matte.width + Math.floor(p.x)] <= near);
    if (there.length > 0) count.right++;
    const without = await look(composed(scene.front, scene.alpha, scene.plate, 200 + k), scene.alpha);
    clean++;
    console.log(
      places
        .map((q) => q.kind + q.area.toFixed(0))
        .slice(0, 6)
        .join(' '),
      '| clean',
      without.places
        .map((q) => q.kind + q.area.toFixed(0))
        .slice(0, 6)
        .join(' '),
      without.width?.toFixed(2),
    );
    if (without.width === undefined) unknown++;
    else if (without.places.length > 0) alarms++;
  }
  const all = [...counts.values()].reduce((sum, c) => ({ seen: sum.seen + c.seen, right: sum.right + c.right, of: sum.of + c.of }));
  return {
    words: `Six subjects over each other’s plates: 20 with something left of the subject outside the matte (the true one, but for soft rim and missed part), 20 without. Seen in ${all.seen} of ${all.of}; false alarms in ${alarms} of ${clean - unknown}, unknown in ${unknown}.`,
    rows: [
      ...faults.map((f) => [f, ...(['seen', 'of', 'right'] as const).map((k) => String(counts.get(f)![k]))]),
      ['nothing left', `${alarms}`, `${clean - unknown}`, '–'],
    ],
  };
}
