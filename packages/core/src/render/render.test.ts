import { defaultContext, type Context } from '../runtime/context';
import { discBlur } from '../lens/defocus';
import { meanDeltaE } from '../proof/compare';
import { pictureOfMatte } from '../matte/edit/kept';
import { makePicture, type Picture } from '../raster/plane';
import { resizePicture, scaledSize } from '../raster/resize';
import { defaultLamps } from '../lens/lamps';
import { defaultCard } from '../recipe/defaults';
import { newRecipe, type Recipe } from '../recipe/recipe';
import { over } from '../placement/blend';
import { ballScene, largestDifference, pictureFrom } from '../testing/scenes';
import { keyOf, ProductMemory } from './memory';
import type { PictureSource, Products, Want } from './products';
import { render } from './render';

const { shot } = ballScene(240, 180, 4);
const night = pictureFrom(120, 120, (x) => [0.02, 0.02, 0.05 + x / 400]);

function source(loads: string[] = []): PictureSource {
  return {
    key: (id) => id,
    load: (id, scale) => {
      loads.push(id);
      const p = id === 'night' ? night : shot;
      const { width, height } = scaledSize(p.width, p.height, scale);
      return Promise.resolve(resizePicture(p, width, height));
    },
  };
}

const plain = newRecipe('Ball', 'ball', 240, 180);
const marked: Recipe = {
  ...plain,
  subjects: [
    {
      ...plain.subjects[0],
      marks: [
        {
          kind: 'inside',
          radius: 8,
          points: [
            [105, 90],
            [135, 90],
          ],
        },
        {
          kind: 'outside',
          radius: 8,
          points: [
            [15, 15],
            [225, 15],
          ],
        },
      ],
    },
  ],
  lens: { ...plain.lens, fNumber: 1 },
};
const overNight: Recipe = {
  ...marked,
  cards: [{ ...defaultCard, kind: 'picture', picture: 'night', matte: null, lamps: defaultLamps, id: 'b', distance: 9 }, marked.cards[1]],
};

/** What is only looked at is made once for all tests; those of memories and of sameness make it anew. */
const known = new ProductMemory();
const seen = <W extends Want>(recipe: Recipe, want: W, changed: Partial<Context> = {}): Promise<Products[W]> =>
  render(recipe, source(), want, defaultContext(changed), known);

describe('the line of products', () => {
  test('puts the sharp subject over its blurred plate', async () => {
    const composite = await seen(marked, 'composite');
    const background = await seen(marked, 'background');
    const middle = 90 * 240 + 120;
    expect(composite.r[middle]).toBeCloseTo(shot.r[middle], 4);
    expect(composite.r[10]).toBeCloseTo(background.r[10], 6);
    expect(background.r[middle]).toBeLessThan(0.2);
  });

  test('the same recipe gives the same bytes', async () => {
    const [a, b] = [await seen(overNight, 'composite'), await render(overNight, source(), 'composite', defaultContext())];
    expect(largestDifference(a.r, b.r) + largestDifference(a.b, b.b)).toBe(0);
  });

  test('half the scale looks like the whole, reduced', async () => {
    const whole = await seen(marked, 'composite');
    const half = await seen(marked, 'composite', { scale: 0.5 });
    expect(half.width).toBe(120);
    expect(meanDeltaE(resizePicture(whole, 120, 90), half)).toBeLessThan(1.5);
  });

  test('moving the focus re-makes neither matte nor plate', async () => {
    const memory = new ProductMemory();
    const loads: string[] = [];
    const first = await render(marked, source(loads), 'plate', defaultContext(), memory);
    const matte = await render(marked, source(loads), 'matte', defaultContext(), memory);
    await render(marked, source(loads), 'composite', defaultContext(), memory);
    const moved = { ...marked, lens: { ...marked.lens, focus: 3.5 } };
    await render(moved, source(loads), 'composite', defaultContext(), memory);
    expect(await render(moved, source(loads), 'plate', defaultContext(), memory)).toBe(first);
    expect(await render(moved, source(loads), 'matte', defaultContext(), memory)).toBe(matte);
    expect(loads).toEqual(['ball']);
  });

  test('a new mark makes a new matte', async () => {
    const before = await seen(marked, 'matte');
    const more = {
      ...marked,
      subjects: [
        {
          ...marked.subjects[0],
          marks: [...marked.subjects[0].marks, { kind: 'outside' as const, radius: 6, points: [[120, 60]] as [[number, number]] }],
        },
      ],
    };
    expect(await seen(more, 'matte')).not.toBe(before);
  });

  test('what of the plate shows follows the lens, and is nothing behind another background', async () => {
    const wide = await seen(marked, 'showing');
    const stopped = await seen({ ...marked, lens: { ...marked.lens, fNumber: 22 } }, 'showing');
    expect(wide.share).toBeGreaterThan(stopped.share + 0.01);
    expect(wide.share).toBeLessThan(0.9);
    expect((await seen(overNight, 'showing')).share).toBe(0);
    // Aside, the subject uncovers what was invented behind it.
    const aside = marked.cards.map((c) => (c.kind === 'subject' ? { ...c, placement: { ...c.placement, x: 100 } } : c));
    expect((await seen({ ...marked, cards: aside }, 'showing')).share).toBeGreaterThan(0.9);
  });

  test('without the plate there is a halo', async () => {
    const [made, skipped] = [await seen(marked, 'composite'), await seen(marked, 'skipped')];
    const middle = 90 * 240 + 120;
    expect(skipped.r[middle]).toBeCloseTo(made.r[middle], 3);
    expect(largestDifference(skipped.r, made.r)).toBeGreaterThan(0.05);
  });

  test('a stroke on the plate does not fill the hole again, another try does', async () => {
    const withPlate = (change: Partial<Recipe['subjects'][number]['plate']>): Recipe => ({
      ...marked,
      subjects: [{ ...marked.subjects[0], plate: { ...marked.subjects[0].plate, ...change } }],
    });
    const first = await seen(marked, 'plate');
    const stroke = {
      tip: 'paint' as const,
      radius: 6,
      hardness: 1,
      opacity: 1,
      points: [[120, 90]] as [number, number][],
      colour: '#ff00ff',
    };
    const painted = await seen(withPlate({ retouch: [stroke] }), 'plate');
    expect(painted.filled).toBe(first.filled);
    expect(painted.plate.b[90 * 240 + 120]).toBeCloseTo(1, 2);
    const more = await seen(withPlate({ fill: { kind: 'patch', tries: 2, taken: 1 } }), 'plate');
    expect(more.filled).toBe(first.filled);
    const again = await seen(withPlate({ fill: { kind: 'patch', tries: 2, taken: 2 } }), 'plate');
    expect(again.filled).not.toBe(first.filled);
  });

  test('a background nearer than the subject covers it', async () => {
    const hidden = { ...overNight, cards: overNight.cards.map((c) => (c.kind === 'picture' ? { ...c, distance: 1 } : c)) };
    const out = await seen(hidden, 'composite');
    expect(out.r[90 * 240 + 120]).toBeLessThan(0.05);
  });

  test('matching moves the side that is asked to, and is measured', async () => {
    const all = { cast: 1, tint: 1, black: 1, white: 1, middle: 1, contrast: 0, saturation: 1 };
    const matched = (moves: 'subject' | 'background' | 'both'): Recipe => ({
      ...overNight,
      match: { ...overNight.match, strengths: all, moves },
    });
    const before = (await seen(overNight, 'sides'))!;
    const gap = ({ subject, background }: typeof before): number => Math.abs(subject.tone.middle - background.tone.middle);
    for (const moves of ['subject', 'background', 'both'] as const) {
      const after = await seen(matched(moves), 'sides');
      expect(gap(after)).toBeLessThan(0.3 * gap(before));
      const stays = (side: 'subject' | 'background'): boolean => Math.abs(after[side].tone.middle - before[side].tone.middle) < 0.2;
      expect([stays('subject'), stays('background')]).toEqual([moves === 'background', moves === 'subject']);
    }
  });

  test('a reference limits what is measured', async () => {
    const left = { radius: 1, filled: true, points: [[0, 0], [60, 0], [60, 180], [0, 180]] as [number, number][] }; // prettier-ignore
    const drawn = { ...overNight, match: { ...overNight.match, references: { subject: null, background: left } } };
    const whole = await seen(overNight, 'sides');
    const part = await seen(drawn, 'sides');
    expect(part.background.tone.weight).toBeLessThan(0.3 * whole.background.tone.weight);
    expect(part.subject.tone.weight).toBe(whole.subject.tone.weight);
  });

  test('the farthest card can be had by itself', async () => {
    const alone = await seen(overNight, 'farthest');
    const behind = await seen(overNight, 'background');
    expect([...alone.b.slice(0, 50)]).toEqual([...behind.b.slice(0, 50)]);
    const none = await seen({ ...overNight, cards: [] }, 'farthest');
    expect(Math.max(...none.r)).toBe(0);
  });

  test('the finish comes last and leaves what is laid alone', async () => {
    const laid = await seen(overNight, 'laid');
    expect(await seen(overNight, 'composite')).toBe(laid);
    const brighter = { ...overNight, finish: { ...overNight.finish, grade: { ...overNight.finish.grade, exposure: 1 } } };
    const out = await seen(brighter, 'composite');
    expect(await seen(brighter, 'laid')).toBe(laid);
    expect(out.g[100]).toBeCloseTo(2 * laid.g[100], 5);
  });

  test('a contact shadow darkens the ground, a wrap and a shine brighten what they reach', async () => {
    const plain = await seen(overNight, 'composite');
    const { match } = overNight;
    const mean = (p: Picture): number => p.g.reduce((a, b) => a + b, 0) / p.g.length;
    const dark = await seen({ ...overNight, match: { ...match, contact: { ...match.contact, strength: 1 } } }, 'composite');
    expect(mean(dark)).toBeLessThan(mean(plain));
    const lit = await seen({ ...overNight, match: { ...match, shine: { ...match.shine, at: [20, 20], radius: 100, strength: 2 } } }, 'composite'); // prettier-ignore
    expect(mean(lit)).toBeGreaterThan(mean(plain));
    const hazy = await seen({ ...overNight, match: { ...match, air: { haze: 0.9, colour: '#ffffff' } } }, 'composite'); // prettier-ignore
    expect(mean(hazy)).toBeGreaterThan(mean(plain));
  });

  test('of a large shot only the subject’s side is made where nothing else is wanted, and what is seen is the same', async () => {
    const alone = { ...marked, cards: marked.cards.filter((c) => c.kind === 'subject') };
    const large = { ...alone, subjects: [{ ...alone.subjects[0], size: { width: 6000, height: 4500 } }] };
    const more = async (recipe: Recipe): Promise<{ picture: Picture; more: number }> => {
      const memory = new ProductMemory();
      const picture = await render(recipe, source(), 'composite', defaultContext(), memory);
      const products = memory.size;
      await render(recipe, source(), 'unmixed', defaultContext(), memory);
      return { picture, more: memory.size - products };
    };
    const [usual, spared] = [await more(alone), await more(large)];
    expect([usual.more, spared.more]).toEqual([0, 1]);
    expect(spared.picture).toEqual(usual.picture);
  });

  test('an abort stops it, and nothing half-made is remembered', async () => {
    const memory = new ProductMemory();
    const controller = new AbortController();
    controller.abort();
    await expect(render(marked, source(), 'composite', defaultContext({ signal: controller.signal }), memory)).rejects.toThrow(/abort/i);
    expect((await render(marked, source(), 'composite', defaultContext(), memory)).width).toBe(240);
  });

  test('can be aborted while it runs', async () => {
    const controller = new AbortController();
    const big = { ...marked, frame: { ...marked.frame, width: 240, height: 180 } };
    const slow = render(big, source(), 'composite', defaultContext({ signal: controller.signal, progress: () => controller.abort() }));
    await expect(slow).rejects.toThrow(/abort/i);
  });
});

describe('the memory', () => {
  test('keys differ when anything differs', () => {
    const keys = [keyOf('a', 1), keyOf('a', 2), keyOf('b', 1), keyOf('a', [1]), keyOf('a')];
    expect(new Set(keys).size).toBe(keys.length);
    expect(keyOf('a', { x: [1, 2] })).toBe(keyOf('a', { x: [1, 2] }));
  });

  test('drops the least recently used when it is full', async () => {
    const memory = new ProductMemory(100);
    const made: string[] = [];
    const get = (k: string) => memory.get(k, () => (made.push(k), Promise.resolve(new Uint8Array(40))));
    await get('a');
    await get('b');
    await get('a');
    await get('c');
    await get('a');
    await get('b');
    expect(made).toEqual(['a', 'b', 'c', 'b']);
  });

  test('tells what is there or being made', async () => {
    const memory = new ProductMemory();
    const making = memory.get('x', () => Promise.resolve(3));
    expect([memory.has('x'), memory.has('y')]).toEqual([true, false]);
    await making;
    expect(memory.has('x')).toBe(true);
  });

  test('forgets what failed', async () => {
    const memory = new ProductMemory();
    await expect(memory.get('x', () => Promise.reject(new Error('no')))).rejects.toThrow('no');
    expect(await memory.get('x', () => Promise.resolve(3))).toBe(3);
  });
});

test('a sharp subject over a blurred ground leaves no trace beside itself', async () => {
  const ground = pictureFrom(60, 40, () => [0.1, 0.2, 0.3]);
  const subject = makePicture(60, 40, 0);
  for (let y = 10; y < 30; y++)
    for (let x = 20; x < 40; x++) {
      subject.r[y * 60 + x] = 0.9;
      subject.a![y * 60 + x] = 1;
    }
  const out = over(subject, await discBlur(ground, 15, defaultContext()));
  expect(out.r[20 * 60 + 19]).toBeCloseTo(0.1, 5);
  expect(out.r[20 * 60 + 20]).toBeCloseTo(0.9, 5);
});

describe('what the matte is made from', () => {
  const truth = ballScene(240, 180, 4);
  const cloth = pictureFrom(240, 180, (x, y) => {
    const p = y * 240 + x;
    const a = truth.matte.data[p];
    const back = [0.05, 0.4, 0.08];
    return [truth.front.r[p], truth.front.g[p], truth.front.b[p]].map((f, k) => a * f + (1 - a) * back[k]) as [number, number, number];
  });
  const grey = pictureOfMatte(truth.matte);
  const pictures: Record<string, Picture> = { ball: shot, cloth, grey, night, empty: truth.back };
  const asked: [string, string | undefined][] = [];
  const many: PictureSource = {
    key: (id) => id,
    load: (id, scale, multiplied) => {
      asked.push([id, multiplied]);
      const { width, height } = scaledSize(pictures[id].width, pictures[id].height, scale);
      return Promise.resolve(resizePicture(pictures[id], width, height));
    },
  };
  const cutting = (change: Partial<Recipe['subjects'][number]>, more: Partial<Recipe> = {}): Recipe => ({
    ...marked,
    ...more,
    subjects: [{ ...marked.subjects[0], ...change }],
  });
  const error = (found: Float32Array): number => found.reduce((sum, v, p) => sum + Math.abs(v - truth.matte.data[p]), 0) / found.length;

  test('a difference asks for its plate, and gives the ball without a mark', async () => {
    const recipe = cutting({ cut: 'difference', marks: [], difference: { plate: 'empty', threshold: 4 } });
    const { matte, behind } = await render(recipe, many, 'matte', defaultContext());
    expect(error(matte.data)).toBeLessThan(0.03);
    expect(behind).toBeDefined();
  });

  test('a kept matte is put together with it, at any scale', async () => {
    const recipe = cutting({ marks: [], with: [{ matte: 'm', how: 'union' }] }, { mattes: [{ id: 'm', name: 'Ball', picture: 'grey' }] });
    expect(error((await render(recipe, many, 'matte', defaultContext())).matte.data)).toBeLessThan(1e-3);
    const half = await render(recipe, many, 'matte', defaultContext({ scale: 0.5 }));
    expect([half.matte.width, half.matte.height]).toEqual([120, 90]);
    const gone = { ...recipe, mattes: [] };
    await expect(render(gone, many, 'matte', defaultContext())).rejects.toThrow(/no matte m/);
  });

  test('a screen’s light is taken off its subject', async () => {
    const memory = new ProductMemory();
    const before = cutting({ cut: 'screen', shot: 'cloth', marks: [] });
    const over = { ...before, cards: [{ ...overNight.cards[0] }, before.cards[1]] };
    const plainSubject = await render(over, many, 'subject', defaultContext(), memory);
    const without = cutting({ cut: 'screen', shot: 'cloth', marks: [], screen: { ...before.subjects[0].screen, spill: 0 } });
    const kept = await render({ ...without, cards: over.cards }, many, 'subject', defaultContext(), memory);
    const green = (p: Picture): number => p.g.reduce((sum, v, i) => sum + Math.max(0, v - p.r[i]) * p.a![i] * (1 - p.a![i]), 0);
    expect(green(plainSubject)).toBeLessThanOrEqual(green(kept) + 1e-6);
  });

  test('a multiplied picture is asked for straight, and again when that is left', async () => {
    const memory = new ProductMemory();
    asked.length = 0;
    const straight = cutting({}, { multiplied: [{ picture: 'ball', over: '#000000' }] });
    await render(straight, many, 'shot', defaultContext(), memory);
    await render(straight, many, 'shot', defaultContext(), memory);
    await render(cutting({}), many, 'shot', defaultContext(), memory);
    expect(asked).toEqual([
      ['ball', '#000000'],
      ['ball', undefined],
    ]);
  });

  test('a stroke by hand makes the matte anew, but neither solves it again nor prepares the shot again', async () => {
    const memory = new ProductMemory();
    await render(marked, many, 'matte', defaultContext(), memory);
    // The shot, what it alone decides, the cut, the finished matte.
    const products = memory.size;
    expect(products).toBe(4);
    const painted = cutting({ hand: [{ tip: 'clear', radius: 500, hardness: 1, opacity: 1, points: [[120, 90]] }] }); // prettier-ignore
    const { matte } = await render(painted, many, 'matte', defaultContext(), memory);
    expect(matte.data.every((v) => v === 0)).toBe(true);
    expect(memory.size).toBe(products + 1);
  });

  test('subjects are proposed along the line', async () => {
    const [best] = await render(marked, many, 'found', defaultContext());
    expect(best.marks.some((m) => m.kind === 'inside')).toBe(true);
  });
});
