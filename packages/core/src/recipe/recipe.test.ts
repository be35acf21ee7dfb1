import fc from 'fast-check';
import { defaultLamps } from '../lens/lamps';
import { defaultCard } from './defaults';
import { newRecipe, picturesOf, readRecipe, RecipeError, withPictures, type Card, type Recipe } from './recipe';

const recipe = newRecipe('A goat', 'shot-1', 1800, 1200);

/** The same as version 4 wrote it. */
function asVersion4(r: Recipe): object {
  const old = JSON.parse(JSON.stringify(r)) as Record<string, unknown> & { cards: Record<string, unknown>[] };
  delete old.finish;
  for (const card of old.cards) {
    for (const key of ['grade', 'detail', 'limit']) delete card[key];
    card.look = { warmth: 0, exposure: 0, saturation: 1 };
  }
  return { ...old, version: 4, match: { cast: 0, tone: 0 } };
}

test('a new recipe is a valid one and survives being written down', () => {
  expect(readRecipe(JSON.parse(JSON.stringify(recipe)))).toEqual(recipe);
  expect(picturesOf(recipe)).toEqual(['shot-1']);
});

test.each([
  ['nothing', undefined, /recipe itself/],
  ['a wrong number', { ...recipe, lens: { ...recipe.lens, fNumber: -1 } }, /lens\.fNumber/],
  [
    'a mark without points',
    { ...recipe, subjects: [{ ...recipe.subjects[0], marks: [{ kind: 'inside', radius: 3, points: [] }] }] },
    /marks/,
  ],
  ['a card of a subject that is not there', { ...recipe, subjects: [] }, /does not hold/],
  ['a later version', { ...recipe, version: 7 }, /version 7/],
  ['Infinity', { ...recipe, cards: [{ ...recipe.cards[0], distance: Infinity }] }, /cards/],
])('%s is refused with its place', (_, data, words) => {
  expect(() => readRecipe(data)).toThrow(RecipeError);
  expect(() => readRecipe(data)).toThrow(words);
});

describe('any change within its bounds', () => {
  const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
  const marks = fc.array(
    fc.record({
      kind: fc.constantFrom('inside' as const, 'outside' as const, 'edge' as const),
      radius: number(0.1, 500),
      points: fc.array(
        fc.oneof(fc.tuple(number(-100, 4000), number(-100, 4000)), fc.tuple(number(-100, 4000), number(-100, 4000), number(0, 1))),
        { minLength: 1, maxLength: 9 },
      ),
    }),
    { maxLength: 6 },
  );

  test('is read back as it was written', () => {
    fc.assert(
      fc.property(marks, number(0.5, 64), number(0.1, 300), number(0, 1), fc.nat(), (m, fNumber, distance, cast, seed) => {
        const changed: Recipe = {
          ...recipe,
          seed,
          subjects: [{ ...recipe.subjects[0], marks: m }],
          lens: { ...recipe.lens, fNumber },
          cards: recipe.cards.map((c) => ({ ...c, distance })),
          match: { ...recipe.match, strengths: { ...recipe.match.strengths, cast, tint: 1 - cast } },
        };
        expect(readRecipe(JSON.parse(JSON.stringify(changed)))).toEqual(JSON.parse(JSON.stringify(changed)));
      }),
    );
  });

  test('whatever is given, it is read or refused with a sentence, never worse', () => {
    fc.assert(
      fc.property(fc.jsonValue(), fc.constantFrom('lens', 'cards', 'subjects', 'frame', 'match', 'version', 'name'), (value, at) => {
        try {
          readRecipe({ ...recipe, [at]: value });
        } catch (error) {
          expect(error).toBeInstanceOf(RecipeError);
          expect((error as Error).message).toMatch(/^(The|This) recipe.*\.$/s);
        }
      }),
    );
  });

  test('unknown extras are dropped, so that files stay small and known', () => {
    expect(readRecipe({ ...recipe, mood: 'cheerful' })).toEqual(recipe);
  });
});

test('a picture used twice is named once', () => {
  const twice: Recipe = {
    ...recipe,
    cards: [
      ...recipe.cards,
      { ...defaultCard, id: 'c', kind: 'picture', picture: 'shot-1', matte: null, lamps: defaultLamps, distance: 9 },
    ],
  };
  expect(picturesOf(twice)).toEqual(['shot-1']);
});

describe('what later versions brought', () => {
  const [subject] = recipe.subjects;

  test('a recipe of version 1 is brought up to it, its marks kept', () => {
    const old = asVersion4(recipe) as unknown as Record<string, unknown>;
    const { id, shot, trim, plate } = subject;
    const marks = [{ kind: 'inside', radius: 3, points: [[1, 2]] }];
    delete old.mattes;
    delete old.multiplied;
    const read = readRecipe({ ...old, version: 1, subjects: [{ id, shot, trim, plate, marks }] });
    expect(read).toEqual({ ...recipe, subjects: [{ ...subject, marks, plate: { ...plate, fill: { kind: 'smooth' } } }] });
  });

  test('a plate of version 2 keeps its smooth fill, growth and feather', () => {
    const plate = { fill: 'smooth', grow: 12, feather: 3 };
    const read = readRecipe({ ...asVersion4(recipe), version: 2, subjects: [{ ...subject, plate }] });
    expect(read.subjects[0].plate).toEqual({ ...subject.plate, fill: { kind: 'smooth' }, grow: 12, feather: 3 });
    expect(read.version).toBe(5);
  });

  test('a job of version 3 keeps its cards upright and flat, its lens round, its frame the shot', () => {
    const old = asVersion4(recipe) as unknown as Recipe & { version: number };
    const cards = old.cards.map(({ id, kind, distance, placement: { x, y, scale, flip }, ...rest }) => ({
      ...{ id, kind, distance, placement: { x, y, scale, flip } },
      ...('subject' in rest && { subject: rest.subject }),
    }));
    const { width, height } = old.frame;
    const { focalLength, sensorWidth, fNumber, focus } = old.lens;
    const [{ size, ...subject3 }] = old.subjects;
    expect(size).toEqual({ width, height });
    const of3 = {
      ...old,
      version: 3,
      cards,
      frame: { width, height },
      lens: { focalLength, sensorWidth, fNumber, focus },
      subjects: [subject3],
    };
    expect(readRecipe(of3)).toEqual(recipe);
  });

  test('a job of version 4 keeps its cards’ looks, and its match as strengths', () => {
    const old = asVersion4(recipe) as { cards: { look: object }[] };
    old.cards[0].look = { warmth: 40, exposure: -1, saturation: 0.5 };
    const read = readRecipe({ ...old, match: { cast: 0.6, tone: 0.2 } });
    expect(read.cards[0].grade).toEqual({ ...recipe.cards[0].grade, temperature: 40, exposure: -1, saturation: 0.5 });
    expect(read.match.strengths).toEqual({ cast: 0.6, tint: 0.6, black: 0.2, white: 0.2, middle: 0.2, contrast: 0.2, saturation: 0 });
    expect(read.finish).toEqual(recipe.finish);
  });

  test('every grade, limit, reference and finish is read back; a limit by a matte that is not held is refused', () => {
    const stroke = { radius: 4, hardness: 0.5, opacity: 1, points: [[1, 2]] as [number, number][] };
    const limit = {
      matte: null,
      graduated: { from: [0, 0] as [number, number], to: [0, 90] as [number, number] },
      painted: [stroke],
      outside: true,
    };
    const hue = { hue: 50, width: 20, turn: 5, saturation: 1.2, lightness: -0.5 };
    const curves = { ...recipe.finish.grade.curves, red: [[0, 0], [0.5, 0.6], [1, 1]] as [number, number][] }; // prettier-ignore
    const grade = { ...recipe.finish.grade, temperature: 30, neutrals: [0.1, 0, -0.1] as [number, number, number], hues: [hue], curves };
    const reference = { radius: 1, filled: true, points: [[0, 0], [9, 0], [9, 9]] as [number, number][] }; // prettier-ignore
    const full: Recipe = {
      ...recipe,
      cards: recipe.cards.map((c) => ({ ...c, grade, limit, detail: { sharpen: 1, radius: 2, soften: 0 } })),
      match: { ...recipe.match, moves: 'both', references: { subject: reference, background: null }, protect: [{ hue: 40, width: 20 }] },
      finish: { ...recipe.finish, grade, limit, grain: { back: 1, over: 0.5, size: 0.7 }, dither: true },
    };
    expect(readRecipe(JSON.parse(JSON.stringify(full)))).toEqual(full);
    const lost = { ...full.finish, limit: { ...limit, matte: 'gone' } };
    expect(() => readRecipe({ ...full, finish: lost })).toThrow(/matte gone, which it does not hold/);
  });

  test('every kind of card and every distance is read back, maps are counted, pictures can be renamed', () => {
    const loop = { radius: 1, filled: true, points: [[1, 1], [9, 1], [9, 9]] as [number, number][] }; // prettier-ignore
    const distances: Card['distances'] = {
      ground: { line: 900, horizon: 400, distance: 3 },
      lean: { across: 0.2, down: -1 },
      map: { picture: 'map', reading: 'nearness', near: 1, far: 50 },
      pegs: [{ x: 1, y: 2, distance: 3 }],
      between: 'smooth',
      painted: [{ distance: 2, radius: 5, hardness: 1, opacity: 1, points: [[1, 1]] }],
      standing: [loop],
    };
    const blurLimit: Card['blurLimit'] = { matte: null, graduated: { from: [1, 2], to: [3, 4] }, painted: [], outside: true };
    const areas = [{ region: loop, size: 9, density: 0.4, lift: 2 }];
    const lamps = { ...defaultLamps, areas, lift: 3, dropped: [[4, 5]] as [number, number][], set: [{ x: 1, y: 2, size: 9, colour: '#ffaa00', softness: 0, lift: 4 }] }; // prettier-ignore
    const full: Recipe = {
      ...recipe,
      cards: [
        ...recipe.cards,
        {
          ...defaultCard,
          id: 'p',
          kind: 'picture',
          picture: 'sky',
          matte: null,
          lamps,
          distance: 50,
          distances,
          blend: 'screen',
          blur: 4,
          wash: { colour: '#336699', strength: 0.5 },
          blurLimit,
        },
        {
          ...defaultCard,
          id: 'l',
          kind: 'lettering',
          text: 'Harbour',
          font: 'schibsted',
          size: 80,
          spacing: 0.1,
          colour: '#ffffff',
          distance: 5,
        },
        { ...defaultCard, id: 'g', kind: 'glow', size: 300, colour: '#ffcc88', lift: 1, distance: 6, opacity: 0.5 },
      ],
    };
    expect(readRecipe(JSON.parse(JSON.stringify(full)))).toEqual(full);
    const [first, ...others] = full.cards;
    const lost = [{ ...first, blurLimit: { ...defaultCard.blurLimit, matte: 'gone' } }, ...others];
    expect(() => readRecipe({ ...full, cards: lost })).toThrow(/matte gone, which it does not hold/);
    expect(picturesOf(full)).toEqual(['shot-1', 'sky', 'map']);
    expect(picturesOf(withPictures(full, (id) => `new ${id}`))).toEqual(['new shot-1', 'new sky', 'new map']);
    const upsideDown = { ...distances, ground: { line: 100, horizon: 400, distance: 3 } };
    const cards = full.cards.map((c) => ({ ...c, distances: upsideDown }));
    expect(() => readRecipe({ ...full, cards })).toThrow(/ground line lies below the horizon/);
  });

  test('every fill, region, move and retouching stroke is read back, second pictures are counted', () => {
    const region = { radius: 1, filled: true, points: [[0, 0], [9, 0], [9, 9]] as [number, number][] }; // prettier-ignore
    const plate: Recipe['subjects'][number]['plate'] = {
      grow: 2,
      feather: 1,
      regions: [{ how: 'take', region }],
      fill: { kind: 'photographed', picture: 'second' },
      parts: [
        { region, fill: { kind: 'borrowed', from: [region], x: 3, y: -4, tries: 3, taken: 2 } },
        { region, fill: { kind: 'photographed', picture: 'third' } },
      ],
      moves: [{ region, x: 1, y: 2, size: 1.5, feather: 4 }],
      retouch: [
        { tip: 'heal', radius: 3, hardness: 0.5, opacity: 1, points: [[1, 1, 0.5]], source: [5, 6], flip: true, size: 2 }, // prettier-ignore
        { tip: 'paint', radius: 3, hardness: 1, opacity: 0.4, points: [[1, 1]], colour: '#102030' }, // prettier-ignore
      ],
    };
    const full: Recipe = { ...recipe, subjects: [{ ...subject, plate }] };
    expect(readRecipe(JSON.parse(JSON.stringify(full)))).toEqual(full);
    expect(picturesOf(full)).toEqual(['shot-1', 'second', 'third']);
    const wrong = { ...plate, retouch: [{ ...plate.retouch[1], colour: 'red' }] };
    expect(() => readRecipe({ ...full, subjects: [{ ...subject, plate: wrong }] })).toThrow(/colour is #rrggbb/);
  });

  test('every way of cutting and everything drawn is read back', () => {
    const full: Recipe = {
      ...recipe,
      subjects: [
        {
          ...subject,
          cut: 'difference',
          difference: { plate: 'empty', threshold: 6 },
          screen: { ...subject.screen, colour: '#22aa44' },
          marks: [{ kind: 'outside', radius: 1, points: [[0, 0], [4, 0], [4, 4]], filled: true }], // prettier-ignore
          garbage: [
            { kind: 'ellipse', x: 1, y: 2, width: 3, height: 4 },
            { kind: 'polygon', points: [[0, 0], [4, 0], [4, 4]] }, // prettier-ignore
          ],
          hand: [{ tip: 'soften', radius: 4, hardness: 0, opacity: 1, points: [[1, 1, 0.4]] }], // prettier-ignore
          with: [{ matte: 'm', how: 'intersect' }],
        },
      ],
      mattes: [{ id: 'm', name: 'Wheels', picture: 'grey' }],
      multiplied: [{ picture: 'shot-1', over: '#ffffff' }],
    };
    expect(readRecipe(JSON.parse(JSON.stringify(full)))).toEqual(full);
    expect(picturesOf(full)).toEqual(['shot-1', 'empty', 'grey']);
  });

  test.each<[string, Partial<Recipe['subjects'][number]>, RegExp]>([
    ['a colour that is none', { screen: { ...subject.screen, colour: 'green' } }, /screen\.colour/],
    ['a box without width', { garbage: [{ kind: 'rectangle', x: 0, y: 0, width: 0, height: 5 }] }, /garbage/],
    ['a polygon of two corners', { garbage: [{ kind: 'polygon', points: [[0, 0], [1, 1]] }] }, /garbage/], // prettier-ignore
    ['a stroke of twice its strength', { hand: [{ tip: 'clear', radius: 1, hardness: 0, opacity: 2, points: [[1, 1]] }] }, /hand/], // prettier-ignore
    ['a kept matte that is not held', { with: [{ matte: 'gone', how: 'union' }] }, /matte gone, which it does not hold/],
  ])('%s is refused with its place', (_, change, words) => {
    expect(() => readRecipe({ ...recipe, subjects: [{ ...subject, ...change }] })).toThrow(words);
  });
});

test.each<[string, (r: Recipe) => unknown, RegExp]>([
  [
    'a frame that no machine can hold',
    (r) => ({ ...r, frame: { ...r.frame, width: 25_000, height: 25_000 } }),
    /frame is 25000 × 25000 px; up to 150/,
  ],
  ['a frame that is none', (r) => ({ ...r, frame: { ...r.frame, width: 1e9 } }), /frame\.width/],
  ['a point at the end of the world', (r) => ({ ...r, lens: { ...r.lens, focus: 1e308 } }), /lens\.focus/],
  [
    'a mark out there',
    (r) => ({ ...r, subjects: [{ ...r.subjects[0], marks: [{ kind: 'inside', radius: 3, points: [[1e308, 0]] }] }] }),
    /marks\.0/,
  ],
  ['no subject', (r) => ({ ...r, subjects: [], cards: [] }), /no subject/],
  ['two of one name', (r) => ({ ...r, subjects: [r.subjects[0], r.subjects[0]] }), /two subjects called subject-1/],
  ['two cards of one name', (r) => ({ ...r, cards: [r.cards[0], r.cards[0]] }), /two cards called/],
])('%s is refused with its place', (_, change, words) => {
  expect(() => readRecipe(change(newRecipe('A', 'shot', 60, 40)))).toThrow(words);
});
