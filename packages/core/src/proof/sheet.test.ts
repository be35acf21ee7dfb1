import { pictureFrom } from '../testing/scenes';
import { newRecipe, type Recipe } from '../recipe/recipe';
import { checkIds, checkKinds, judged, unknown, type Check, type CheckId, type CheckPlace } from './checks/check';
import { counted, cutAt, figureOf, inOrderOfConcern, sheetHtml, sheetSvg, worstPlaces, type SheetInputs } from './sheet';

const recipe: Recipe = newRecipe('Lanterns <at> "dusk" & after', 'shot', 600, 400);
const place = (x: number, frame?: number): CheckPlace => ({ x, y: 0, width: 9, height: 9, on: 'frame', ...(frame !== undefined && { frame }) }); // prettier-ignore
/** A check as far beyond its tolerance as is asked for. */
const off = (id: CheckId, how: 'good' | 'look' | 'wrong', places: CheckPlace[] = []): Check => {
  const { tolerance, wrong = Infinity } = checkKinds[id];
  const figure = { good: tolerance, look: tolerance + 0.1 * (Math.min(wrong, tolerance + 10) - tolerance), wrong: 2 * wrong }[how];
  const check = judged(id, figure, places);
  expect(check.verdict).toBe(how);
  return check;
};
const picture = { href: 'data:,', width: 60, height: 40 };
const inputs = (more: Partial<SheetInputs> = {}): SheetInputs => ({
  recipe,
  checks: [],
  before: picture,
  after: picture,
  matte: picture,
  plate: picture,
  places: [],
  date: '2024-05-06',
  recipeHash: 'abc',
  pictureHashes: [],
  ...more,
});

describe('what a sheet tells of checks', () => {
  test('a figure has its unit, in the number it is in, and what is not known has none', () => {
    expect(figureOf({ ...judged('plate-repeats', 1), figure: 1 })).toBe('1 piece');
    expect(figureOf(judged('plate-repeats', 3))).toBe('3 pieces');
    expect(figureOf(judged('banding', 0.234))).toBe('0.23 % of the picture');
    expect(figureOf(unknown('banding', 'Too small.'))).toBe('not known');
    // A figure that came before it turned out not to be known is not shown either.
    expect(figureOf({ ...unknown('banding', 'Too small.'), figure: 3 })).toBe('not known');
  });

  test('the worst come first, what is accepted behind the rest of its kind', () => {
    const checks = [
      off('banding', 'good'),
      unknown('contact', 'No ground.'),
      off('clipping', 'wrong'),
      off('light-gap', 'look'),
      off('edge-halo', 'wrong'),
    ];
    expect(inOrderOfConcern(checks, []).map((c) => c.id)).toEqual(['clipping', 'edge-halo', 'light-gap', 'contact', 'banding']);
    const accepted = [{ check: 'clipping', word: 'meant', figure: 100 }];
    expect(inOrderOfConcern(checks, accepted).map((c) => c.id)).toEqual(['edge-halo', 'clipping', 'light-gap', 'contact', 'banding']);
    expect(counted(checks, accepted)).toEqual({ wrong: 1, look: 1, unknown: 1, good: 2 });
    // Worse than when it was accepted, it is open again.
    expect(counted(checks, [{ check: 'clipping', word: 'meant', figure: 0.5 }]).wrong).toBe(2);
  });

  test('of every open check its worst place, then its second, and none of another frame', () => {
    const checks = [
      off('edge-halo', 'wrong', [place(1), place(2), place(3)]),
      off('clipping', 'wrong', [place(10, 7), place(11)]),
      off('light-gap', 'look', [place(20)]),
      off('banding', 'good', [place(30)]),
      off('edge-torn', 'wrong', [place(40)]),
    ];
    const accepted = [{ check: 'edge-torn', word: '', figure: 100 }];
    const at = (most: number): number[] => worstPlaces(checks, accepted, most).map((p) => p.place.x);
    expect(at(9)).toEqual([1, 20, 2, 11, 3]);
    expect(at(2)).toEqual([1, 20]);
    expect(worstPlaces([], [], 3)).toEqual([]);
  });

  test('a cut-out has the place in its middle, and black where the picture ends', () => {
    const p = pictureFrom(30, 20, (x, y) => [x / 100, y / 100, 0.5]);
    const cut = cutAt(p, 15, 10, 12, 8, 1);
    expect([cut.width, cut.height]).toEqual([12, 8]);
    expect([cut.r[4 * 12 + 6], cut.g[4 * 12 + 6]]).toEqual([p.r[10 * 30 + 15], p.g[10 * 30 + 15]]);
    const corner = cutAt(p, 0, 0, 12, 8, 1);
    expect([corner.b[0], corner.b[4 * 12 + 5]]).toEqual([0, 0]);
    expect(corner.b[4 * 12 + 6]).toBe(0.5);
    const twice = cutAt(p, 15, 10, 24, 16, 2);
    expect([twice.width, twice.height]).toEqual([24, 16]);
    const mean = (c: Float32Array): number => c.reduce((a, b) => a + b, 0) / c.length;
    expect(mean(twice.r)).toBeCloseTo(mean(cut.r), 3);
  });
});

describe('the sheet', () => {
  const textsOf = (svg: string): string[] => [...svg.matchAll(/<text [^>]*>([^<]*)<\/text>/g)].map((m) => m[1]);

  test('names are written out, whatever signs they have', () => {
    const svg = sheetSvg(inputs({ pictureHashes: [{ name: 'a<b>.jpg', hash: '12' }] }));
    expect(textsOf(svg)).toContain('Lanterns &lt;at&gt; &quot;dusk&quot; &amp; after');
    expect(svg).toContain('a&lt;b&gt;.jpg 12');
    expect(sheetHtml(inputs())).toContain('<title>Lanterns &lt;at&gt; &quot;dusk&quot; &amp; after: proof</title>');
  });

  test('every check has a line of its own, the worst highest, and what is not known is not filled', () => {
    const checks = checkIds.map((id, i) => (i % 3 === 0 ? unknown(id, 'No.') : off(id, i % 3 === 1 ? 'good' : 'look')));
    const svg = sheetSvg(inputs({ checks }));
    const texts = textsOf(svg);
    for (const id of checkIds) expect(texts.filter((t) => t === checkKinds[id].what)).toHaveLength(1);
    const rows = [...svg.matchAll(/<circle cx="1500" cy="([\d.]+)" r="8" fill="([^"]+)" stroke="([^"]+)"/g)];
    expect(rows).toHaveLength(checkIds.length);
    expect(rows.map((m) => Number(m[1]))).toEqual([...rows.map((m) => Number(m[1]))].sort((a, b) => a - b));
    const hollow = checks.filter((c) => c.verdict === 'unknown').length;
    expect(rows.filter((m) => m[2] === 'none')).toHaveLength(hollow);
    expect(texts.filter((t) => t === 'not known')).toHaveLength(2 * hollow);
    // Nothing is written below the page.
    for (const [, y] of svg.matchAll(/<text x="[\d.]+" y="([\d.]+)"/g)) expect(Number(y)).toBeLessThan(1754);
  });

  test('what was accepted says so with its word, and is not counted as open', () => {
    const svg = sheetSvg(inputs({ recipe: { ...recipe, accepted: [{ check: 'clipping', word: 'the lamp', figure: 99 }] }, checks: [off('clipping', 'wrong')] })); // prettier-ignore
    expect(textsOf(svg)).toContain('accepted: the lamp');
    expect(textsOf(svg)).toContain('0 wrong, 0 to look at, 0 not known of 1 checks');
  });

  test('pictures keep their shape; six places at most are shown, and that there is none is said', () => {
    const wide = { href: 'data:wide', width: 200, height: 10 };
    const svg = sheetSvg(inputs({ before: wide, places: Array.from({ length: 8 }, (_, i) => ({ ...picture, href: `data:${i}`, says: `place ${i}` })) })); // prettier-ignore
    const [, w, h] = /<image href="data:wide"[^>]* width="([\d.]+)" height="([\d.]+)"/.exec(svg)!.map(Number);
    expect(w / h).toBeCloseTo(20, 6);
    expect(textsOf(svg).filter((t) => t.startsWith('place '))).toEqual([0, 1, 2, 3, 4, 5].map((i) => `place ${i}`));
    expect(textsOf(sheetSvg(inputs()))).toContain('No check names a place.');
  });

  test('it is told in another language wherever it has words', () => {
    const told: string[] = [];
    const tell = (s: string): string => (told.push(s), s.toUpperCase());
    const page = sheetHtml(inputs({ checks: [off('clipping', 'wrong')] }), { tell, language: 'it' });
    expect(page).toContain('<html lang="it">');
    for (const word of ['BEFORE', 'CHECKS', 'WRONG', 'LENS', 'GRADE', checkKinds.clipping.what.toUpperCase()]) {
      expect(textsOf(page)).toContain(word);
    }
    expect(told).toContain('no card graded');
    const graded = { ...recipe, cards: recipe.cards.map((c) => ({ ...c, grade: { ...c.grade, exposure: 1 } })) };
    sheetSvg(inputs({ recipe: { ...graded, cards: graded.cards.slice(0, 1) } }), { tell });
    sheetSvg(inputs({ recipe: graded }), { tell });
    expect(told).toEqual(expect.arrayContaining(['1 card graded', '2 cards graded']));
  });
});
