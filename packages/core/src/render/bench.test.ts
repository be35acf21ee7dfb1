import { defaultContext } from '../runtime/context';
import { luminance } from '../colour/cielab';
import { defaultLamps } from '../lens/lamps';
import { strewnLamps } from '../lens/strewn';
import { pictureOfMatte } from '../matte/edit/kept';
import type { Picture } from '../raster/plane';
import { resizePicture, scaledSize } from '../raster/resize';
import { defaultCard } from '../recipe/defaults';
import { newRecipe, type Card, type Recipe } from '../recipe/recipe';
import { ballScene, largestDifference, pictureFrom } from '../testing/scenes';
import { ProductMemory } from './memory';
import type { PictureSource } from './products';
import { render } from './render';

const [w, h] = [180, 120];
const { shot } = ballScene(w, h, 3);
const embers = pictureFrom(60, 40, (x, y) => (Math.hypot(x - 30, y - 20) < 3 ? [1, 0.5, 0.1] : [0, 0, 0]));
const night = pictureFrom(w, h, (x, y) => (Math.hypot(x - 40, y - 30) < 4 ? [1, 1, 1] : [0.02, 0.02, 0.04]));
const half = pictureOfMatte({ width: w, height: h, data: new Float32Array(w * h).fill(1).fill(0, 0, (w * h) / 2) });
const pictures: Record<string, Picture> = { shot, embers, night, half };

const source: PictureSource = {
  key: (id) => id,
  load: (id, scale) => {
    const { width, height } = scaledSize(pictures[id].width, pictures[id].height, scale);
    return Promise.resolve(resizePicture(pictures[id], width, height));
  },
  letters: (text) => Promise.resolve([[-0.5, 0.5].flatMap((y): [number, number][] => (y < 0 ? [[-text.length / 2, y], [text.length / 2, y]] : [[text.length / 2, y], [-text.length / 2, y]]))]), // prettier-ignore
};

const plain = newRecipe('A ball', 'shot', w, h);
const marked: Recipe = {
  ...plain,
  subjects: [
    {
      ...plain.subjects[0],
      plate: { ...plain.subjects[0].plate, fill: { kind: 'smooth' } },
      marks: [
        { kind: 'inside', radius: 8, points: [[80, 60], [100, 60]] }, // prettier-ignore
        { kind: 'outside', radius: 6, points: [[10, 10], [170, 10], [170, 110]] }, // prettier-ignore
      ],
    },
  ],
  lens: { ...plain.lens, fNumber: 22 },
};
const picture = (part: Partial<Extract<Card, { kind: 'picture' }>>): Card => ({
  ...defaultCard,
  id: 'extra',
  kind: 'picture',
  picture: 'night',
  matte: null,
  lamps: defaultLamps,
  distance: 10,
  ...part,
});
const withCards = (...cards: Card[]): Recipe => ({ ...marked, cards: [...marked.cards, ...cards] });
/** What is only looked at is made once for all tests. */
const known = new ProductMemory();
const see = (r: Recipe): Promise<Picture> => render(r, source, 'composite', defaultContext(), known);

describe('what stands on the bench', () => {
  test('a hidden card is not seen', async () => {
    const hidden = withCards(picture({ hidden: true, distance: 1 }));
    expect(await see(hidden)).toEqual(await see(marked));
  });

  test('a clear card over all lets everything through, half of it half', async () => {
    const [none, some, all] = await Promise.all([0, 0.5, 1].map((opacity) => see(withCards(picture({ opacity, distance: 1, blur: 0 }))))); // prettier-ignore
    const at = 100 * w + 90;
    expect(none.g[at]).toBeCloseTo((await see(marked)).g[at], 5);
    expect(some.g[at]).toBeCloseTo((none.g[at] + all.g[at]) / 2, 4);
  });

  test('light on black is laid on by screen, only where there is light', async () => {
    const lit = await see(withCards(picture({ picture: 'embers', blend: 'screen', distance: 1, blur: 0 })));
    const bare = await see(marked);
    expect(lit.r[60 * w + 90]).toBeGreaterThan(bare.r[60 * w + 90]);
    expect(lit.r[10 * w + 10]).toBeCloseTo(bare.r[10 * w + 10], 4);
  });

  test('a card behind the subject is hidden by it, one before it hides it; nearer means before', async () => {
    const behind = await see(withCards(picture({ distance: 10, blur: 0 })));
    const before = await see(withCards(picture({ distance: 1, blur: 0 })));
    const middle = 60 * w + 90;
    expect(behind.r[middle]).toBeGreaterThan(0.3);
    expect(before.r[middle]).toBeLessThan(0.1);
    expect(behind.r[5 * w + 5]).toBeLessThan(0.1);
  });

  test('lettering between cards is set in its place, and a glow adds light', async () => {
    const words: Card = { ...defaultCard, id: 'l', kind: 'lettering', text: 'ab', font: 'any', size: 30, spacing: 0, colour: '#ff0000', distance: 10, blur: 0 }; // prettier-ignore
    const out = await see(withCards({ ...words, placement: { ...words.placement, y: -45 } }));
    expect(out.r[15 * w + 90]).toBeCloseTo(1, 2);
    expect(out.g[15 * w + 90]).toBeCloseTo(0, 2);
    expect(out.r[60 * w + 90]).toBeLessThan(0.9);
    const shining: Card = {
      ...defaultCard,
      id: 'g',
      kind: 'glow',
      size: 40,
      colour: '#ffffff',
      lift: 0,
      distance: 10,
      blend: 'screen',
      blur: 0,
    };
    const glowing = await see(withCards({ ...shining, placement: { ...shining.placement, x: -60, y: -40 } }));
    expect(glowing.g[20 * w + 30]).toBeGreaterThan((await see(marked)).g[20 * w + 30] + 0.1);
  });

  test('lettering without fonts is refused with a sentence', async () => {
    const words: Card = {
      ...defaultCard,
      id: 'l',
      kind: 'lettering',
      text: 'a',
      font: 'any',
      size: 30,
      spacing: 0,
      colour: '#ff0000',
      distance: 10,
    };
    const mute = { key: source.key, load: source.load };
    await expect(render(withCards(words), mute, 'composite', defaultContext())).rejects.toThrow(/no fonts/);
  });

  test('a kept matte cuts a picture', async () => {
    const recipe = {
      ...withCards(picture({ matte: 'm', distance: 1, blur: 0 })),
      mattes: [{ id: 'm', name: 'Lower half', picture: 'half' }],
    };
    const [out, bare] = [await see(recipe), await see(marked)];
    expect(out.g[20 * w + 10]).toBeCloseTo(bare.g[20 * w + 10], 5);
    expect(out.g[100 * w + 10]).toBeCloseTo(0.02, 4);
  });

  test('a further subject stands beside the first, from its own marks', async () => {
    const second = { ...marked.subjects[0], id: 'subject-2' };
    const card: Card = {
      ...defaultCard,
      id: 'two',
      kind: 'subject',
      subject: 'subject-2',
      distance: 2,
      placement: { ...defaultCard.placement, x: 60 },
    };
    const out = await see({ ...withCards(card), subjects: [...marked.subjects, second] });
    expect(out.r[60 * w + 150]).toBeGreaterThan(0.3);
    expect((await see(marked)).r[60 * w + 150]).toBeLessThan(0.2);
  });
});

describe('a band of sharpness', () => {
  test('blurs a card beyond it, by the lens’s own opening, and not within it', async () => {
    const band = { x: w / 2, y: h / 2, turn: 0, sharp: 30, soft: 10, blur: 20 };
    const with_ = (part: object): Recipe => ({ ...marked, cards: [{ ...picture({ id: 'b', distance: 20, blur: 0 }), ...part }] });
    const [sharp, banded] = [await see(with_({})), await see(with_({ band }))];
    const apart = (y: number): number =>
      Math.max(...Array.from({ length: w }, (_, x) => Math.abs(sharp.r[y * w + x] - banded.r[y * w + x])));
    expect(apart(h / 2)).toBeLessThan(1e-5);
    expect(Math.max(apart(8), apart(h - 8), apart(30))).toBeGreaterThan(0.01);
    const memory = new ProductMemory();
    const by = (shape: 'disc' | 'soft'): Promise<Picture> =>
      render(
        { ...with_({ band }), lens: { ...marked.lens, aperture: { ...marked.lens.aperture, shape } } },
        source,
        'composite',
        defaultContext(),
        memory,
      );
    expect((await by('disc')).r).not.toEqual((await by('soft')).r);
  });
});

describe('a blur that is not everywhere', () => {
  const stripes = pictureFrom(w, h, (x) => (x % 8 < 4 ? [0.8, 0.8, 0.8] : [0.05, 0.05, 0.05]));
  const striped: PictureSource = { ...source, load: (id, scale) => (id === 'stripes' ? Promise.resolve(stripes) : source.load(id, scale)) };
  const seen = (part: object, lens = marked.lens): Promise<Picture> =>
    render({ ...marked, lens, cards: [{ ...picture({ id: 'b', picture: 'stripes', distance: 20 }), ...part }] }, striped, 'composite', defaultContext()); // prettier-ignore
  const contrast = ({ r }: Picture, x: number): number => Math.abs(r[60 * w + x] - r[60 * w + x + 4]);
  const graduated = { from: [w, 0] as [number, number], to: [0, 0] as [number, number] };
  const blurLimit = { matte: null, graduated, painted: [], outside: false };
  const wide = { ...marked.lens, fNumber: 1 };

  test.each([
    ['of its own', { blur: 14 }],
    ['by the lens', { blur: null }],
    ['beyond a band', { band: { x: 0, y: -200, turn: 0, sharp: 10, soft: 10, blur: 14 } }],
  ])('%s goes from sharp to its whole along a graduation', async (_, part) => {
    const [whole, ended] = [await seen(part, wide), await seen({ ...part, blurLimit }, wide)];
    expect(contrast(ended, 2)).toBeGreaterThan(0.6);
    expect(contrast(ended, 160)).toBeLessThan(0.25);
    expect(Math.abs(contrast(ended, 170) - contrast(whole, 170))).toBeLessThan(0.1);
  });

  test('painted, it is there alone; outside, everywhere else', async () => {
    const painted = [{ radius: 30, hardness: 1, opacity: 1, points: [[50, 60]] as [number, number][] }];
    const out = await seen({ blur: 14, blurLimit: { ...blurLimit, graduated: null, painted } });
    expect(contrast(out, 48)).toBeLessThan(0.3);
    expect(contrast(out, 150)).toBeGreaterThan(0.7);
    const other = await seen({ blur: 14, blurLimit: { ...blurLimit, graduated: null, painted, outside: true } });
    expect(contrast(other, 48)).toBeGreaterThan(0.6);
    expect(contrast(other, 150)).toBeLessThan(0.3);
  });

  test('where nothing limits it, it is the very same', async () => {
    expect((await seen({ blur: 9 })).r).toEqual((await seen({ blur: 9, blurLimit: { ...blurLimit, graduated: null } })).r);
  });
});

describe('what a card is given', () => {
  test('a tint of its own turns its hue and keeps its light', async () => {
    const grey = pictureFrom(w, h, () => [0.3, 0.3, 0.3]);
    const plainGrey: PictureSource = { ...source, load: () => Promise.resolve(grey) };
    const card = picture({ id: 'g', blur: 0, wash: { colour: '#3060ff', strength: 1 } });
    const out = await render({ ...marked, cards: [card] }, plainGrey, 'composite', defaultContext());
    const [r, g, b] = [out.r[999], out.g[999], out.b[999]];
    expect(b).toBeGreaterThan(2 * r);
    expect(luminance(r, g, b)).toBeCloseTo(0.3, 2);
  });

  test('a thing that stands with the subject is as sharp as it, and follows it', async () => {
    const dots = pictureFrom(w, h, (x, y) => ((x >> 1) % 2 === (y >> 1) % 2 ? [0.9, 0.9, 0.9] : [0.1, 0.1, 0.1]));
    const dotted: PictureSource = { ...source, load: (id, scale) => (id === 'dots' ? Promise.resolve(dots) : source.load(id, scale)) };
    const standing = [{ radius: 1, filled: true, points: [[10, 10], [60, 10], [60, 110], [10, 110]] as [number, number][] }]; // prettier-ignore
    const behind = picture({ id: 'b', picture: 'dots', distance: 30, distances: { ...defaultCard.distances, standing } });
    const subject = marked.cards.find((c) => c.kind === 'subject')!;
    const lens = { ...marked.lens, fNumber: 1, focus: subject.distance };
    const at = async (cards: Card[]): Promise<Picture> => render({ ...marked, lens, cards }, dotted, 'background', defaultContext());
    const rough = ({ r }: Picture, x: number): number => Math.abs(r[60 * w + x] - r[60 * w + x + 2]);
    const out = await at([subject, behind]);
    expect(rough(out, 30)).toBeGreaterThan(0.7);
    expect(rough(out, 120)).toBeLessThan(0.3);
    expect(rough(await at([{ ...subject, distance: 12 }, behind]), 30)).toBeLessThan(0.3);
  });

  test('an area is filled with lights of the colours that are there, the same ones at any size', async () => {
    const two = pictureFrom(w, h, (x) => (x < w / 2 ? [0.02, 0.002, 0.002] : [0.002, 0.002, 0.02]));
    const region = { radius: 1, filled: true, points: [[20, 20], [160, 20], [160, 100], [20, 100]] as [number, number][] }; // prettier-ignore
    const area = { region, size: 6, density: 0.6, lift: 3 };
    const strewn = strewnLamps(two, [area], 1, 1);
    expect(strewn.length).toBeGreaterThan(20);
    for (const l of strewn) {
      expect(l.x > 20 && l.x < 160 && l.y > 20 && l.y < 100).toBe(true);
      if (l.x < 80) expect(l.colour).toMatch(/^#ff/);
      if (l.x > 100) expect(l.colour).toMatch(/ff$/);
    }
    const small = strewnLamps(resizePicture(two, w / 2, h / 2), [area], 1, 0.5);
    expect(small.map(({ x, y, size }) => [x, y, size])).toEqual(strewn.map(({ x, y, size }) => [x, y, size]));
    expect(strewnLamps(two, [{ ...area, density: 0 }], 1, 1).length).toBeLessThan(strewn.length / 2);
    const card = picture({ id: 'n', blur: 0, lamps: { ...defaultLamps, lift: 0, areas: [area] } });
    const dark = picture({ id: 'n', blur: 0, lamps: { ...defaultLamps, lift: 0 } });
    const [lit, bare] = [await see({ ...marked, cards: [card] }), await see({ ...marked, cards: [dark] })];
    const sum = ({ r, g, b }: Picture): number => r.reduce((s, v, p) => s + v + g[p] + b[p], 0);
    expect(sum(lit)).toBeGreaterThan(sum(bare) + 1000);
  });
});

describe('distances and lamps', () => {
  const ground = { ...defaultCard.distances, ground: { line: 100, horizon: 40, distance: 3 } };

  test('are what stands in front at every pixel', async () => {
    const recipe = { ...marked, cards: marked.cards.map((c) => (c.kind === 'plate' ? { ...c, distances: ground } : c)) };
    const out = await render(recipe, source, 'distances', defaultContext());
    expect(out.data[60 * w + 90]).toBe(3);
    expect(out.data[5 * w + 5]).toBeCloseTo(20, 3);
    expect(out.data[110 * w + 5]).toBeLessThan(3);
    expect(out.data[70 * w + 5]).toBeCloseTo(3 / ((70.5 - 40) / 60), 1);
  });

  test('of the farthest card are told where they lie, and give more light when lifted', async () => {
    const over = { ...marked, cards: [picture({ id: 'b', distance: 20, lamps: { ...defaultLamps, lift: 4 } }), marked.cards[1]] };
    const { lamps, card } = await render(over, source, 'lamps', defaultContext());
    expect(card).toBe('b');
    expect(lamps).toHaveLength(1);
    expect([lamps[0].at.x, lamps[0].at.y]).toEqual([expect.closeTo(40.5, 0), expect.closeTo(30.5, 0)]);
    // Whatever size is worked at, they are the ones of the whole photograph.
    const small = await render(over, source, 'lamps', defaultContext({ scale: 0.2 }));
    expect(small.lamps.map(({ x, y, radius, colour }) => [x, y, radius, colour])).toEqual(
      lamps.map(({ x, y, radius, colour }) => [x, y, radius, colour]),
    );
    const unlifted = { ...over, cards: [picture({ id: 'b', distance: 20, lamps: { ...defaultLamps, lift: 0 } }), marked.cards[1]] };
    const [lit, dim] = [await see(over), await see(unlifted)];
    expect(lit.r[30 * w + 40]).toBeGreaterThan(4 * dim.r[30 * w + 40]);
    expect(lit.r[110 * w + 170]).toBeCloseTo(dim.r[110 * w + 170], 3);
  });
});

describe('the frame', () => {
  test('cut, it shows that part of the scene, at the same blur', async () => {
    const all = await see(marked);
    const part = await see({ ...marked, frame: { width: 100, height: 60, x: 10, y: -4, turn: 0 } });
    expect([part.width, part.height]).toEqual([100, 60]);
    const cut = pictureFrom(100, 60, (x, y) => {
      const p = (y + 26) * w + x + 50;
      return [all.r[p], all.g[p], all.b[p]];
    });
    expect(largestDifference(part.r, cut.r)).toBeLessThan(0.02);
  });

  test('wider than the shot it has no empty rim', async () => {
    const out = await see({ ...marked, frame: { ...marked.frame, width: 240, height: 160 } });
    expect(Math.min(...out.g)).toBeGreaterThan(0.05);
  });

  test('straightened, what was tilted is upright', async () => {
    const out = await see({ ...marked, frame: { ...marked.frame, turn: 6 } });
    expect([out.width, out.height]).toEqual([w, h]);
    expect(out.r[60 * w + 90]).toBeGreaterThan(0.3);
  });
});
