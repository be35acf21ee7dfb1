import {
  addGrain,
  angleBetween,
  chromaticityOf,
  decodeSrgb,
  dithered,
  encodeSrgb,
  findBanding,
  fromSamples,
  gapsOf,
  isWide,
  lightnessOf,
  lightOnOutline,
  locus,
  luminanceOf,
  makePicture,
  measureGrain,
  measureTone,
  newRecipe,
  defaultCard,
  defaultLamps,
  readRecipe,
  render,
  resizePicture,
  sampleColours,
  scaledSize,
  solveGrade,
  toRgba8,
  defaultContext,
  type Picture,
  type PictureSource,
  type Products,
  type Recipe,
} from '@ritaglio/core';
import { jobAt, matteAt, pictureAt } from './truth';

const context = defaultContext();
const strengths = { cast: 1, tint: 1, black: 1, white: 1, middle: 1, contrast: 1, saturation: 1 };

/** L* per 8-bit code of a grey. */
function slopeAt(lightness: number): number {
  const code = encodeSrgb(luminanceOf(lightness)) * 255;
  return lightnessOf(decodeSrgb((code + 0.5) / 255)) - lightnessOf(decodeSrgb((code - 0.5) / 255));
}

/** A picture as an 8-bit file would hold it. */
function stored(p: Picture): Picture {
  return fromSamples({ width: p.width, height: p.height, channels: 4, data: toRgba8(p) });
}

type Matrix = [number, number, number][];
const times = (m: Matrix, v: number[]): number[] => m.map((row) => row.reduce((sum, x, i) => sum + x * v[i], 0));
const toXyz: Matrix = [
  [0.4123908, 0.3575843, 0.1804808],
  [0.212639, 0.7151687, 0.0721923],
  [0.0193308, 0.1191948, 0.9505322],
];
const fromXyz: Matrix = [
  [3.2409699, -1.5373832, -0.4986108],
  [-0.9692436, 1.8759675, 0.0415551],
  [0.0556301, -0.203977, 1.0569715],
];
/** Cone responses of a newer model than the grade's (Li et al. 2017), and back. */
const cones: Matrix = [
  [0.401288, 0.650173, -0.051461],
  [-0.250268, 1.204414, 0.045854],
  [-0.002079, 0.048952, 0.953127],
];
const fromCones: Matrix = [
  [1.86206786, -1.01125463, 0.14918677],
  [0.38752654, 0.62144744, -0.00897398],
  [-0.0158415, -0.03412294, 1.04996444],
];

/** The picture under another light, by other cone responses than our own grade takes. */
function underLight(p: Picture, mired: number, tint: number, stops: number, black: number): Picture {
  const xyz = ({ u, v }: { u: number; v: number }): number[] => {
    const y = (4 * v) / (6 * u - 16 * v + 12);
    const x = (9 * u) / (6 * u - 16 * v + 12);
    return [x / y, 1, (1 - x - y) / y];
  };
  const day = chromaticityOf(1, 1, 1);
  const [from, to] = [locus(6504), locus(1e6 / (1e6 / 6504 + mired))];
  const white = { u: day.u + to.u - from.u, v: day.v + to.v - from.v + tint / 1000 };
  const [a, b] = [times(cones, xyz(day)), times(cones, xyz(white))];
  const out = makePicture(p.width, p.height);
  const lift = luminanceOf(black);
  for (let i = 0; i < p.r.length; i++) {
    const cone = times(cones, times(toXyz, [p.r[i], p.g[i], p.b[i]])).map((v, k) => (v * b[k]) / a[k]);
    const rgb = times(fromXyz, times(fromCones, cone)).map((v) => Math.max(0, v * 2 ** stops * (1 - lift) + lift));
    [out.r[i], out.g[i], out.b[i]] = rgb;
  }
  return stored(out);
}

function sourceOf(pictures: Record<string, Picture>): PictureSource {
  return {
    key: (id) => id,
    load: (id, scale) => {
      const p = pictures[id];
      const { width, height } = scaledSize(p.width, p.height, scale);
      return Promise.resolve(resizePicture(p, width, height));
    },
  };
}

const withGrain = (r: Recipe): Recipe => ({ ...r, finish: { ...r.finish, grain: { ...r.finish.grain, back: 1 } } });

/** Weathervane over the sharp evening sky, cut by its true matte, focused at 4 m. */
function vaneRecipe(): Recipe {
  const r = newRecipe('Weathervane', 'vane', 1500, 1000);
  const sky = { ...defaultCard, id: 'sky', kind: 'picture' as const, picture: 'sky', matte: null, lamps: defaultLamps, distance: 60 };
  return {
    ...r,
    subjects: [{ ...r.subjects[0], with: [{ matte: 'm', how: 'instead' as const }] }],
    mattes: [{ id: 'm', name: 'true', picture: 'alpha' }],
    cards: [sky, { ...r.cards[1], distance: 4 }],
    lens: { ...r.lens, focus: 4, fNumber: 2.8 },
  };
}

/** Match: grain, cast, gaps, light direction and banding against what is known. */
export async function matchSection(): Promise<string[]> {
  const lines: string[] = [];
  const put = (...text: string[]): void => void lines.push(...text.flatMap((t) => [t, '']));
  const table = (head: string[], rows: (string | number)[][]): void => {
    lines.push(`| ${head.join(' | ')} |`, `|${head.map((_, i) => (i === 0 ? '---' : '--:')).join('|')}|`);
    for (const row of rows) lines.push(`| ${row.join(' | ')} |`);
    lines.push('');
  };
  console.log('Match');
  put('## Match');
  const shots = {
    goat: await pictureAt('demo/pictures/goat-quay.jpg'),
    vane: await pictureAt('demo/pictures/weathervane.jpg'),
    canal: await pictureAt('demo/pictures/canal-night.jpg'),
    lantern: await pictureAt('demo/pictures/lantern-greencloth.jpg'),
    terrace: await pictureAt('demo/pictures/terrace-morning.jpg'),
    sky: await pictureAt('demo/pictures/evening-sky.jpg'),
  };
  put(
    'Grain: standard deviation of L\\*, and the same in 8-bit codes of luminance. The scenes state the noise of each channel, 85 % of it shared by all and 53 % each channel’s own, so that luminance has 0.938 of it; it was laid before the JPEG, which takes a little of it.',
  );
  const grainRows = (
    [
      ['weathervane', shots.vane, 3.5],
      ['goat', shots.goat, 1.2],
      ['lantern', shots.lantern, 1.2],
      ['canal', shots.canal, 1],
    ] as const
  ).map(([name, p, sigma]) => {
    const g = measureGrain(p)!;
    const codes = g.level / slopeAt(g.tone);
    const truth = 0.938 * sigma;
    return [name, g.level.toFixed(2), codes.toFixed(2), truth.toFixed(2), `${(100 * (codes / truth - 1)).toFixed(0)} %`, g.size.toFixed(2)];
  });
  table(['', 'L\\*', 'codes', 'true codes', 'off', 'size, px'], grainRows);

  put('Grain put back: what is seen of the background, against the shot’s for the same tones.');
  const goatJob = readRecipe(jobAt('goat-on-the-quay').recipe);
  const canalJob = readRecipe(jobAt('goat-by-the-canal').recipe);
  const alpha = await matteAt('demo/truth/weathervane/alpha.png');
  const grey = { width: alpha.width, height: alpha.height, r: alpha.data, g: alpha.data, b: alpha.data };
  const all = sourceOf({ 'goat-quay': shots.goat, 'canal-night': shots.canal, vane: shots.vane, sky: shots.sky, alpha: grey });
  const sidesOf = (r: Recipe): Promise<Products['sides']> => render(r, all, 'sides', context);
  const grainOf = (s: Products['sides']): [number, number] => {
    const g = gapsOf(s.subject, s.background).find((x) => x.name === 'grain')!;
    return [g.subject ?? NaN, g.background ?? NaN];
  };
  const back: string[][] = [];
  for (const [name, recipe] of [
    ['goat before its own blurred plate', goatJob],
    ['goat over the canal', canalJob],
    ['weathervane over the blurred evening sky', vaneRecipe()],
  ] as const) {
    const [, before] = grainOf(await sidesOf(recipe));
    const [wanted, after] = grainOf(await sidesOf(withGrain(recipe)));
    back.push([name, wanted.toFixed(2), before.toFixed(2), after.toFixed(2), `${(100 * (after / wanted - 1)).toFixed(0)} %`]);
  }
  table(['', 'shot, L\\*', 'before', 'put back', 'off'], back);

  put(
    'Cast and level: a picture seen under another light (by cone responses of another model than the grade’s, stored in 8 bits), brighter and with its black lifted; what our own measurement and grade find of it.',
  );
  const shifts: string[][] = [];
  for (const [name, p] of [
    ['goat', shots.goat],
    ['terrace', shots.terrace],
    ['weathervane', shots.vane],
  ] as const) {
    for (const [mired, tint, stops, black] of [
      [40, 3, -0.5, 3],
      [-30, -4, -0.3, 5],
      [80, 0, -0.7, 0],
    ]) {
      const seen = underLight(p, mired, tint, stops, black);
      const found = solveGrade(sampleColours(p), measureTone(seen), { ...strengths, middle: 0, contrast: 0, saturation: 0 });
      const off = [found.temperature - mired, found.tint - tint, found.exposure - stops, found.black - black];
      shifts.push([
        `${name}: ${mired} mired, ${tint} tint, ${stops} stop, ${black} L\\*`,
        ...off.map((v, i) => v.toFixed([1, 1, 2, 1][i])),
      ]);
    }
  }
  table(['', 'mired off (8)', 'Δu′v′ off (3)', 'stops off (0.1)', 'L\\* off (1.5)'], shifts);

  const idle = { ...canalJob, match: { ...canalJob.match, strengths: newRecipe('', 'x', 1, 1).match.strengths } };
  const before = await sidesOf(idle);
  const matched = await sidesOf(withGrain({ ...canalJob, match: { ...canalJob.match, strengths } }));
  put('Goat over the canal, nothing matched and after “match all”: gaps, and in how many tolerances they are.');
  const pairs = gapsOf(before.subject, before.background).map((g, i) => [g, gapsOf(matched.subject, matched.background)[i]] as const);
  const known = pairs.filter(([g]) => g.gap !== undefined && g.name !== 'light' && g.name !== 'blur');
  const inTolerances = (k: 0 | 1): number => known.reduce((sum, p) => sum + Math.abs(p[k].gap!) / p[k].tolerance, 0) / known.length;
  table(
    ['', 'before', 'after', 'tolerance', 'within'],
    known.map(([b, a]) => [b.name, b.gap!.toFixed(2), a.gap!.toFixed(2), a.tolerance.toFixed(2), isWide(a) ? 'no' : 'yes']),
  );
  put(
    `Mean gap in tolerances ${inTolerances(0).toFixed(2)} before, ${inTolerances(1).toFixed(2)} after: ${((100 * inTolerances(1)) / inTolerances(0)).toFixed(0)} % (aim 25 %).`,
  );

  put('Light direction on the outline of the true matte, degrees.');
  const lights: string[][] = [];
  for (const [name, p, path, truth] of [
    ['goat', shots.goat, 'goat-quay', 155.6],
    ['lantern', shots.lantern, 'lantern-greencloth', 34.7],
    ['weathervane', shots.vane, 'weathervane', 142.6],
  ] as const) {
    const found = lightOnOutline(p, await matteAt(`demo/truth/${path}/alpha.png`))!;
    lights.push([name, truth.toFixed(0), found.angle.toFixed(0), angleBetween(found.angle, truth).toFixed(0), found.certainty.toFixed(2)]);
  }
  table(['', 'true', 'found', 'off (20)', 'certainty'], lights);

  const slow = makePicture(1200, 400);
  for (let i = 0; i < slow.r.length; i++) slow.r[i] = slow.g[i] = slow.b[i] = decodeSrgb(0.2 + (0.12 * (i % 1200)) / 1200);
  const share = (p: Picture): string => `${(100 * findBanding(p).share).toFixed(1)} %`;
  const grained = await addGrain(slow, new Array<number>(9).fill(0.4), 0.4, context);
  put(
    `Banding of a made gradient (31 codes over 1200 px): ${share(slow)} of it found, ${share(dithered(slow, 1))} after dither, ${share(grained)} after grain of 0.4 L\\*; of the canal ${share(shots.canal)}, of the evening sky as it came ${share(shots.sky)}.`,
  );
  return lines;
}
