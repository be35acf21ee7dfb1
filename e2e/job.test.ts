import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import {
  defocus,
  edgeColour,
  fromSamples,
  halo,
  matte,
  over,
  defaultContext,
  readRecipe,
  resizePicture,
  resizePlane,
  withOpacity,
  type Picture,
} from '@ritaglio/core';
import { readPicture, writeJob } from '@ritaglio/formats';
import { By, Key } from 'selenium-webdriver';
import { nodeCodec } from '../packages/cli/src/files';
import { jobAt, matteAt, pictureAt, strokesOf } from '../scripts/measure/truth';
import {
  downloaded,
  draw,
  find,
  giveFile,
  halfPhoto,
  keptUntil,
  openStep,
  press,
  settled,
  startSession,
  typeNumber,
  type Session,
} from './browser';

const demo = join(fileURLToPath(new URL('.', import.meta.url)), '../demo');
const frame: [number, number] = [1800, 1200];
let session: Session;

beforeAll(async () => {
  session = await startSession();
});
afterAll(() => session.close());

async function exported(format: string): Promise<ReturnType<typeof readPicture>> {
  const { driver } = session;
  await openStep(driver, 'export');
  await press(driver, format);
  await press(driver, 'Export picture');
  const { name, bytes } = await downloaded(session, format === 'JPEG' ? '.jpg' : '.png');
  return readPicture(name, bytes, nodeCodec);
}

/** The demo's goat with a retoucher's patient marks, as one file: what is tested is what comes after the marks. */
function carefulJob(): string {
  const plain = readRecipe(jobAt('goat-on-the-quay').recipe);
  const subjects = plain.subjects.map((s, i) => (i === 0 ? { ...s, marks: strokesOf('goat-quay', 'careful') } : s));
  const bytes = new Uint8Array(readFileSync(join(demo, 'pictures/goat-quay.jpg')));
  const path = join(mkdtempSync(join(tmpdir(), 'ritaglio-job-')), 'careful.zip');
  writeFileSync(path, writeJob({ recipe: { ...plain, subjects }, pictures: [{ id: subjects[0].shot, name: 'goat-quay.jpg', bytes }] }));
  return path;
}

describe('the whole job', () => {
  test('from a job that was marked with care to a file without a halo', async () => {
    const { driver, address } = session;
    await driver.get(address);
    await giveFile(driver, 'Photo or job to open', carefulJob());
    await settled(driver);
    const before = (await keptUntil(driver, (k) => k.jobs === 1)).recipe;
    await draw(
      driver,
      frame,
      [
        [1400, 200],
        [1500, 260],
        [1600, 240],
      ],
      Key.SHIFT,
    );
    await draw(driver, frame, [
      [900, 560],
      [1000, 570],
    ]);
    const marked = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === before.subjects[0].marks.length + 2);
    expect(marked.recipe.subjects[0].marks.slice(-2).map((m) => m.kind)).toEqual(['outside', 'inside']);
    const [x, y] = marked.recipe.subjects[0].marks.at(-1)!.points[0];
    expect(Math.hypot(x - 900, y - 560)).toBeLessThan(3);
    await settled(driver);
    await openStep(driver, 'lens');
    // One blur for all of the plate and no lamps: what differs is how the hole was filled.
    await press(driver, 'Flat again');
    await typeNumber(driver, 'Lift', 0);
    await typeNumber(driver, 'Aperture', 1.2);
    const blurred = await keptUntil(driver, (k) => k.recipe.lens.fNumber === 1.2);
    await settled(driver);
    const { samples } = await exported('PNG');
    expect([samples.width, samples.height]).toEqual(frame);

    // Against the same lens on the true plate, with the true subject over it; all at half the size.
    const context = defaultContext({ scale: 0.5 });
    const half = (p: Picture): Picture => resizePicture(p, frame[0] / 2, frame[1] / 2);
    const truth = resizePlane(await matteAt('demo/truth/goat-quay/alpha.png'), frame[0] / 2, frame[1] / 2);
    const shot = half(await pictureAt('demo/pictures/goat-quay.jpg'));
    const front = withOpacity(half(await pictureAt('demo/truth/goat-quay/foreground.png')), truth);
    const lens = blurred.recipe.lens;
    const right = over(front, await defocus(half(await pictureAt('demo/truth/goat-quay/plate.jpg')), 20, lens, context));
    const cut = (await edgeColour(shot, (await matte(shot, blurred.recipe.subjects[0], context)).matte, context)).subject;
    const [plain, after] = [over(cut, await defocus(shot, 20, lens, context)), half(fromSamples(samples))];
    const unfilled = halo(plain, right, truth, 0.5);
    const ours = halo(after, right, truth, 0.5);
    console.log(
      `halo ${ours.near.toFixed(2)} and ${ours.far.toFixed(2)}, unfilled ${unfilled.near.toFixed(2)} and ${unfilled.far.toFixed(2)}`,
    );
    expect(ours.near).toBeLessThan(3.6);
    expect(ours.far).toBeLessThan(3);
    expect(ours.near / unfilled.near).toBeLessThan(0.42);
    expect(ours.far / unfilled.far).toBeLessThan(0.39);
    // Beyond the last trace of wool nothing of the subject is left that could be right or wrong itself: what differs there is halo.
    const end = { ...truth, data: truth.data.map((a) => (a > 0.02 ? 1 : 0)) };
    const [oursBeyond, unfilledBeyond] = [halo(after, right, end, 0.5), halo(plain, right, end, 0.5)];
    console.log(`beyond it ${(oursBeyond.near / unfilledBeyond.near).toFixed(3)} and ${(oursBeyond.far / unfilledBeyond.far).toFixed(3)}`);
    expect(oursBeyond.near / unfilledBeyond.near).toBeLessThan(0.4);
    expect(oursBeyond.far / unfilledBeyond.far).toBeLessThan(0.4);
  });

  test('a picture of one’s own, cut by a few marks and set before a library picture', async () => {
    const { driver, address } = session;
    await driver.get(address);
    const photo = await halfPhoto(session, 'lantern-greencloth.jpg');
    await giveFile(driver, 'Photo or job to open', photo);
    await find(driver, By.css('nav[aria-label="Work line"]'));
    await find(driver, By.xpath('//p[contains(., "Nothing is marked yet")]'));
    const size: [number, number] = [1500, 1000];
    await draw(driver, size, [
      [750, 380],
      [750, 700],
    ]);
    await draw(
      driver,
      size,
      [
        [300, 150],
        [300, 800],
      ],
      Key.SHIFT,
    );
    await draw(
      driver,
      size,
      [
        [1200, 150],
        [1200, 800],
      ],
      Key.SHIFT,
    );
    const kept = await keptUntil(driver, (k) => k.name === 'lantern-greencloth' && k.recipe.subjects[0].marks.length === 3);
    expect(kept.recipe.frame).toEqual({ width: 750, height: 500, x: 0, y: 0, turn: 0 });
    await settled(driver);
    await openStep(driver, 'pictures');
    await press(driver, 'Picture library');
    await (await find(driver, By.css('[role=dialog] input'))).sendKeys('night');
    await (await find(driver, By.xpath('//*[@role="dialog"]//li/button[contains(., "anal")]'))).click();
    await (await find(driver, By.xpath('//li[contains(., "Canal")]//button[.="Stand behind"]'))).click();
    await keptUntil(driver, (k) => k.recipe.cards.some((c) => c.kind === 'picture'));
    await openStep(driver, 'match');
    await settled(driver);
    await press(driver, 'Match cast');
    await typeNumber(driver, 'Strength', 60);
    const matched = await keptUntil(driver, (k) => k.recipe.match.strengths.cast === 0.6);
    expect(readRecipe(matched.recipe)).toEqual(matched.recipe);
    await settled(driver);
    const { samples } = await exported('JPEG');
    const picture = fromSamples(samples);
    const shot = fromSamples((await readPicture('lantern.jpg', new Uint8Array(readFileSync(photo)), nodeCodec)).samples);
    // The cloth beside the lantern is gone, the lantern itself is still there.
    const change = (x0: number, y0: number): number => {
      let sum = 0;
      for (let y = y0; y < y0 + 20; y++) for (let x = x0; x < x0 + 20; x++) sum += Math.abs(picture.g[y * 750 + x] - shot.g[y * 750 + x]);
      return sum / 400;
    };
    expect(change(150, 150)).toBeGreaterThan(0.03);
    expect(change(365, 280)).toBeLessThan(change(150, 150));
  });

  test('undo and redo over the whole job, by keys', async () => {
    const { driver } = session;
    await openStep(driver, 'matte');
    const now = await keptUntil(driver, (k) => k.recipe.match.strengths.cast === 0.6);
    const body = await find(driver, By.css('body'));
    for (let n = 0; n < 4; n++) await body.sendKeys(Key.chord(Key.CONTROL, 'z'));
    const undone = await keptUntil(driver, (k) => k.cursor === now.cursor - 4);
    expect(undone.states).toBe(now.states);
    expect(undone.recipe.match.strengths.cast).toBe(0);
    expect(undone.recipe.subjects[0].marks.length).toBeLessThan(3);
    for (let n = 0; n < 4; n++) await body.sendKeys(Key.chord(Key.CONTROL, Key.SHIFT, 'z'));
    const redone = await keptUntil(driver, (k) => k.cursor === now.cursor);
    expect(redone.recipe).toEqual(now.recipe);
  });
});
