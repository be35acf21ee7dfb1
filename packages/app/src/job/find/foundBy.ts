import type { Found } from './catalogue';

/** Words that people use for what is called otherwise here. */
const alike: Record<string, readonly string[]> = {
  bokeh: ['lamps', 'shape', 'blades'],
  hair: ['edge', 'softness'],
  fringe: ['edge', 'spill', 'draw'],
  halo: ['grow', 'hole', 'old'],
  brush: ['tip', 'mark', 'paint'],
  eraser: ['outside', 'clear'],
  mask: ['matte', 'shapes', 'kept'],
  background: ['behind', 'plate'],
  depth: ['distance', 'distances', 'focus'],
  noise: ['grain'],
  color: ['colour'],
  exposure: ['exposure', 'light'],
  shadow: ['contact', 'shadow'],
  crop: ['frame', 'ratio'],
  rotate: ['turn', 'straighten'],
  save: ['export', 'job'],
  text: ['lettering'],
  sharpness: ['focus', 'band', 'sharpen'],
  capelli: ['bordo', 'morbidezza'],
  alone: ['cresci', 'buco', 'vecchio'],
  pennello: ['punta', 'segno', 'dipingi'],
  sfondo: ['dietro', 'lastra'],
  profondità: ['distanza', 'distanze', 'fuoco'],
  rumore: ['grana'],
  ombra: ['appoggio', 'ombra'],
  ruota: ['giro', 'raddrizza'],
  salva: ['esporta', 'lavoro'],
  testo: ['scritta'],
};

/** How well a word fits a text: its beginning, the beginning of a word in it, anywhere, not at all. */
function fits(word: string, text: string): number {
  const t = text.toLowerCase();
  if (t.startsWith(word)) return 3;
  if (t.split(/[\s,/]+/).some((w) => w.startsWith(word))) return 2;
  return t.includes(word) ? 1 : 0;
}

/** What of the catalogue has all the words in its name, its part or its step, or what is meant by them; the best first. */
export function foundBy(words: string, catalogue: readonly Found[]): Found[] {
  const wanted = words.toLowerCase().split(/\s+/).filter(Boolean);
  if (wanted.length === 0) return [];
  const worth = (f: Found): number => {
    let sum = 0;
    for (const word of wanted) {
      const here = (w: string): number => Math.max(3 * fits(w, f.name), 2 * fits(w, f.part), fits(w, f.step));
      // What merely means the same is worth a third.
      const best = Math.max(here(word), ...(alike[word] ?? []).map((w) => here(w) / 3));
      if (best === 0) return 0;
      sum += best;
    }
    return sum;
  };
  return catalogue
    .map((f) => ({ f, worth: worth(f) }))
    .filter(({ worth }) => worth > 0)
    .sort((a, b) => b.worth - a.worth)
    .map(({ f }) => f);
}
