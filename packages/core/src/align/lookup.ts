/**
 * A plane projective map between two pictures of one size, in coordinates from the middle where half the longer side is 1:
 * x' = (h0·x + h1·y + h2) / (h6·x + h7·y + 1), y' = (h3·x + h4·y + h5) / (h6·x + h7·y + 1).
 */
export type Homography = readonly number[];

/** Where a point of one picture lies in another one of maybe another size; bilinear, borders repeated. */
export class Lookup {
  inside = false;
  private p = 0;
  private right = 0;
  private down = 0;
  private u = 0;
  private v = 0;

  constructor(
    private readonly from: { width: number; height: number },
    private readonly to: { width: number; height: number },
  ) {}

  at(h: Homography, x: number, y: number): void {
    const unit = Math.max(this.to.width, this.to.height) / 2;
    const nx = (x - (this.to.width - 1) / 2) / unit;
    const ny = (y - (this.to.height - 1) / 2) / unit;
    const w = h[6] * nx + h[7] * ny + 1;
    const px = ((h[0] * nx + h[1] * ny + h[2]) / w) * unit + (this.to.width - 1) / 2;
    const py = ((h[3] * nx + h[4] * ny + h[5]) / w) * unit + (this.to.height - 1) / 2;
    const { width, height } = this.from;
    this.place(((px + 0.5) * width) / this.to.width - 0.5, ((py + 0.5) * height) / this.to.height - 0.5);
  }

  /** The same for a place that is known; whole numbers are pixel middles. */
  place(sx: number, sy: number): void {
    const { width, height } = this.from;
    this.inside = sx >= -0.5 && sy >= -0.5 && sx <= width - 0.5 && sy <= height - 0.5;
    const cx = Math.min(width - 1, Math.max(0, sx));
    const cy = Math.min(height - 1, Math.max(0, sy));
    const x0 = Math.floor(cx);
    const y0 = Math.floor(cy);
    this.p = y0 * width + x0;
    this.right = x0 + 1 < width ? 1 : 0;
    this.down = y0 + 1 < height ? width : 0;
    this.u = cx - x0;
    this.v = cy - y0;
  }

  /** As `sample` at the same place, but from `taps` × `taps` pixels of each channel, written to `out`: keeps the picture's sharpness. */
  sharp(red: Float32Array, green: Float32Array, blue: Float32Array, out: Float64Array): void {
    const { width, height } = this.from;
    const x = this.p % width;
    const y = (this.p - x) / width;
    const [u, v] = [Math.round(this.u * phases), Math.round(this.v * phases)];
    if (u % phases === 0 && v % phases === 0) {
      const q = this.p + (u > 0 ? this.right : 0) + (v > 0 ? this.down : 0);
      out[0] = red[q];
      out[1] = green[q];
      out[2] = blue[q];
      return;
    }
    const across = taps * u;
    const down = taps * v;
    let r = 0;
    let g = 0;
    let b = 0;
    if (x >= before && y >= before && x + taps - before <= width && y + taps - before <= height) {
      for (let j = 0, row = this.p - before * width - before; j < taps; j++, row += width) {
        const weight = sincWeights[down + j];
        if (weight === 0) continue;
        let tr = 0;
        let tg = 0;
        let tb = 0;
        for (let i = 0; i < taps; i++) {
          const w = sincWeights[across + i];
          const q = row + i;
          tr += w * red[q];
          tg += w * green[q];
          tb += w * blue[q];
        }
        r += weight * tr;
        g += weight * tg;
        b += weight * tb;
      }
    } else {
      for (let j = 0; j < taps; j++) {
        const row = Math.min(height - 1, Math.max(0, y + j - before)) * width;
        for (let i = 0; i < taps; i++) {
          const q = row + Math.min(width - 1, Math.max(0, x + i - before));
          const w = sincWeights[down + j] * sincWeights[across + i];
          r += w * red[q];
          g += w * green[q];
          b += w * blue[q];
        }
      }
    }
    out[0] = r;
    out[1] = g;
    out[2] = b;
  }

  /** The pixel whose middle is nearest. */
  get nearest(): number {
    return this.p + (this.u > 0.5 ? this.right : 0) + (this.v > 0.5 ? this.down : 0);
  }

  sample(data: Float32Array): number {
    const top = data[this.p] * (1 - this.u) + data[this.p + this.right] * this.u;
    const low = data[this.p + this.down] * (1 - this.u) + data[this.p + this.down + this.right] * this.u;
    return top * (1 - this.v) + low * this.v;
  }
}

/** Samples along each axis that make one of the other picture, and how many of them lie before the place but for the nearest. */
const taps = 10;
const before = taps / 2 - 1;
/** Steps between two pixels for which weights are kept. */
const phases = 512;

/** Weights of the samples for places between the middle two: a sinc under a wider one (Duchon 1979), of sum 1. */
const sincWeights = Float32Array.from({ length: taps * (phases + 1) }, (_, i) => {
  const t = Math.floor(i / taps) / phases;
  const lobe = (k: number): number => {
    const x = Math.PI * (t - k);
    return Math.abs(x) < 1e-9 ? 1 : ((taps / 2) * Math.sin(x) * Math.sin((2 * x) / taps)) / (x * x);
  };
  const sum = Array.from({ length: taps }, (_k, k) => lobe(k - before)).reduce((s, v) => s + v, 0);
  return lobe((i % taps) - before) / sum;
});
