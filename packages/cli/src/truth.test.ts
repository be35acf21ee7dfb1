import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import {
  defocus,
  edgeColour,
  fromSamples,
  halo,
  matte,
  findSubject,
  matteErrors,
  matteGround,
  matteOn,
  meanDeltaE,
  noTrim,
  opticsOf,
  over,
  defaultContext,
  plate,
  type PlateParams,
  psnr,
  readRecipe,
  resizePicture,
  straightened,
  unmix,
  withOpacity,
  type Mark,
  type Picture,
  type Plane,
} from '@ritaglio/core';
import { readPicture } from '@ritaglio/formats';
import { nodeCodec } from './files';

/** Against the demo's truth at a third of the size: bounds a good margin above what is reached, to catch what breaks. */
const demo = join(__dirname, '../../../demo');
const scale = 1 / 3;
const context = defaultContext({ scale });

async function small(path: string, at = scale): Promise<Picture> {
  const p = fromSamples((await readPicture(path, new Uint8Array(readFileSync(join(demo, path))), nodeCodec)).samples);
  return resizePicture(p, Math.round(p.width * at), Math.round(p.height * at));
}

async function opacityAt(path: string, at = scale): Promise<Plane> {
  const { samples } = await readPicture(path, new Uint8Array(readFileSync(join(demo, path))), nodeCodec);
  const data = Float32Array.from({ length: samples.width * samples.height }, (_, i) => samples.data[i * samples.channels] / 255);
  const p = resizePicture(
    { width: samples.width, height: samples.height, r: data, g: data, b: data },
    Math.round(samples.width * at),
    Math.round(samples.height * at),
  );
  return { width: p.width, height: p.height, data: p.r };
}

const strokes = (name: string): Mark[] =>
  (JSON.parse(readFileSync(join(demo, `truth/${name}/strokes.json`), 'utf8')) as { strokes: Mark[] }).strokes;

let goat: { shot: Picture; alpha: Plane; front: Picture; plate: Picture };
beforeAll(async () => {
  const alpha = await opacityAt('truth/goat-quay/alpha.png');
  goat = {
    alpha,
    shot: await small('pictures/goat-quay.jpg'),
    front: withOpacity(await small('truth/goat-quay/foreground.png'), alpha),
    plate: await small('truth/goat-quay/plate.jpg'),
  };
});

describe('the goat', () => {
  const recipe = readRecipe((JSON.parse(readFileSync(join(demo, 'jobs/goat-on-the-quay.json'), 'utf8')) as { recipe: unknown }).recipe);

  test('is cut by the marks of its job', async () => {
    const { matte: found } = await matte(goat.shot, recipe.subjects[0], context);
    const { mse } = matteErrors(found, goat.alpha);
    expect(mse).toBeLessThan(0.012);
    // What the marks say is so: the body is opaque, the sky is clear.
    expect(found.data[180 * 600 + 330]).toBeGreaterThan(0.98);
    expect(found.data[20 * 600 + 40]).toBe(0);
  });

  test('the colour of its half-covered pixels is nearer to the truth than the shot’s', async () => {
    const weight = goat.alpha.data.map((a) => (a > 0.05 && a < 0.95 ? a : 0));
    const { subject } = await edgeColour(goat.shot, goat.alpha, context);
    expect(meanDeltaE(subject, goat.front, weight)).toBeLessThan(0.8 * meanDeltaE(goat.shot, goat.front, weight));
  });

  test('its plate holds nothing of it, and leaves less than half of the halo', async () => {
    const { subject, behind } = await edgeColour(goat.shot, goat.alpha, context);
    const made = await plate({ shot: goat.shot, behind, matte: goat.alpha }, recipe.subjects[0].plate as PlateParams, context);
    const inside = made.hole.data.map((h) => (h > 0.5 ? 1 : 0));
    expect(psnr(made.plate, goat.plate, inside)).toBeGreaterThan(psnr(goat.shot, goat.plate, inside) + 1);
    const see = (p: Picture): Promise<Picture> => defocus(p, 20, { ...recipe.lens, fNumber: 1.4 }, context);
    const right = over(goat.front, await see(goat.plate));
    const filled = halo(over(subject, await see(made.plate)), right, goat.alpha, scale);
    const unfilled = halo(over(subject, await see(goat.shot)), right, goat.alpha, scale);
    expect(filled.near / unfilled.near).toBeLessThan(0.5);
    expect(filled.far / unfilled.far).toBeLessThan(0.5);
  });

  test('the true plate blurred is nearer to the true lens picture than unblurred', async () => {
    const lens = await small('truth/goat-quay/lens-plate.png');
    const sharp = resizePicture(goat.plate, lens.width, lens.height);
    const far = Float32Array.from({ length: lens.width * lens.height }, (_, i) => (i < lens.width * lens.height * 0.55 ? 1 : 0));
    const blurred = await defocus(
      sharp,
      20,
      opticsOf({ focalLength: 85, sensorWidth: 36, fNumber: 1.91, focus: 3 }, lens.width),
      defaultContext(),
    );
    expect(psnr(blurred, lens, far)).toBeGreaterThan(psnr(sharp, lens, far) + 1);
  });
});

test('the lantern is cut by the strokes that come with it', async () => {
  const shot = await small('pictures/lantern-greencloth.jpg');
  const alpha = await opacityAt('truth/lantern-greencloth/alpha.png');
  const { matte: found } = await matte(shot, { marks: strokes('lantern-greencloth'), trim: noTrim }, context);
  expect(matteErrors(found, alpha).mse).toBeLessThan(0.008);
});

describe('without marks', () => {
  test('the lantern by its green cloth: opacity and colour, glass and wicker holes included', async () => {
    const shot = await small('pictures/lantern-greencloth.jpg');
    const alpha = await opacityAt('truth/lantern-greencloth/alpha.png');
    const front = withOpacity(await small('truth/lantern-greencloth/foreground.png'), alpha);
    const { recipe } = JSON.parse(readFileSync(join(demo, 'jobs/lantern.json'), 'utf8')) as { recipe: unknown };
    const [subject] = readRecipe(recipe).subjects;
    const product = await matteOn({ ground: await matteGround(shot, context) }, subject, context);
    expect(matteErrors(product.matte, alpha).mse).toBeLessThan(0.0015);
    const weight = alpha.data.map((a, i) => (a > 0.05 && a < 1 && product.matte.data[i] > 0 ? a : 0));
    const cut = await unmix(shot, product, 1, context);
    expect(meanDeltaE(cut.subject, front, weight)).toBeLessThan(0.5 * meanDeltaE(shot, front, weight));
  });

  test.each([
    ['weathervane', 'weathervane', 0.85],
    ['lantern', 'lantern-greencloth', 0.9],
    ['goat', 'goat-quay', 0.65],
  ])('the %s is proposed', async (_, name, least) => {
    const shot = await small(`pictures/${name}.jpg`, 0.5);
    const alpha = await opacityAt(`truth/${name}/alpha.png`, 0.5);
    const context = defaultContext({ scale: 0.5 });
    const ground = await matteGround(shot, context);
    const [best] = await findSubject(ground, context);
    const { matte: cut } = await matteOn({ ground }, { marks: best.marks, trim: noTrim }, context);
    let [both, any] = [0, 0];
    cut.data.forEach((v, p) => {
      both += v > 0.5 && alpha.data[p] > 0.5 ? 1 : 0;
      any += v > 0.5 || alpha.data[p] > 0.5 ? 1 : 0;
    });
    expect(both / any).toBeGreaterThan(least);
  });

  test('the paper boat comes in without a dark fringe', async () => {
    const path = 'pictures/paper-boat.png';
    const { samples, multiplied } = await readPicture(path, new Uint8Array(readFileSync(join(demo, path))), nodeCodec);
    expect(multiplied).toBe('#000000');
    const straight = fromSamples(straightened(samples, multiplied!));
    const raw = fromSamples(samples);
    const rimLight = (p: Picture): number => {
      let [sum, n] = [0, 0];
      for (let i = 0; i < p.r.length; i++) {
        if (p.a![i] < 0.3 || p.a![i] > 0.7) continue;
        sum += p.g[i];
        n++;
      }
      return sum / n;
    };
    expect(rimLight(straight)).toBeGreaterThan(2.5 * rimLight(raw));
  });
});
