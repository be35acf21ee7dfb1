/** The opening of the lens: the shape that every point out of focus takes. */
export interface Aperture {
  /** `soft` is a plain Gaussian of the same spread, for comparison; the other figures do not matter to it. */
  shape: 'disc' | 'blades' | 'soft';
  /** Number of blades, 3 to 16; only for `blades`. */
  blades: number;
  /** How far the blades' edges bulge towards the circle, 0 (straight) to 1 (round). */
  roundness: number;
  /** Turn of the opening, degrees, against the clock. */
  turn: number;
  /** How much of the opening the barrel cuts off in the picture's corners, 0 to 1. */
  cornerCut: number;
  /** Width over height, 0.4 to 1: an oval. */
  squeeze: number;
  /** Light at the rim: -1 fades towards it, 0 is even, 1 gathers there. */
  rim: number;
}

/** A round, even opening. */
export const roundAperture: Aperture = {
  shape: 'disc',
  blades: 7,
  roundness: 0.3,
  turn: 0,
  cornerCut: 0,
  squeeze: 1,
  rim: 0,
};

/** Half the height of an opening at an angle, as a share of the blur disc's radius. */
function reachAt(aperture: Aperture, angle: number): number {
  if (aperture.shape !== 'blades') return 1;
  const step = (2 * Math.PI) / aperture.blades;
  const off = angle - (aperture.turn * Math.PI) / 180 - Math.PI / 2;
  const inBlade = off - step * Math.round(off / step);
  // Corners lie at whole steps; the edge between two of them is a straight line, bulging with roundness.
  const straight = Math.cos(step / 2) / Math.cos(step / 2 - Math.abs(inBlade));
  return straight + (1 - straight) * aperture.roundness;
}

/**
 * Outline of an opening of radius 1, x to the right, y upwards, against the clock; all of it within the unit circle.
 *
 * @param points how many
 */
export function apertureOutline(aperture: Aperture, points = 240): [number, number][] {
  return Array.from({ length: points }, (_, i) => {
    const angle = (2 * Math.PI * i) / points;
    const reach = reachAt(aperture, angle);
    return [reach * Math.cos(angle) * aperture.squeeze, reach * Math.sin(angle)];
  });
}

/** Rows of a blur shape: what is spread from a pixel lands between `left` and `right`, px from it, `dy` rows below. */
export interface Chord {
  dy: number;
  /** A second row in which it lands alike. */
  also?: number;
  left: number;
  right: number;
  /** Light a pixel of its length. */
  weight: number;
}

/** Light of nested copies of the opening, from the outermost inwards: what it gets brighter or darker by there. */
function nested(rim: number): { size: number; light: number }[] {
  if (rim === 0) return [{ size: 1, light: 1 }];
  const rings = 5;
  // From centre to rim the light goes as 1 + rim·(2ρ² − 1), never below nothing.
  const light = (rho: number): number => Math.max(0, 1 + Math.min(1, Math.max(-1, rim)) * (2 * rho * rho - 1));
  return Array.from({ length: rings }, (_, i) => {
    const size = 1 - i / rings;
    const here = light(size - 0.5 / rings);
    return { size, light: i === 0 ? here : here - light(size + 0.5 / rings) };
  });
}

/**
 * A blur shape cut into rows, each as long as the shape is on average within that row, so that its rim is smooth.
 * Together they hold the light 1.
 *
 * @param diameter of the blur disc the shape stands in, px
 * @param turned upside down, as nearer than the focus
 */
export function chordsOf(aperture: Aperture, diameter: number, turned = false): Chord[] {
  const ends = endsOf(aperture);
  const out: Chord[] = [];
  for (const { size, light } of nested(aperture.rim)) {
    const radius = (diameter / 2) * size;
    const reach = Math.ceil(radius - 0.5);
    for (let dy = -reach; dy <= reach; dy++) {
      const row = rowOf(ends, radius, dy, turned);
      if (row && light !== 0) out.push({ dy, ...row, weight: light });
    }
  }
  const whole = out.reduce((sum, c) => sum + c.weight * (c.right - c.left), 0);
  return paired(out.map((c) => ({ ...c, weight: c.weight / whole })));
}

/** Rows above and below the middle that are alike become one chord. */
function paired(chords: Chord[]): Chord[] {
  const out: Chord[] = [];
  for (const c of chords) {
    const twin = out.find(
      (o) =>
        o.also === undefined && o.dy === -c.dy && c.dy > 0 && o.weight === c.weight && alike(o.left, c.left) && alike(o.right, c.right),
    );
    if (twin) twin.also = c.dy;
    else out.push(c);
  }
  return out;
}

function alike(a: number, b: number): boolean {
  return Math.abs(a - b) < 1e-6;
}

/** Heights at which an opening's ends are held, from its lowest to its highest. */
const heights = 1024;

/** Left and right ends of an opening of radius 1 at even heights from -1 to 1; where there is none, left is beyond right. */
interface Ends {
  left: Float64Array;
  right: Float64Array;
}

function endsOf(aperture: Aperture): Ends {
  const ends = { left: new Float64Array(heights).fill(Infinity), right: new Float64Array(heights).fill(-Infinity) };
  const heightAt = (i: number): number => (2 * i + 1) / heights - 1;
  if (aperture.shape !== 'blades') {
    for (let i = 0; i < heights; i++) {
      ends.right[i] = aperture.squeeze * Math.sqrt(1 - heightAt(i) ** 2);
      ends.left[i] = -ends.right[i];
    }
    return ends;
  }
  const outline = apertureOutline(aperture);
  for (let k = 0; k < outline.length; k++) {
    const [x0, y0] = outline[k];
    const [x1, y1] = outline[(k + 1) % outline.length];
    const [low, high] = [Math.min(y0, y1), Math.max(y0, y1)];
    for (let i = Math.max(0, Math.ceil(((low + 1) * heights - 1) / 2)); i < heights && heightAt(i) <= high; i++) {
      const x = high > low ? x0 + ((heightAt(i) - y0) / (y1 - y0)) * (x1 - x0) : x0;
      ends.left[i] = Math.min(ends.left[i], x);
      ends.right[i] = Math.max(ends.right[i], x);
    }
  }
  return ends;
}

/** Ends of an opening in the pixel row `dy` below its middle, averaged over the row; nothing where there is none. */
function rowOf(ends: Ends, radius: number, dy: number, turned: boolean): { left: number; right: number } | undefined {
  const parts = 16;
  let [left, right, met] = [0, 0, 0];
  for (let i = 0; i < parts; i++) {
    const below = (dy - 0.5 + (i + 0.5) / parts) / radius;
    const at = Math.floor(((turned ? below : -below) + 1) * (heights / 2));
    if (at < 0 || at >= heights || ends.left[at] > ends.right[at]) continue;
    left += turned ? -ends.right[at] : ends.left[at];
    right += turned ? -ends.left[at] : ends.right[at];
    met++;
  }
  // A row that is met in part only is shorter, about its own middle.
  const shown = met / parts;
  const [middle, half] = met > 0 ? [(left + right) / 2 / met, (right - left) / 2 / met] : [0, 0];
  return met > 0 ? { left: radius * (middle - half * shown), right: radius * (middle + half * shown) } : undefined;
}
