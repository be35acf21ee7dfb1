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
  private place(sx: number, sy: number): void {
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
