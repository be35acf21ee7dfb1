import { floatAt, setFloat } from './memory';

// Contours: how different the two halves of a disc around each pixel are (after Martin, Fowlkes & Malik 2004), against how much each half
// varies in itself. Texture varies on both sides; a border does not.

/** Sectors of a disc; the dividing line of a direction runs between sectors. */
const sectors: i32 = 8;
const sums = memory.data(16 * 8, 16);
const squares = memory.data(16 * 8, 16);

/**
 * Adds to the four strengths of each pixel what one channel says: squared difference of the halves' means over their variance.
 *
 * @param plane with `radius` repeated pixels around it and three more behind the last, so many values a row
 * @param offsets of a disc's pixels from its middle, sector by sector; `ends[k]` is the first one beyond sector k
 * @param shares how much of each pixel lies in the sector
 * @param out strengths across a border that is crossed rightwards, down-rightwards, downwards, down-leftwards; a plane each
 */
export function halfDiscs(
  width: i32,
  height: i32,
  plane: usize,
  pitch: i32,
  radius: i32,
  offsets: usize,
  shares: usize,
  ends: usize,
  weight: f32,
  least: f32,
  out: usize,
): void {
  const n = width * height;
  let half: f32 = 0;
  for (let i = 0, end = load<i32>(ends + 4 * (sectors - 1)); i < end; i++) half += load<f32>(shares + ((<usize>i) << 2));
  const one = f32x4.splat(2 / half);
  const weights = f32x4.splat(weight);
  const leasts = f32x4.splat(least);
  const zero = f32x4.splat(0);
  for (let y = 0; y < height; y++) {
    const row = plane + 4 * <usize>((y + radius) * pitch + radius);
    for (let x = 0; x < width; x += 4) {
      const at = row + 4 * <usize>x;
      let i = 0;
      for (let k = 0; k < sectors; k++) {
        let sum = zero;
        let square = zero;
        for (const end = load<i32>(ends + ((<usize>k) << 2)); i < end; i++) {
          const v = v128.load(at + 4 * load<i32>(offsets + ((<usize>i) << 2)));
          const part = f32x4.mul(v128.load32_splat(shares + ((<usize>i) << 2)), v);
          sum = f32x4.add(sum, part);
          square = f32x4.add(square, f32x4.mul(part, v));
        }
        v128.store(sums + ((<usize>k) << 4), sum);
        v128.store(squares + ((<usize>k) << 4), square);
      }
      const left = min(4, width - x);
      for (let d = 0; d < 4; d++) {
        let s1 = zero;
        let q1 = zero;
        let s2 = zero;
        let q2 = zero;
        for (let j = 0; j < 4; j++) {
          const ahead = (<usize>((d + 6 + j) & 7)) << 4;
          const behind = (<usize>((d + 2 + j) & 7)) << 4;
          s1 = f32x4.add(s1, v128.load(sums + ahead));
          q1 = f32x4.add(q1, v128.load(squares + ahead));
          s2 = f32x4.add(s2, v128.load(sums + behind));
          q2 = f32x4.add(q2, v128.load(squares + behind));
        }
        const m1 = f32x4.mul(s1, one);
        const m2 = f32x4.mul(s2, one);
        const own = f32x4.add(f32x4.mul(m1, m1), f32x4.mul(m2, m2));
        const varies = f32x4.mul(f32x4.splat(0.5), f32x4.sub(f32x4.mul(f32x4.add(q1, q2), one), own));
        const apart = f32x4.sub(m1, m2);
        const strength = f32x4.div(f32x4.mul(weights, f32x4.mul(apart, apart)), f32x4.add(f32x4.max(zero, varies), leasts));
        const goal = out + 4 * <usize>(d * n + y * width + x);
        const told = f32x4.add(strength, left === 4 ? v128.load(goal) : zero);
        if (left === 4) v128.store(goal, told);
        else {
          store<f32>(goal, load<f32>(goal) + f32x4.extract_lane(strength, 0));
          if (left > 1) store<f32>(goal, load<f32>(goal, 4) + f32x4.extract_lane(strength, 1), 4);
          if (left > 2) store<f32>(goal, load<f32>(goal, 8) + f32x4.extract_lane(strength, 2), 8);
        }
      }
    }
  }
}

/**
 * Strengths thinned: what is weaker than a neighbour across the border keeps a share only (non-maximum suppression; Canny 1986).
 *
 * @param small used up @param large squared strengths by small and by large discs, four planes each
 * @param out four planes of strengths
 */
export function thinContours(width: i32, height: i32, small: usize, large: usize, share: f32, out: usize): void {
  const n = width * height;
  for (let d = 0; d < 4; d++) {
    const step = d === 0 ? 1 : d === 1 ? width + 1 : d === 2 ? width : width - 1;
    const plane = small + 4 * <usize>(d * n);
    const other = large + 4 * <usize>(d * n);
    for (let p = 0; p < n; p++) setFloat(plane, p, 0.4 * sqrt(floatAt(plane, p)) + 0.6 * sqrt(floatAt(other, p)));
    const goal = out + 4 * <usize>(d * n);
    for (let p = 0; p < n; p++) {
      const own = floatAt(plane, p);
      const strongest = own >= (p >= step ? floatAt(plane, p - step) : 0) && own >= (p + step < n ? floatAt(plane, p + step) : 0);
      setFloat(goal, p, strongest ? own : share * own);
    }
  }
}
