import { gaussian, planesOf, pictureOf, resizePicture, type Picture, type Random } from '@ritaglio/core';
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

/** A made-up scene behind a subject: opaque. @param photos pictures of which parts may be used */
export function makeGround(width: number, height: number, photos: readonly Picture[], random: Random): Picture {
  const layer =
    random() < 0.35 ? partOf(photos[Math.floor(random() * photos.length)], width, height, random) : madeUp(width, height, random);
  const blur = random() < 0.5 ? 0 : spread(random, 0.5, 7);
  return blur === 0 ? layer : pictureOf(planesOf(layer).map((p) => gaussian(p, blur)));
}

function partOf(photo: Picture, width: number, height: number, random: Random): Picture {
  const share = between(random, 0.35, 1);
  const [w, h] = [Math.floor(photo.width * share), Math.floor((photo.width * share * height) / width)];
  const [left, top] = [Math.floor(random() * (photo.width - w)), Math.floor(random() * Math.max(1, photo.height - h))];
  const mirrored = random() < 0.5;
  const part = pictureOf(
    planesOf({ ...photo, a: undefined }).map((p) => {
      const data = new Float32Array(w * h);
      for (let y = 0; y < h; y++) {
        for (let x = 0; x < w; x++) {
          data[y * w + x] = p.data[Math.min(p.height - 1, top + y) * p.width + left + (mirrored ? w - 1 - x : x)];
        }
      }
      return { width: w, height: h, data };
    }),
  );
  return resizePicture(part, width, height);
}

type Filler = (layer: Layer, random: Random) => void;

function madeUp(width: number, height: number, random: Random): Picture {
  const layer = clearLayer(width, height);
  layer.a.fill(1);
  const fillers: Filler[] = [planks, houses, leaves, lights, ropes];
  plain(layer, random);
  for (let i = 0; i < 2 + random() * 2; i++) fillers[Math.floor(random() * fillers.length)](layer, random);
  return layer;
}

const plain: Filler = (layer, random) => {
  const { width, height } = layer;
  const cover = { width, height, data: new Float32Array(width * height).fill(1) };
  drawMask(layer, cover, anyLight(random), clouds(width, height, spread(random, 30, 600), between(random, 0.4, 0.8), 0.35, random));
  const other = { ...cover, data: clouds(width, height, 400, 0.4, 0.6, random).data.map((v) => Math.min(1, Math.max(0, v - 0.5))) };
  drawMask(layer, other, anyLight(random), clouds(width, height, 60, 0.6, 0.3, random));
};

/** The corners of a rectangle, leaning. */
function leaning(x: number, y: number, w: number, h: number, turn: number): Point[] {
  const [c, s] = [Math.cos(turn), Math.sin(turn)];
  return [
    [0, 0],
    [w, 0],
    [w, h],
    [0, h],
  ].map(([u, v]) => [x + c * u - s * v, y + s * u + c * v] as const);
}

const planks: Filler = (layer, random) => {
  const { width, height } = layer;
  const [light, wide, turn] = [anyLight(random), spread(random, 8, 60), between(random, -0.4, 0.4) + (random() < 0.5 ? Math.PI / 2 : 0)];
  const far = width + height;
  const bright = clouds(width, height, 40, 0.7, 0.3, random);
  const [from, to] = [between(random, -0.3, 0.6), between(random, 0.5, 1.3)];
  const gap = between(random, 0.02, 0.25) * wide;
  for (let at = far * (from - 0.5); at < far * (to - 0.5); at += wide) {
    const own = 1 + 0.25 * bell(random);
    const own3 = light.map((v) => Math.max(0, v * own)) as unknown as Light;
    const corners = leaning(0, 0, far * 2, wide - gap, turn).map(
      ([x, y]) =>
        [x + width / 2 - Math.cos(turn) * far - Math.sin(turn) * at, y + height / 2 - Math.sin(turn) * far + Math.cos(turn) * at] as const,
    );
    drawPolygon(layer, corners, own3, bright);
  }
};

const houses: Filler = (layer, random) => {
  const { width, height } = layer;
  const bright = clouds(width, height, 50, 0.6, 0.2, random);
  for (let i = 0; i < 3 + random() * 6; i++) {
    const [w, h] = [between(random, 0.08, 0.35) * width, between(random, 0.15, 0.7) * height];
    const [x, y] = [between(random, -0.1, 0.95) * width, between(random, -0.2, 0.7) * height];
    drawPolygon(layer, leaning(x, y, w, h, 0.03 * bell(random)), anyLight(random), bright);
    const [pane, step] = [anyLight(random), spread(random, 25, 90)];
    const size = step * between(random, 0.3, 0.7);
    for (let v = y + step / 2; v + size < y + h; v += step * 1.3) {
      for (let u = x + step / 2; u + size < x + w; u += step) drawPolygon(layer, leaning(u, v, size, size * 1.3, 0), pane, bright);
    }
  }
};

const leaves: Filler = (layer, random) => {
  const { width, height } = layer;
  const [light, long, wide] = [anyLight(random), spread(random, 8, 70), spread(random, 1, 9)];
  const [cx, cy, rx, ry] = [random() * width, random() * height, between(random, 0.2, 0.7) * width, between(random, 0.2, 0.7) * height];
  const lean = random() < 0.5 ? between(random, 0, 2 * Math.PI) : undefined;
  for (let i = 0; i < 4000 + random() * 8000; i++) {
    const [x, y] = [cx + (rx * bell(random)) / 2, cy + (ry * bell(random)) / 2];
    const turn = (lean ?? random() * 2 * Math.PI) + 0.4 * bell(random);
    const bright = Math.max(0.1, 1 + 0.45 * bell(random));
    const points = [0, 0.5, 1].map((t) => [x + Math.cos(turn + t * 0.3) * long * t, y + Math.sin(turn + t * 0.3) * long * t] as const);
    drawStrand(layer, { points, widths: [wide, wide / 3], light, bright: [bright * 0.7, bright] });
  }
};

const lights: Filler = (layer, random) => {
  const { width, height } = layer;
  const light = anyLight(random).map((v) => v + 0.4) as unknown as Light;
  const size = spread(random, 2, 30);
  for (let i = 0; i < 60; i++) {
    const [x, y, bright] = [random() * width, random() * height, between(random, 0.6, 4)];
    drawStrand(layer, {
      points: [
        [x, y],
        [x + 0.01, y],
      ],
      widths: [size, size],
      light,
      bright: [bright, bright],
      opacity: between(random, 0.3, 1),
    });
  }
};

const ropes: Filler = (layer, random) => {
  const { width, height } = layer;
  for (let i = 0; i < 4 + random() * 12; i++) {
    const [x0, y0, x1, y1] = [random() * width, random() * height, random() * width, random() * height];
    const sag = 40 * random();
    const points = Array.from({ length: 41 }, (_, k) => {
      const t = k / 40;
      return [x0 + t * (x1 - x0), y0 + t * (y1 - y0) + sag * 4 * t * (1 - t)] as const;
    });
    const wide = spread(random, 1, 14);
    drawStrand(layer, { points, widths: [wide, wide], light: anyLight(random), bright: [1, 1] });
  }
};
