import { blurDiscAt } from '../lens/thinLens';
import { resizePicture } from '../raster/resize';
import { makePicture, type Picture } from '../raster/plane';
import type { Recipe } from '../recipe/recipe';
import { checkKinds, isAccepted, unitOf, type Check, type CheckPlace, type Verdict } from './checks/check';

/** A picture of the sheet: its address (of data, mostly) and its size. */
export interface SheetPicture {
  href: string;
  width: number;
  height: number;
}

/** What stands on a sheet. */
export interface SheetInputs {
  recipe: Recipe;
  checks: readonly Check[];
  before: SheetPicture;
  after: SheetPicture;
  matte: SheetPicture;
  plate: SheetPicture;
  /** The worst places, cut out, each with what is to be seen there. */
  places: (SheetPicture & { says: string })[];
  /** Day it was made. */
  date: string;
  /** Short names for what the recipe and each of its pictures hold. */
  recipeHash: string;
  pictureHashes: { name: string; hash: string }[];
}

/** Size of the sheet, px: a page of A4 lying, 210 dots an inch. */
export const sheetSize = { width: 2480, height: 1754 };

/** How a line of text is drawn: by default as text; as outlines where there are no typefaces. */
export type Writing = (text: string, x: number, y: number, style: TextStyle) => string;
interface TextStyle {
  size: number;
  bold?: boolean;
  colour?: string;
  anchor?: 'start' | 'end';
}

function escaped(text: string): string {
  return text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');
}

const asText: Writing = (text, x, y, { size, bold = false, colour = ink, anchor = 'start' }) =>
  `<text x="${x}" y="${y}" font-size="${size}" fill="${colour}" text-anchor="${anchor}"${bold ? ' font-weight="700"' : ''}>${escaped(text)}</text>`;

const ink = '#20211f';
const faint = '#5d5e5a';
const rule = '#b5b4ae';
const tones: Record<Verdict, string> = { good: '#2c6343', look: '#8a5200', wrong: '#b23410', unknown: faint };

/** Puts what the sheet tells in another language; numbers too. */
type Telling = (sentence: string) => string;
const inEnglish: Telling = (sentence) => sentence;

/** What a check's figure reads, with its unit; what is not known says so. */
export function figureOf(check: Check, tell = inEnglish): string {
  if (check.figure === undefined || check.verdict === 'unknown') return tell('not known');
  return `${tell(check.figure.toFixed(checkKinds[check.id].digits))} ${tell(unitOf(check))}`;
}

/** Checks with the worst first: wrong ones, those to look at, what is not known, and good ones; accepted ones behind the rest of their kind. */
export function inOrderOfConcern(checks: readonly Check[], accepted: Recipe['accepted']): Check[] {
  const rank = (c: Check): number => ['wrong', 'look', 'unknown', 'good'].indexOf(c.verdict) + (isAccepted(c, accepted) ? 0.5 : 0);
  return [...checks].sort((a, b) => rank(a) - rank(b));
}

/** The worst places of all checks that are not good and not accepted, at most so many. */
export function worstPlaces(checks: readonly Check[], accepted: Recipe['accepted'], most: number): { check: Check; place: CheckPlace }[] {
  const open = inOrderOfConcern(checks, accepted).filter(
    (c) => (c.verdict === 'wrong' || c.verdict === 'look') && !isAccepted(c, accepted),
  );
  const out: { check: Check; place: CheckPlace }[] = [];
  // One of each check first, then the second of each, and so on.
  for (let round = 0; out.length < most && open.some((c) => c.places.length > round); round++) {
    for (const check of open) {
      const place = check.places[round];
      if (place && place.frame === undefined && out.length < most) out.push({ check, place });
    }
  }
  return out;
}

/** A piece of a picture around a point, enlarged by whole pixels. */
export function cutAt(p: Picture, x: number, y: number, width: number, height: number, times: number): Picture {
  const [w, h] = [Math.round(width / times), Math.round(height / times)];
  const [left, top] = [Math.round(x - w / 2), Math.round(y - h / 2)];
  const out = makePicture(w, h);
  for (let v = 0, q = 0; v < h; v++) {
    for (let u = 0; u < w; u++, q++) {
      const [sx, sy] = [left + u, top + v];
      if (sx < 0 || sy < 0 || sx >= p.width || sy >= p.height) continue;
      const at = sy * p.width + sx;
      [out.r[q], out.g[q], out.b[q]] = [p.r[at], p.g[at], p.b[at]];
    }
  }
  return resizePicture(out, width, height);
}

/** How a sheet is written. */
export interface SheetLook {
  write?: Writing;
  tell?: Telling;
  /** Of what is told, as two letters. */
  language?: string;
  /** The typeface's files, by their weights: addresses of data, so that the sheet stands alone. */
  typefaces?: readonly { weight: string; href: string }[];
}

/** Width of a letter as a share of a text's size, about. */
const letter = 0.53;

/** The sheet as SVG of `sheetSize`. */
export function sheetSvg(inputs: SheetInputs, { write = asText, tell = inEnglish, typefaces = [] }: SheetLook = {}): string {
  const { recipe, checks, date } = inputs;
  const words: Record<Verdict, string> = { good: tell('good'), look: tell('look'), wrong: tell('wrong'), unknown: tell('not known') };
  const faces = typefaces.map(({ weight, href }) => `@font-face{font-family:'Schibsted Grotesk';font-weight:${weight};src:url(${href})}`);
  const parts: string[] = [
    `<style>${faces.join('')}</style><rect width="${sheetSize.width}" height="${sheetSize.height}" fill="#ffffff"/>`,
  ];
  const line = (x1: number, y1: number, x2: number, y2: number, colour = rule): void =>
    void parts.push(`<line x1="${x1}" y1="${y1}" x2="${x2}" y2="${y2}" stroke="${colour}" stroke-width="2"/>`);
  const text = (t: string, x: number, y: number, style: TextStyle): void => void parts.push(write(t, x, y, style));
  const shown = (p: SheetPicture, x: number, y: number, w: number, h: number): void => {
    const ratio = Math.min(w / p.width, h / p.height);
    const [pw, ph] = [p.width * ratio, p.height * ratio];
    parts.push(`<image href="${p.href}" x="${x + (w - pw) / 2}" y="${y + (h - ph) / 2}" width="${pw}" height="${ph}"/>`);
  };

  text(recipe.name, 70, 108, { size: 56, bold: true });
  const { wrong, look, unknown } = counted(checks, recipe.accepted);
  text(tell(`${wrong} wrong, ${look} to look at, ${unknown} not known of ${checks.length} checks`), 2410, 84, { size: 30, anchor: 'end', colour: wrong ? tones.wrong : ink }); // prettier-ignore
  text(`${date} · ${recipe.frame.width} × ${recipe.frame.height} px`, 2410, 124, { size: 26, anchor: 'end', colour: faint });
  line(70, 146, 2410, 146, ink);

  const views: [string, SheetPicture][] = [[tell('Before'), inputs.before], [tell('After'), inputs.after], [tell('Matte'), inputs.matte], [tell('Plate'), inputs.plate]]; // prettier-ignore
  views.forEach(([name, picture], i) => {
    const [x, y] = [70 + 690 * (i % 2), 200 + 500 * Math.floor(i / 2)];
    text(name, x, y - 10, { size: 24, bold: true });
    shown(picture, x, y, 670, 440);
  });
  text(tell('The worst places, at 200 %'), 70, 1196, { size: 24, bold: true });
  inputs.places.slice(0, 6).forEach((place, i) => {
    const [x, y] = [70 + 458 * (i % 3), 1212 + 248 * Math.floor(i / 3)];
    shown(place, x, y, 440, 206);
    text(tell(place.says), x, y + 230, { size: 18, colour: faint });
  });
  if (inputs.places.length === 0) text(tell('No check names a place.'), 70, 1240, { size: 22, colour: faint });

  text(tell('Checks'), 1490, 190, { size: 24, bold: true });
  inOrderOfConcern(checks, recipe.accepted).forEach((check, i) => {
    const y = 228 + 38 * i;
    const { what } = checkKinds[check.id];
    const accepted = isAccepted(check, recipe.accepted) ? recipe.accepted.find((a) => a.check === check.id) : undefined;
    parts.push(`<circle cx="1500" cy="${y - 8}" r="8" fill="${check.verdict === 'unknown' ? 'none' : tones[check.verdict]}" stroke="${tones[check.verdict]}" stroke-width="3"/>`); // prettier-ignore
    const [name, figure] = [tell(what), figureOf(check, tell)];
    // Both stand in one line, smaller where they are long.
    const fits = Math.min(1, (2200 - 1522 - 24) / (letter * (21 * name.length + 20 * figure.length)));
    text(name, 1522, y, { size: 21 * fits });
    text(figure, 2200, y, { size: 20 * fits, anchor: 'end', colour: faint });
    text(accepted ? tell(`accepted: ${accepted.word || tell('as it is')}`).slice(0, 22) : words[check.verdict], 2410, y, { size: 20, anchor: 'end', colour: tones[check.verdict] }); // prettier-ignore
    line(1490, y + 11, 2410, y + 11);
  });

  const below = 228 + 38 * checks.length + 40;
  text(tell('Lens'), 1490, below, { size: 24, bold: true });
  lensWords(recipe, tell).forEach((t, i) => text(t, 1490, below + 34 + 30 * i, { size: 20 }));
  parts.push(benchDrawing(recipe, 1490, below + 108, 920, 110, write));
  text(tell('Grade'), 1490, below + 262, { size: 24, bold: true });
  gradeWords(recipe, tell).forEach((t, i) => text(t, 1490, below + 296 + 28 * i, { size: 20 }));
  const hashes = [tell(`recipe ${inputs.recipeHash}`), ...inputs.pictureHashes.slice(0, 4).map((p) => `${p.name} ${p.hash}`)];
  text(hashes.join(' · ').slice(0, 190), 70, 1726, { size: 18, colour: faint });
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${sheetSize.width}" height="${sheetSize.height}" viewBox="0 0 ${sheetSize.width} ${sheetSize.height}" font-family="'Schibsted Grotesk','Schibsted Grotesk Variable',sans-serif">${parts.join('')}</svg>`; // prettier-ignore
}

/** How many checks are open: accepted ones are not counted. */
export function counted(checks: readonly Check[], accepted: Recipe['accepted']): Record<Verdict, number> {
  const out: Record<Verdict, number> = { good: 0, look: 0, wrong: 0, unknown: 0 };
  for (const check of checks) out[isAccepted(check, accepted) ? 'good' : check.verdict]++;
  return out;
}

function lensWords({ lens, cards }: Recipe, tell: Telling): string[] {
  const { focalLength, fNumber, focus, aperture } = lens;
  const shape = { disc: tell('round'), blades: tell(`of ${aperture.blades} blades`), soft: tell('soft') }[aperture.shape];
  const kinds = {
    plate: tell('Plate'),
    picture: tell('picture'),
    subject: tell('subject'),
    lettering: tell('lettering'),
    glow: tell('glow'),
  };
  const discs = cards
    .filter((c) => !c.hidden)
    .map((c) => {
      const disc = c.blur ?? Math.abs(blurDiscAt(lens, c.distance, lens.across));
      return `${c.name || kinds[c.kind]} ${tell(`${disc.toFixed(0)} px at ${c.distance.toFixed(1)} m`)}`;
    });
  return [
    tell(`${focalLength.toFixed(0)} mm at f/${fNumber.toFixed(1)}, focused at ${focus.toFixed(2)} m, opening ${shape}`),
    `${tell('Blur')}: ${discs.join(', ')}`.slice(0, 105),
  ];
}

/** The bench from the side: distances on a scale of ratios, cards upright, the focus as a line. */
function benchDrawing({ cards, lens }: Recipe, x: number, y: number, width: number, height: number, write: Writing): string {
  const at = (metres: number): number => x + 30 + ((width - 60) * Math.log(Math.min(200, Math.max(0.5, metres)) / 0.5)) / Math.log(400);
  const parts = [`<line x1="${x}" y1="${y + height - 24}" x2="${x + width}" y2="${y + height - 24}" stroke="${ink}" stroke-width="2"/>`];
  for (const m of [1, 3, 10, 30, 100]) parts.push(write(`${m} m`, at(m), y + height, { size: 16, colour: faint }));
  for (const card of cards.filter((c) => !c.hidden)) {
    const cx = at(card.distance);
    parts.push(`<polygon points="${cx - 9},${y + 34} ${cx + 9},${y + 24} ${cx + 9},${y + height - 34} ${cx - 9},${y + height - 24}" fill="#e4e3df" stroke="${ink}" stroke-width="2"/>`); // prettier-ignore
  }
  const focus = at(lens.focus);
  parts.push(`<line x1="${focus}" y1="${y + 6}" x2="${focus}" y2="${y + height - 18}" stroke="#d6461f" stroke-width="4"/>`);
  return parts.join('');
}

function gradeWords({ match, finish, cards }: Recipe, tell: Telling): string[] {
  const share = (v: number): string => `${Math.round(100 * v)} %`;
  const names: Record<keyof typeof match.strengths, string> = {
    ...{ cast: tell('cast'), tint: tell('tint'), black: tell('black level'), white: tell('white'), middle: tell('middle') },
    ...{ contrast: tell('contrast'), saturation: tell('colourfulness') },
  };
  const kinds = Object.keys(names) as (keyof typeof names)[];
  const moved = kinds.filter((k) => match.strengths[k] > 0).map((k) => `${names[k]} ${share(match.strengths[k])}`);
  const { grade, grain, dither } = finish;
  const own: string[] = [];
  if (grade.exposure) own.push(tell(`${grade.exposure.toFixed(2)} stops`));
  if (grade.temperature) own.push(`${grade.temperature.toFixed(0)} mired`);
  if (grade.contrast) own.push(`${names.contrast} ${share(grade.contrast)}`);
  const graded = cards.filter((c) => c.grade.exposure !== 0 || c.grade.temperature !== 0 || c.grade.saturation !== 1).length;
  return [
    `${tell('Matched')}: ${moved.length > 0 ? moved.join(', ') : tell('nothing')}`.slice(0, 105),
    [
      `${tell('Whole')}: ${own.length > 0 ? own.join(', ') : tell('as it is')}`,
      tell(`grain put back ${share(grain.back)}`) + (dither ? `, ${tell('steps dissolved')}` : ''),
      graded === 0 ? tell('no card graded') : graded === 1 ? tell('1 card graded') : tell(`${graded} cards graded`),
    ].join('; '),
  ];
}

/** The sheet as a page of its own, made to be printed on one side lying. */
export function sheetHtml(inputs: SheetInputs, look: Omit<SheetLook, 'write'> = {}): string {
  const { tell = inEnglish, language = 'en' } = look;
  const svg = sheetSvg(inputs, look);
  return `<!doctype html>
<html lang="${language}"><head><meta charset="utf-8"><title>${escaped(inputs.recipe.name)}: ${tell('proof')}</title>
<style>@page{size:A4 landscape;margin:0}html,body{margin:0;background:#7d7d7d}svg{display:block;width:100%;height:auto;max-width:297mm;margin:0 auto;background:#fff}
@media print{html,body{background:#fff}svg{width:297mm;height:209mm;max-width:none}}</style></head>
<body>${svg}</body></html>
`;
}
