import { distanceTo, fillPolygon, type Picture, type Plane, type Random } from '@ritaglio/core';
import {
  anyLight,
  bell,
  between,
  clearLayer,
  clouds,
  drawMask,
  drawPolygon,
  drawStrand,
  spread,
  type Layer,
  type Light,
  type Point,
} from './layer';

/** What grows on a body. */
interface Coat {
  /** Roots for each pixel of the outline. */
  density: number;
  /** Length, and how far inside the outline roots lie at most, px. */
  long: number;
  deep: number;
  wide: number;
  /** How far a strand bends, how often it curls, and how far it may lean from straight out. */
  bend: number;
  curls: number;
  lean: number;
  /** Share of strands much longer than the others. */
  stray: number;
}

/** How often a kind of coat comes up, and between what its numbers lie; the sizes by their ratio. */
type Kind = { often: number } & Record<keyof Coat, readonly [number, number]>;

const wool: Kind = {
  ...{ often: 0.4, density: [1, 14], long: [14, 60], deep: [10, 160], wide: [0.7, 2.2] },
  ...{ bend: [0.1, 0.9], curls: [0, 2.5], lean: [0.3, 1.2], stray: [0, 0.015] },
};
const locks: Kind = {
  ...{ often: 0.2, density: [0.3, 3], long: [60, 260], deep: [5, 40], wide: [0.7, 2.2] },
  ...{ bend: [0.2, 1], curls: [0, 1], lean: [0.2, 0.9], stray: [0, 0.1] },
};
const fur: Kind = {
  ...{ often: 0.12, density: [1, 6], long: [5, 18], deep: [3, 12], wide: [0.7, 2.2] },
  ...{ bend: [0.2, 0.2], curls: [0, 0], lean: [0.2, 0.6], stray: [0, 0] },
};
const leaves: Kind = {
  ...{ often: 0.08, density: [0.05, 0.4], long: [20, 80], deep: [20, 20], wide: [4, 14] },
  ...{ bend: [0.3, 0.3], curls: [0, 0], lean: [0.8, 0.8], stray: [0, 0] },
};

/** A coat of any kind, or none. */
function anyCoat(random: Random): Coat | undefined {
  let share = random();
  const kind = [wool, locks, fur, leaves].find(({ often }) => (share -= often) < 0);
  if (!kind) return undefined;
  const size = (range: readonly [number, number]): number => spread(random, ...range);
  const part = (range: readonly [number, number]): number => between(random, ...range);
  return {
    density: size(kind.density),
    long: size(kind.long),
    deep: size(kind.deep),
    wide: size(kind.wide),
    bend: part(kind.bend),
    curls: part(kind.curls),
    lean: part(kind.lean),
    stray: part(kind.stray),
  };
}

/** A closed outline around a middle, more or less round. */
function blob(x: number, y: number, rx: number, ry: number, uneven: number, random: Random): Point[] {
  const waves = Array.from({ length: 6 }, (_, k) => [(uneven * bell(random)) / (k + 1), random() * 2 * Math.PI] as const);
  return Array.from({ length: 160 }, (_, i) => {
    const turn = (i / 160) * 2 * Math.PI;
    const far = waves.reduce((sum, [high, at], k) => sum + high * Math.cos((k + 2) * turn + at), 1);
    return [x + rx * far * Math.cos(turn), y + ry * far * Math.sin(turn)] as const;
  });
}

/** What is known of the scene's light. */
interface Sun {
  x: number;
  y: number;
  hard: number;
}

function coated(layer: Layer, outline: readonly Point[], coat: Coat, light: Light, sun: Sun, size: number, random: Random): void {
  const sides = outline.map(([x, y], i) => {
    const [nx, ny] = outline[(i + 1) % outline.length];
    return { x, y, dx: nx - x, dy: ny - y, long: Math.hypot(nx - x, ny - y) };
  });
  const around = sides.reduce((sum, s) => sum + s.long, 0);
  const area = sides.reduce((sum, s) => sum + (s.x * s.dy - s.y * s.dx) / 2, 0);
  const out = area > 0 ? 1 : -1;
  // Bare stretches and locks come of a slow wave along the outline.
  const [lockSize, lock] = [spread(random, 6, 40), random() < 0.5 ? between(random, 0, 0.8) : 0];
  const gravity = between(random, 0, 0.6);
  const count = Math.min(45000, Math.round(around * coat.density));
  const roots = Array.from({ length: count }, () => ({
    side: sides[Math.floor(random() * sides.length)],
    t: random(),
    deep: coat.deep * size * random() ** 1.3,
  }));
  roots.sort((a, b) => b.deep - a.deep);
  for (const { side, t, deep } of roots) {
    const [nx, ny] = [(out * side.dy) / side.long, (-out * side.dx) / side.long];
    const [x, y] = [side.x + t * side.dx - nx * deep, side.y + t * side.dy - ny * deep];
    const stray = random() < coat.stray;
    const long = size * coat.long * Math.max(0.15, 1 + 0.4 * bell(random)) * (stray ? between(random, 1.5, 4) : 1);
    const tuft = lock * Math.sin((x + 1.3 * y) / (lockSize * size));
    let turn = Math.atan2(ny, nx) + (coat.lean * bell(random)) / 1.5 + tuft;
    const bend = (coat.bend * bell(random)) / (stray ? 3 : 1);
    const phase = random() * 2 * Math.PI;
    const steps = Math.max(3, Math.min(40, Math.round(long / (5 * size))));
    const points: Point[] = [[x, y]];
    for (let i = 1; i <= steps; i++) {
      turn += bend / steps + (stray ? 0 : coat.curls) * 0.5 * Math.sin(phase + (i / steps) * 2 * Math.PI * coat.curls);
      // Hair hangs.
      turn += (gravity * Math.cos(turn)) / steps;
      const [px, py] = points[i - 1];
      points.push([px + (Math.cos(turn) * long) / steps, py + (Math.sin(turn) * long) / steps]);
    }
    const lit = 1 - sun.hard + sun.hard * Math.max(0, 0.4 + nx * sun.x + ny * sun.y);
    const shade = Math.max(0.08, (0.45 + 0.55 * (1 - deep / (coat.deep * size))) * lit * (1 + 0.35 * bell(random)));
    const wide = size * coat.wide * Math.max(0.3, 1 + 0.3 * bell(random)) * (stray ? 0.8 : 1);
    drawStrand(layer, {
      points,
      widths: [wide, wide * between(random, 0.2, 0.8)],
      light,
      bright: [shade * between(random, 0.35, 0.9), shade * 1.15],
    });
  }
}

/** A colour near one that is given, or any. */
function near(light: Light | undefined, random: Random): Light {
  if (!light) return anyLight(random);
  return light.map((v) => Math.max(0.004, v * Math.exp(0.35 * bell(random)))) as unknown as Light;
}

/**
 * A made-up thing with bodies, limbs, wheels, wires and coats, as a layer of light multiplied by opacity.
 *
 * @param behind what it will stand before, so that some of it may be alike
 * @param size pixels of the layer for each of a picture 1800 wide
 */
export function makeSubject(width: number, height: number, size: number, behind: Picture, random: Random): Layer {
  const layer = clearLayer(width, height);
  const turn = random() * 2 * Math.PI;
  const sun: Sun = { x: Math.cos(turn), y: Math.sin(turn), hard: between(random, 0.1, 0.8) };
  const [cx, cy] = [width * between(random, 0.4, 0.6), height * between(random, 0.4, 0.6)];
  const lightAt = (x: number, y: number): Light | undefined => {
    if (random() > 0.35) return undefined;
    const at = (share: number, whole: number): number => Math.min(whole - 1, Math.max(0, Math.floor(share * whole)));
    const p = at(y / height, behind.height) * behind.width + at(x / width, behind.width);
    return [behind.r[p], behind.g[p], behind.b[p]];
  };
  const bodies = Array.from({ length: 2 + Math.floor(random() * 3) }, (_, i) => {
    const [x, y] = i === 0 ? [cx, cy] : [cx + width * 0.2 * bell(random), cy + height * 0.2 * bell(random)];
    const [rx, ry] = [size * between(random, 90, 330), size * between(random, 90, 260)];
    return { x, y, rx, ry, outline: blob(x, y, rx, ry, between(random, 0.02, 0.15), random), light: near(lightAt(x + rx, y), random) };
  });
  const bright = clouds(width, height, 50 * size, between(random, 0.4, 0.8), between(random, 0.1, 0.4), random);
  for (let i = 0; i < 1 + random() * 5; i++) limb(layer, cx, cy, size, near(lightAt(cx, cy), random), random);
  for (let i = 0; i < random() * 2.5; i++) wheel(layer, size, near(lightAt(cx, cy), random), random);
  for (const body of bodies) {
    drawBody(layer, body.outline, body.light, bright, sun, size);
    for (let i = 0; i < (random() < 0.3 ? 2 : 1); i++) {
      const coat = anyCoat(random);
      if (coat) coated(layer, body.outline, coat, near(body.light, random), sun, size, random);
    }
  }
  for (let i = 0; i < random() * 2; i++) limb(layer, cx, cy, size, anyLight(random), random);
  for (let i = 0; i < 3 * random() - 0.5; i++) tassel(layer, cx, cy, size, near(lightAt(cx, cy), random), random);
  if (random() < 0.25) {
    const [x, y] = [width * random(), height * random()];
    drawPolygon(
      layer,
      blob(x, y, size * between(random, 40, 160), size * between(random, 40, 160), 0.2, random),
      anyLight(random),
      bright,
      between(random, 0.3, 0.85),
    );
  }
  return layer;
}

/** A solid body, darker at its rim and away from the light. */
function drawBody(layer: Layer, outline: readonly Point[], light: Light, bright: Plane, sun: Sun, size: number): void {
  const { width, height } = layer;
  const cover = fillPolygon(outline, width, height);
  const out = distanceTo(
    cover.data.map((c) => (c < 0.5 ? 1 : 0)),
    width,
    height,
    40 * size,
  ).data;
  const shade = new Float32Array(width * height);
  for (let y = 0, p = 0; y < height; y++) {
    for (let x = 0; x < width; x++, p++) {
      if (cover.data[p] === 0) continue;
      const side = ((x / width - 0.5) * sun.x + (y / height - 0.5) * sun.y) * 1.5;
      shade[p] = Math.max(0.05, bright.data[p] * (0.35 + 0.35 * Math.min(1, out[p] / (40 * size)) + sun.hard * side));
    }
  }
  drawMask(layer, cover, light, { width, height, data: shade });
}

function limb(layer: Layer, cx: number, cy: number, size: number, light: Light, random: Random): void {
  const long = size * spread(random, 100, 600);
  const wide = size * (random() < 0.5 ? spread(random, 1.5, 8) : spread(random, 12, 50));
  let turn = random() * 2 * Math.PI;
  const points: Point[] = [[cx + size * 100 * bell(random), cy + size * 80 * bell(random)]];
  for (let i = 1; i <= 40; i++) {
    turn += 0.06 * bell(random);
    const [x, y] = points[i - 1];
    points.push([x + (Math.cos(turn) * long) / 40, y + (Math.sin(turn) * long) / 40]);
  }
  drawStrand(layer, {
    points,
    widths: [wide, wide * between(random, 0.4, 1)],
    light,
    bright: [between(random, 0.6, 1), between(random, 0.6, 1.3)],
  });
}

/** Many strands from one knot: what lies deep is dark, and yet nothing is seen through the middle. */
function tassel(layer: Layer, cx: number, cy: number, size: number, light: Light, random: Random): void {
  const [x, y] = [cx + size * 250 * bell(random), cy + size * 180 * bell(random)];
  const [long, wide, fan] = [size * spread(random, 60, 300), size * spread(random, 1, 4), between(random, 0.08, 0.6)];
  const [turn, knot] = [random() * 2 * Math.PI, size * between(random, 4, 40)];
  const count = Math.round(spread(random, 100, 900));
  for (let i = 0; i < count; i++) {
    const deep = 1 - i / count;
    const aside = bell(random) / 1.5;
    const at = turn + fan * aside;
    const bend = 0.25 * bell(random);
    const reach = long * between(random, 0.7, 1.1);
    const [u, v] = [x - Math.sin(turn) * knot * aside, y + Math.cos(turn) * knot * aside];
    const points = Array.from({ length: 13 }, (_, k) => {
      const t = k / 12;
      return [u + reach * t * Math.cos(at + bend * t), v + reach * t * Math.sin(at + bend * t)] as const;
    });
    const bright = Math.max(0.04, (1 - 0.85 * deep) * (1 + 0.35 * bell(random)));
    drawStrand(layer, { points, widths: [wide, wide * between(random, 0.4, 1)], light, bright: [0.6 * bright, bright] });
  }
}

function wheel(layer: Layer, size: number, light: Light, random: Random): void {
  const [x, y] = [layer.width * between(random, 0.15, 0.85), layer.height * between(random, 0.15, 0.85)];
  const [far, wide] = [size * between(random, 40, 140), size * spread(random, 3, 22)];
  const ring = Array.from(
    { length: 81 },
    (_, i) => [x + far * Math.cos((i / 80) * 2 * Math.PI), y + far * Math.sin((i / 80) * 2 * Math.PI)] as const,
  );
  drawStrand(layer, { points: ring, widths: [wide, wide], light, bright: [0.8, 1.1] });
  const spokes = 3 + Math.floor(random() * 9);
  const [thick, at] = [size * spread(random, 1.5, 14), random()];
  for (let i = 0; i < spokes; i++) {
    const turn = ((i + at) / spokes) * 2 * Math.PI;
    const points = Array.from(
      { length: 11 },
      (_, k) => [x + (k / 10) * far * Math.cos(turn), y + (k / 10) * far * Math.sin(turn)] as const,
    );
    drawStrand(layer, { points, widths: [thick, thick], light, bright: [0.8, 1] });
  }
}
