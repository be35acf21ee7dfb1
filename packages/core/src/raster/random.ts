/** A source of numbers in [0, 1). */
export type Random = () => number;

/**
 * A small seeded generator (32-bit state, a Weyl sequence through a mixing function). Good for choosing
 * samples; not for secrets.
 */
export function seeded(seed: number): Random {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x9e3779b9) >>> 0;
    let t = state ^ (state >>> 16);
    t = Math.imul(t, 0x21f0aaad);
    t ^= t >>> 15;
    t = Math.imul(t, 0x735a2d97);
    t ^= t >>> 15;
    return (t >>> 0) / 4294967296;
  };
}
