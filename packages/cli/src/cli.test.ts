/** @jest-environment node */
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { newClip, newClipRecipe, newRecipe } from '@ritaglio/core';
import { readExr, readOpenRaster } from '@ritaglio/formats';
import { decode } from 'fast-png';
import sharp from 'sharp';
import { spawned, Terminal, type Ended } from './testing/terminal';

const root = join(__dirname, '../../..');
const folder = mkdtempSync(join(tmpdir(), 'ritaglio-cli-'));
const at = (name: string): string => join(folder, name);
afterAll(() => rmSync(folder, { recursive: true, force: true }));

const terminal = new Terminal();
afterAll(() => terminal.close());
const ritaglio = (...args: string[]): Promise<Ended> => terminal.run(...args);

const shot = join(root, 'demo/pictures/goat-quay.jpg');
const marks = join(root, 'demo/truth/goat-quay/strokes.json');
const lens = ['--focal-length', '85', '--sensor-width', '36', '--f-number', '2', '--focus', '3'];
const size = ['--scale', '0.2'];

test('match finds back a shift of light, and measure tells grain and banding', async () => {
  const { data, info } = await sharp(shot).resize(450, 300).raw().toBuffer({ resolveWithObject: true });
  const darker = Buffer.from(data.map((v, i) => Math.round(v * [0.62, 0.7, 0.78][i % 3])));
  const raw = { width: info.width, height: info.height, channels: 3 as const };
  await sharp(data, { raw }).png().toFile(at('right.png'));
  await sharp(darker, { raw }).png().toFile(at('cold.png'));
  const r = await ritaglio('match', at('cold.png'), '--reference', at('right.png'), '--out', at('warm.png'), '--json');
  expect([r.code, r.err]).toEqual([0, '']);
  const { before, wanted, after, grade } = JSON.parse(r.out) as Record<'before' | 'wanted' | 'after', { mired: number; middle: number }> & {
    grade: { temperature: number; exposure: number };
  };
  expect(Math.abs(after.mired - wanted.mired)).toBeLessThan(0.1 * Math.abs(before.mired - wanted.mired));
  expect(Math.abs(after.middle - wanted.middle)).toBeLessThan(1);
  expect(grade.temperature).toBeGreaterThan(10);
  expect(grade.exposure).toBeGreaterThan(0.3);
  const matched = await sharp(at('warm.png')).removeAlpha().raw().toBuffer();
  const off = (b: Buffer): number => data.reduce((sum, v, i) => sum + Math.abs(v - b[i]), 0) / data.length;
  expect(off(matched)).toBeLessThan(0.2 * off(darker));
  const m = await ritaglio('measure', join(root, 'demo/pictures/weathervane.jpg'), '--json');
  const { grain, banding } = JSON.parse(m.out) as { grain: { sigma: number; byTone: number[] }; banding: number };
  // 3.28 codes of luminance, 0.39 to 0.42 L* each.
  expect(grain.sigma).toBeGreaterThan(1.15);
  expect(grain.sigma).toBeLessThan(1.5);
  expect(grain.byTone).toHaveLength(9);
  expect(banding).toBeLessThan(0.01);
});

test('matte, plate, lens, match and compose go through, with figures', async () => {
  const matte = await ritaglio('matte', shot, '--marks', marks, ...size, '--out', at('m.png'), '--subject', at('s.png'), '--json');
  expect([matte.code, matte.err]).toEqual([0, '']);
  const figures = JSON.parse(matte.out) as Record<string, number>;
  expect(figures.width).toBe(360);
  expect(figures.subject).toBeGreaterThan(0.08);
  expect(figures.ms).toBeGreaterThan(0);
  expect(figures.peakMB).toBeGreaterThan(0);
  const m = decode(readFileSync(at('m.png')));
  expect([m.width, m.height, m.channels, m.depth]).toEqual([360, 240, 1, 16]);
  expect(decode(readFileSync(at('s.png'))).channels).toBe(4);

  const plate = await ritaglio('plate', shot, '--matte', at('m.png'), ...size, '--grow', '12', '--out', at('p.png'), '--json');
  expect(plate.code).toBe(0);
  expect((JSON.parse(plate.out) as { grow: number }).grow).toBe(12);

  expect((await ritaglio('lens', at('p.png'), ...lens, '--distance', '20', '--out', at('l.png'))).code).toBe(0);
  const depth = ['--depth', at('m.png'), '--depth-max', '30', '--lift', '3', '--blades', '6'];
  const varied = await ritaglio('lens', at('p.png'), ...lens, ...depth, '--out', at('d.png'), '--json');
  expect([varied.code, varied.err]).toEqual([0, '']);
  expect(JSON.parse(varied.out)).toMatchObject({ lamps: expect.any(Number) as number });
  const measured = await ritaglio('measure', at('l.png'), '--json');
  expect(measured.code).toBe(0);
  expect(JSON.parse(measured.out)).toHaveProperty('tone');
  expect(
    (await ritaglio('match', at('l.png'), '--reference', join(root, 'demo/pictures/canal-night.jpg'), '--out', at('x.png'))).code,
  ).toBe(0);
  const compose = await ritaglio(
    'compose',
    shot,
    '--matte',
    at('m.png'),
    ...size,
    ...lens,
    '--background',
    join(root, 'demo/pictures/evening-sky.jpg'),
    '--out',
    at('c.jpg'),
  );
  expect([compose.code, compose.err]).toEqual([0, '']);
  expect(existsSync(at('c.jpg'))).toBe(true);
});

test('a matte by its screen within a garbage shape, and one by difference to a photographed plate', async () => {
  const lantern = join(root, 'demo/pictures/lantern-greencloth.jpg');
  writeFileSync(at('g.json'), JSON.stringify([{ kind: 'rectangle', x: 520, y: 0, width: 460, height: 1000 }]));
  const key = await ritaglio('matte', lantern, '--screen', 'auto', '--garbage', at('g.json'), ...size, '--out', at('k.png'), '--json');
  expect([key.code, key.err]).toEqual([0, '']);
  const { subject } = JSON.parse(key.out) as { subject: number };
  // The true lantern covers 10.8 % of the picture.
  expect(subject).toBeGreaterThan(0.095);
  expect(subject).toBeLessThan(0.12);
  const clip = join(root, 'demo/truth/goat-clip');
  const goat = await ritaglio('matte', join(clip, 'frames/0020.jpg'), '--plate', join(clip, 'empty.jpg'), '--out', at('d.png'), '--json');
  expect([goat.code, goat.err]).toEqual([0, '']);
  // The true goat covers 14.5 %.
  expect((JSON.parse(goat.out) as { subject: number }).subject).toBeGreaterThan(0.12);
  expect((JSON.parse(goat.out) as { subject: number }).subject).toBeLessThan(0.17);
});

test('every fill makes a plate; the same seed gives the same bytes', async () => {
  const clip = join(root, 'demo/truth/goat-clip');
  const region = at('region.json');
  writeFileSync(region, JSON.stringify([{ kind: 'rectangle', x: 20, y: 300, width: 200, height: 120 }]));
  const fill = (method: string, ...more: string[]) =>
    ritaglio(
      'plate',
      join(clip, 'frames/0020.jpg'),
      '--matte',
      join(clip, 'alpha/0020.png'),
      '--scale',
      '0.3',
      '--method',
      method,
      ...more,
      '--json',
    );
  for (const [method, ...more] of [
    ['patch'],
    ['smooth'],
    ['stretch'],
    ['borrowed', '--source', region],
    ['photographed', '--reference', join(clip, 'empty.jpg')],
  ]) {
    const r = await fill(method, ...more, '--out', at(`${method}.png`));
    expect([r.code, r.err]).toEqual([0, '']);
    expect((JSON.parse(r.out) as { hole: number }).hole).toBeGreaterThan(0.1);
  }
  await fill('patch', '--out', at('again.png'));
  expect(readFileSync(at('again.png')).equals(readFileSync(at('patch.png')))).toBe(true);
  expect(readFileSync(at('smooth.png')).equals(readFileSync(at('patch.png')))).toBe(false);
});

test('threads that help make the same bytes', async () => {
  const depth = ['--depth', join(root, 'demo/truth/goat-quay/depth.png'), '--depth-max', '262.14'];
  for (const threads of ['1', '3']) {
    const one = await ritaglio('lens', shot, ...lens, ...depth, ...size, '--threads', threads, '--out', at(`lens${threads}.png`), '--json');
    expect([one.code, one.err]).toEqual([0, '']);
    expect(
      (await ritaglio('matte', shot, '--marks', marks, '--scale', '0.4', '--threads', threads, '--out', at(`matte${threads}.png`))).code,
    ).toBe(0);
  }
  for (const name of ['lens', 'matte']) expect(readFileSync(at(`${name}3.png`))).toEqual(readFileSync(at(`${name}1.png`)));
});

test('a demo job renders the same bytes in this process and in another', async () => {
  const render = (name: string): string[] => ['render', join(root, 'demo/jobs/lantern.json'), '--scale', '0.15', '--want', 'matte,composite', '--out', at(name)]; // prettier-ignore
  const [one, two] = [await ritaglio(...render('one')), spawned(...render('two'))];
  expect([one.code, two.code]).toEqual([0, 0]);
  expect(readFileSync(join(at('one'), 'composite.png')).equals(readFileSync(join(at('two'), 'composite.png')))).toBe(true);
});

test('the process itself ends with the code and writes the line', () => {
  const r = spawned('matte', 'no.jpg', '--marks', marks, '--out', at('z.png'));
  expect([r.code, r.out]).toEqual([2, '']);
  expect(r.err).toMatch(/^“no\.jpg” cannot be read.*\n$/);
});

test.each<[string, string[], RegExp]>([
  ['a file that is not there', ['matte', 'no.jpg', '--marks', marks, '--out', at('z.png')], /“no\.jpg” cannot be read/],
  ['marks that are none', ['matte', shot, '--marks', shot, '--out', at('z.png')], /not valid JSON/],
  ['a missing option', ['plate', shot, '--out', at('z.png')], /--matte/],
  ['a scale above 1', ['matte', shot, '--marks', marks, '--scale', '3', '--out', at('z.png')], /at most 1/],
  ['more threads than there can be', ['matte', shot, '--marks', marks, '--threads', '100000', '--out', at('z.png')], /at most 256/],
  [
    'a folder that is not there',
    ['matte', shot, '--marks', marks, ...size, '--out', at('nowhere/z.png')],
    /the folder “.*nowhere” is not there/,
  ],
  ['nothing to cut by', ['matte', shot, '--out', at('z.png')], /--marks FILE, --screen COLOUR or --plate PICTURE/],
  ['a colour that is none', ['matte', shot, '--screen', 'green', '--out', at('z.png')], /“green” is none of them/],
  ['shapes that are none', ['matte', shot, '--screen', 'auto', '--garbage', marks, '--out', at('z.png')], /does not hold shapes/],
  ['a fill that is none', ['plate', shot, '--matte', shot, '--method', 'magic', '--out', at('z.png')], /“magic” is none of them/],
  ['nowhere to borrow from', ['plate', shot, '--matte', shot, '--method', 'borrowed', '--out', at('z.png')], /--source REGION\.json/],
  ['no second picture', ['plate', shot, '--matte', shot, '--method', 'photographed', '--out', at('z.png')], /--reference PICTURE/],
  ['a box outside', ['measure', shot, '--box', '0,0,9000,10'], /within the picture/],
  ['a depth without its range', ['lens', shot, ...lens, '--depth', shot, '--out', at('z.png')], /--depth-max METRES/],
  ['blades that are none', ['lens', shot, ...lens, '--distance', '9', '--blades', '2', '--out', at('z.png')], /from 3 to 16/],
  ['an unknown command', ['sharpen', shot], /unknown command/],
])('%s: one line on stderr, exit 2, nothing written', async (_, args, words) => {
  const r = await ritaglio(...args);
  expect(r.code).toBe(2);
  expect(r.err).toMatch(words);
  expect(r.err.trim().split('\n')).toHaveLength(1);
  expect(existsSync(at('z.png'))).toBe(false);
});

test('help lists every command and exits 0', () => {
  const r = spawned('--help');
  expect(r.code).toBe(0);
  for (const name of ['matte', 'plate', 'lens', 'compose', 'match', 'measure', 'render', 'proof']) expect(r.out).toContain(name);
});

describe('pictures of all kinds', () => {
  const grey = Buffer.from(Uint8Array.from({ length: 40 * 30 }, (_, i) => i % 200));
  const raw = { raw: { width: 40, height: 30, channels: 1 as const } };
  const lensTo = (name: string) => ritaglio('lens', at(name), ...lens, '--distance', '3', '--out', at('kind.png'), '--json');

  test.each<[string, () => Promise<unknown>]>([
    ['grey.jpg', () => sharp(grey, raw).jpeg().toFile(at('grey.jpg'))],
    ['cmyk.jpg', () => sharp(grey, raw).toColourspace('cmyk').jpeg().toFile(at('cmyk.jpg'))],
    ['deep.png', () => sharp(grey, raw).toColourspace('rgb16').png().toFile(at('deep.png'))],
    ['palette.png', () => sharp(grey, raw).toColourspace('srgb').png({ palette: true }).toFile(at('palette.png'))],
    ['picture.webp', () => sharp(grey, raw).webp().toFile(at('picture.webp'))],
  ])('%s is read', async (name, write) => {
    await write();
    const r = await lensTo(name);
    expect([r.code, r.err]).toEqual([0, name === 'cmyk.jpg' ? expect.stringMatching(/^“cmyk.jpg” is in four inks .*\n$/) : '']);
    expect(JSON.parse(r.out)).toMatchObject({ width: 40, height: 30 });
  });

  test('a turned JPEG is set upright', async () => {
    await sharp(grey, raw).withMetadata({ orientation: 6 }).jpeg().toFile(at('turned.jpg'));
    expect(JSON.parse((await lensTo('turned.jpg')).out)).toMatchObject({ width: 30, height: 40 });
  });

  test('a cut JPEG is refused', async () => {
    const whole = readFileSync(shot);
    writeFileSync(at('cut.jpg'), whole.subarray(0, whole.length / 2));
    expect(await lensTo('cut.jpg')).toMatchObject({ code: 2, err: expect.stringContaining('cut short') as string });
  });
});

test('proof tells every check, writes a sheet as a page and as a picture, and exits 3 when one is wrong', async () => {
  const { data, info } = await sharp(shot).resize(300, 200).raw().toBuffer({ resolveWithObject: true });
  const raw = { width: info.width, height: info.height, channels: 3 as const };
  await sharp(data, { raw }).png().toFile(at('small.png'));
  const own = newRecipe('Small', 'small', 300, 200);
  const strokes = [
    { kind: 'inside' as const, radius: 10, points: [[110, 100], [170, 110]] as [number, number][] }, // prettier-ignore
    { kind: 'outside' as const, radius: 6, points: [[8, 8], [292, 8], [292, 190], [8, 190]] as [number, number][] }, // prettier-ignore
  ];
  // A frame that looks past the picture: what stands behind ends inside it.
  const recipe = { ...own, frame: { ...own.frame, x: 60 }, subjects: own.subjects.map((s) => ({ ...s, marks: strokes })) };
  writeFileSync(at('open.json'), JSON.stringify({ recipe, pictures: [{ id: 'small', file: 'small.png' }] }));
  expect((await ritaglio('export', at('open.json'), '--out', at('made.png'))).code).toBe(0);
  const png = await ritaglio('proof', at('open.json'), '--out', at('sheet.png'), '--json');
  expect([png.code, png.err]).toEqual([3, '']);
  const told = JSON.parse(png.out) as { wrong: number; checks: { id: string; verdict: string; cure?: string; why?: string }[] };
  expect(told.checks.find((c) => c.id === 'frame-open')).toMatchObject({ verdict: 'wrong', cure: expect.stringContaining('times as large') as string }); // prettier-ignore
  for (const c of told.checks) if (c.verdict === 'unknown') expect(c.why).toMatch(/\.$/);
  expect((await sharp(at('sheet.png')).metadata()).width).toBe(2480);
  const accepted = told.checks.filter((c) => c.verdict === 'wrong').map((c) => ({ check: c.id, word: 'meant so', figure: 1e4 }));
  writeFileSync(at('accepted.json'), JSON.stringify({ recipe: { ...recipe, accepted }, pictures: [{ id: 'small', file: 'small.png' }] }));
  const html = await ritaglio('proof', at('accepted.json'), '--out', at('sheet.html'));
  expect([html.code, html.err]).toEqual([0, '']);
  expect(html.out).toContain('accepted: What stands behind ends inside the frame');
  expect(readFileSync(at('sheet.html'), 'utf8')).toContain('accepted: meant so');
  for (const name of ['a.ora', 'a.exr', 'a.avif']) {
    const r = await ritaglio('export', at('open.json'), '--out', at(name));
    expect([name, r.code, r.err]).toEqual([name, 0, '']);
  }
  const own8 = decode(readFileSync(at('made.png')));
  const ora = readOpenRaster('a.ora', new Uint8Array(readFileSync(at('a.ora'))));
  expect(ora.layers.map((l) => l.name)).toEqual(['plate', 'subject']);
  // One look at all: an expectation a sample would take longer than all that is tested.
  const apart = [...ora.merged!.data].reduce((most, v, i) => Math.max(most, Math.abs(v - own8.data[i] / 257)), 0);
  expect(apart).toBeLessThanOrEqual(1);
  const exr = readExr('a.exr', new Uint8Array(readFileSync(at('a.exr'))));
  expect(Object.keys(exr.channels).sort()).toEqual(['B', 'G', 'R', 'Z', 'matte.Y', 'plate.B', 'plate.G', 'plate.R', 'subject.A', 'subject.B', 'subject.G', 'subject.R']); // prettier-ignore
  expect((await sharp(at('a.avif')).metadata()).width).toBe(300);
  expect((await ritaglio('proof', at('open.json'), '--out', at('sheet.doc'))).err).toContain('.html, or a picture');
});

test('a series puts one look over many shots, goes on where it was stopped, and tells the doubtful first', async () => {
  const raw = { width: 180, height: 120, channels: 3 as const };
  const ball = (x: number, rgb: number[]): Buffer => {
    const data = Buffer.alloc(3 * 180 * 120);
    for (let p = 0; p < 180 * 120; p++) {
      const inside = Math.hypot((p % 180) - x, Math.floor(p / 180) - 60) < 30;
      (inside ? rgb : [40, 170, 60]).forEach((v, c) => (data[3 * p + c] = v));
    }
    return data;
  };
  for (const [name, x] of [['set-1', 60], ['set-2', 90], ['set-3', 120]] as const) await sharp(ball(x, [190, 60, 50]), { raw }).png().toFile(at(`${name}.png`)); // prettier-ignore
  const job = newRecipe('Set', 'first', 180, 120);
  const screened = { ...job, subjects: job.subjects.map((s) => ({ ...s, cut: 'screen' as const })) };
  writeFileSync(at('set.json'), JSON.stringify({ recipe: screened, pictures: [{ id: 'first', file: 'set-1.png' }] }));
  const one = await ritaglio('series', at('set.json'), at('set-2.png'), '--out', at('series'), '--json');
  expect([one.code, one.err]).toEqual([0, '']);
  const first = readFileSync(join(at('series'), 'set-2.png'));
  const all = await ritaglio('series', at('set.json'), at('set-3.png'), at('set-2.png'), '--out', at('series'), '--json');
  expect([all.code, all.err]).toEqual([0, '']);
  const { shots } = JSON.parse(all.out) as { shots: { file: string; wrong: number; look: number; unknown: number }[] };
  expect(shots.map((s) => s.file).sort()).toEqual(['set-2.png', 'set-3.png']);
  expect(shots[0].wrong).toBeGreaterThanOrEqual(shots[1].wrong);
  expect(readFileSync(join(at('series'), 'set-2.png')).equals(first)).toBe(true);
  // The ball of the third shot is where it is in that shot.
  const made = decode(readFileSync(join(at('series'), 'set-3.png')));
  expect(made.data[3 * (60 * 180 + 120)]).toBeGreaterThan(2 * made.data[3 * (60 * 180 + 120) + 1]);
  expect((await ritaglio('series', at('set.json'), at('set-2.png'), join(folder, 'x', '..', 'set-2.png'), '--out', at('series'))).err).toContain('called “set-2”'); // prettier-ignore
});

test('a folder of frames: mattes by marks on some, plates from the clip itself, finished frames; any part alone is the same', async () => {
  const [w, h] = [120, 80];
  const frames = at('frames');
  mkdirSync(frames);
  for (let i = 0; i < 5; i++) {
    const data = Buffer.alloc(3 * w * h);
    for (let p = 0; p < w * h; p++) {
      const [x, y] = [p % w, Math.floor(p / w)];
      const ball = Math.hypot(x - 30 - 14 * i, y - 40) < 15;
      const grain = ((x * 7919 + y * 104729) % 97) / 97;
      const code = ball ? [200 + 30 * grain, 60, 40] : [60 + 60 * grain, 90 + 50 * Math.sin(x / 9) * Math.cos(y / 7), 110 + 30 * grain];
      code.forEach((v, c) => (data[3 * p + c] = v));
    }
    await sharp(data, { raw: { width: w, height: h, channels: 3 } }).png().toFile(join(frames, `take-${String(i + 11).padStart(3, '0')}.png`)); // prettier-ignore
  }
  const strokes = [
    { kind: 'inside', radius: 6, points: [[56, 36], [60, 44]], frame: 13 }, // prettier-ignore
    { kind: 'outside', radius: 4, points: [[10, 8], [110, 8], [110, 72], [10, 72]], frame: 13 }, // prettier-ignore
  ];
  writeFileSync(at('clip.json'), JSON.stringify(strokes));
  const matte = (...more: string[]) => ritaglio('matte', frames, '--marks', at('clip.json'), ...more, '--json');
  const all = await matte('--out', at('mattes'));
  expect([all.code, all.err]).toEqual([0, '']);
  const { areas, certainty } = JSON.parse(all.out) as { areas: number[]; certainty: number[] };
  areas.forEach((a) => expect(a * w * h).toBeGreaterThan(600));
  areas.forEach((a) => expect(a * w * h).toBeLessThan(820));
  expect(Math.min(...certainty)).toBeGreaterThan(0.3);
  expect(readdirSync(at('mattes'))).toEqual([11, 12, 13, 14, 15].map((n) => `take-0${n}.png`));
  expect((await matte('--out', at('part'), '--frames', '14-15')).code).toBe(0);
  expect(readdirSync(at('part'))).toEqual(['take-014.png', 'take-015.png']);
  expect(readFileSync(join(at('part'), 'take-015.png'))).toEqual(readFileSync(join(at('mattes'), 'take-015.png')));
  const plates = await ritaglio('plate', frames, '--matte', at('mattes'), '--out', at('plates'), '--json');
  expect([plates.code, plates.err]).toEqual([0, '']);
  const { photographed, invented } = JSON.parse(plates.out) as { photographed: number; invented: number };
  expect(photographed).toBeGreaterThan(0.95);
  expect(photographed + invented).toBeCloseTo(1, 9);
  const plate = decode(readFileSync(join(at('plates'), 'take-013.png')));
  // The ball is red, the ground is not.
  expect(plate.data[3 * (40 * w + 58)] / 257).toBeLessThan(130);
  const made = await ritaglio('compose', frames, '--matte', at('mattes'), '--plate', at('plates'), ...lens, '--frames', '12', '--out', at('made'), '--json'); // prettier-ignore
  expect([made.code, made.err]).toEqual([0, '']);
  expect(readdirSync(at('made'))).toEqual(['take-012.png']);

  // The same clip as a job that has time: its frames are pictures of the recipe.
  const pictures = [11, 12, 13, 14, 15].map((n) => ({ id: `f${n}`, file: `frames/take-0${n}.png` }));
  const clip = newClip('roll', 'Roll', { size: { width: w, height: h }, rate: { frames: 5, seconds: 1 }, count: 5, from: { kind: 'pictures', pictures: pictures.map((p) => p.id) }, sound: null }); // prettier-ignore
  const job = newClipRecipe('Roll', clip);
  const recipe = { ...job, subjects: job.subjects.map((s) => ({ ...s, marks: strokes.map((m) => ({ ...m, frame: m.frame - 11 })) })) };
  writeFileSync(at('roll.json'), JSON.stringify({ recipe, pictures }));
  const rolled = await ritaglio(
    'clip',
    at('roll.json'),
    '--want',
    'composite,matte,plate',
    '--frames',
    '2-3',
    '--out',
    at('rolled'),
    '--json',
  );
  expect([rolled.code, rolled.err]).toEqual([0, '']);
  expect(JSON.parse(rolled.out)).toMatchObject({ frames: 2, seconds: 0.4, written: 6 });
  expect(readdirSync(at('rolled'))).toEqual(['composite', 'matte', 'plate'].flatMap((n) => [`${n}-0002.png`, `${n}-0003.png`]));
  expect(readFileSync(join(at('rolled'), 'matte-0003.png'))).toEqual(readFileSync(join(at('mattes'), 'take-013.png')));
  writeFileSync(at('still.json'), JSON.stringify({ recipe: { ...newRecipe('Still', 'f11', w, h) }, pictures }));

  const bad: [string[], string][] = [
    [['clip', at('still.json'), '--out', at('y')], 'it is a still'],
    [['clip', at('roll.json'), '--frames', '8-9', '--out', at('y')], 'has frames 1 to 5'],
    [['matte', frames, '--marks', at('clip.json'), '--out', at('x.png')], 'must name a folder'],
    [['plate', frames, '--matte', at('part'), '--out', at('y')], 'holds no matte with the number 11'],
    [['matte', frames, '--marks', at('clip.json'), '--frames', '40-50', '--out', at('y')], 'has frames 11 to 15'],
    [['matte', folder + '/nothing.mp4', '--marks', at('clip.json'), '--out', at('y')], 'nothing.mp4'],
  ];
  for (const [args, sentence] of bad) {
    const r = await ritaglio(...args);
    expect([args, r.code]).toEqual([args, 2]);
    expect(r.err).toContain(sentence);
  }
});
