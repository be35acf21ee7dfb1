/** @jest-environment node */
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { cielabOf, decodeSrgb, deltaE2000, encodeSrgb, fromSamples, lightInDisplayP3 } from '@ritaglio/core';
import { pngWithProfile, readPicture, writePng } from '@ritaglio/formats';
import { decode } from 'fast-png';
import { unzipSync } from 'fflate';
import { By, Key } from 'selenium-webdriver';
import sharp from 'sharp';
import { nodeCodec } from '../packages/cli/src/files';
import {
  button,
  downloaded,
  draw,
  find,
  giveFile,
  halfPhoto,
  openStep,
  press,
  settled,
  shownColour,
  startSession,
  type Session,
} from './browser';

let photo: string;
let session: Session;
let actions = 0;
const act = async (what: Promise<unknown>): Promise<void> => {
  actions++;
  await what;
};

beforeAll(async () => {
  session = await startSession();
  photo = await halfPhoto(session, 'weathervane.jpg');
  await session.driver.get(session.address);
});
afterAll(() => session.close());

/** On to the step that is proposed. */
const on = (name: string): Promise<void> =>
  find(session.driver, By.xpath(`//aside//a[normalize-space()=${JSON.stringify(`${name} ›`)}]`)).then((a) => a.click());
// In one go: between two questions the page may have been drawn anew.
const parts = (): Promise<string[]> =>
  session.driver.executeScript<string[]>(
    `return [...document.querySelectorAll('aside[aria-label^=Controls] section h2')].map((title) => title.textContent.trim());`,
  );

test('from a photo to an exported picture with soft ground behind in at most twelve actions, each proposed', async () => {
  const { driver } = session;
  await act((await find(driver, By.xpath(`//ul[@aria-label='Common jobs']//button[contains(., 'Blur what is behind')]`))).click());
  await act((await find(driver, By.css('input[type=file]'))).sendKeys(photo));
  await settled(driver);
  await driver.wait(async () => (await parts()).join() === 'Draw', 20_000);
  await find(driver, By.xpath(`//p[contains(., 'Draw one stroke')]`));
  await act(draw(driver, [1500, 1000], [[700, 260], [760, 420], [745, 640]])); // prettier-ignore
  await act(draw(driver, [1500, 1000], [[120, 80], [160, 500]], Key.SHIFT)); // prettier-ignore
  await find(driver, By.xpath(`//p[contains(., 'There is a cut')]`));
  await act(on('Lens'));
  await settled(driver);
  await driver.wait(async () => (await parts()).join() === 'Amount,Focus,Lamps', 20_000);
  await act(on('Proof'));
  await find(driver, button('Walk the places'));
  await act(on('Export'));
  await act(press(driver, 'Export picture'));
  expect((await downloaded(session, '.png')).bytes.length).toBeGreaterThan(100_000);
  expect(actions).toBeLessThanOrEqual(12);
});

test('all controls are one press away, and stay', async () => {
  const { driver } = session;
  await press(driver, 'All controls');
  await driver.wait(async () => (await driver.findElements(button('All controls'))).length === 0, 10_000);
  // It is written beside what is seen.
  await driver.sleep(500);
  await driver.navigate().refresh();
  await settled(driver);
  await driver.findElement(By.css('nav[aria-label="Work line"] a[href$="/lens"]')).click();
  await driver.wait(async () => (await parts()).includes('Distances'), 20_000);
});

test('several sizes are written at once; what was written can be dragged out', async () => {
  const { driver } = session;
  await openStep(driver, 'export');
  await (await find(driver, By.xpath(`//label[contains(., 'Also at a half')]`))).click();
  await press(driver, 'Export picture');
  const { name, bytes } = await downloaded(session, '.zip');
  expect(name).toBe('weathervane sizes.zip');
  const files = unzipSync(bytes);
  expect(Object.keys(files)).toEqual(['weathervane 750.png', 'weathervane 375.png', 'weathervane 188.png']);
  expect(decode(files['weathervane 188.png']).width).toBe(188);
  const given = await driver.executeAsyncScript<string>(`
    const done = arguments[arguments.length - 1];
    const link = document.querySelector('a[draggable=true]');
    link.addEventListener('dragstart', (e) => setTimeout(() => done(e.dataTransfer.getData('DownloadURL'))));
    const transfer = new DataTransfer();
    link.dispatchEvent(new DragEvent('dragstart', { bubbles: true, dataTransfer: transfer }));
    done(transfer.getData('DownloadURL'));`);
  expect(given).toMatch(/^application\/zip:weathervane sizes\.zip:blob:/);
});

test('a picture that is pasted is among the job’s pictures', async () => {
  const { driver } = session;
  await openStep(driver, 'pictures');
  await driver.executeScript(`
    const canvas = new OffscreenCanvas(60, 40);
    canvas.getContext('2d').fillRect(0, 0, 60, 40);
    canvas.convertToBlob().then((blob) => {
      const clipboardData = new DataTransfer();
      clipboardData.items.add(new File([blob], 'pasted.png', { type: 'image/png' }));
      document.body.dispatchEvent(new ClipboardEvent('paste', { clipboardData, bubbles: true }));
    });`);
  await find(driver, By.xpath(`//section[@aria-label='In this job']//p[contains(., '60 × 40')]`));
});

test('a second job of the same photo has a name of its own', async () => {
  const { driver } = session;
  await driver.get(session.address);
  await (await find(driver, By.css('input[type=file]'))).sendKeys(photo);
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await driver.wait(async () => /weathervane 2/.test(await driver.getTitle()), 20_000);
});

test('a file of any kind has the same colours here as in the terminal, and those that it was written with', async () => {
  const { driver, address } = session;
  const patches = [[200, 40, 50], [60, 150, 80], [50, 70, 190], [128, 128, 128], [240, 220, 60], [30, 28, 34]]; // prettier-ignore
  const [side, width] = [80, 480];
  const codes = Uint8Array.from({ length: width * side * 3 }, (_, i) => patches[Math.floor((Math.floor(i / 3) % width) / side)][i % 3]);
  const raw = () => sharp(codes, { raw: { width, height: side, channels: 3 } });
  const wide = pngWithProfile(writePng({ width, height: side, channels: 3, data: codes }), 'display-p3');
  const deep = sharp(Uint16Array.from(codes, (v) => 257 * v), { raw: { width, height: side, channels: 3 } }).toColourspace('rgb16'); // prettier-ignore
  const kinds: [name: string, bytes: Promise<Uint8Array> | Uint8Array][] = [
    ['plain.png', raw().png().toBuffer()],
    ['deep.png', deep.clone().png().toBuffer()],
    ['wide.png', wide],
    ['plain.jpg', raw().jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer()],
    ['stepwise.jpg', raw().jpeg({ quality: 95, progressive: true }).toBuffer()],
    ['turned.jpg', raw().rotate(180).withMetadata({ orientation: 3 }).jpeg({ quality: 100 }).toBuffer()],
    ['inks.jpg', raw().withIccProfile('cmyk').jpeg({ quality: 100 }).toBuffer()],
    ['exact.webp', raw().webp({ lossless: true }).toBuffer()],
    ['lossy.webp', raw().webp({ quality: 95 }).toBuffer()],
    ['plain.avif', raw().avif({ quality: 95, chromaSubsampling: '4:4:4' }).toBuffer()],
    ['plain.gif', raw().gif({ dither: 0 }).toBuffer()],
    ['plain.tif', raw().tiff({ compression: 'lzw' }).toBuffer()],
    ['deep.tif', deep.clone().tiff({ compression: 'deflate' }).toBuffer()],
  ]; // prettier-ignore
  const folder = mkdtempSync(join(tmpdir(), 'ritaglio-kinds-'));
  const labsOf = (at: (i: number) => readonly number[]): [number, number, number][] =>
    patches.map((_, i) => cielabOf(...(at(i).map((v) => Math.min(1, Math.max(0, v))) as [number, number, number])));
  const told = new Map<string, [number, number, number][]>();
  for (const [name, made] of kinds) {
    const bytes = await made;
    writeFileSync(join(folder, name), bytes);
    const { r, g, b } = fromSamples((await readPicture(name, bytes, nodeCodec)).samples);
    told.set(
      name,
      labsOf((i) => [r, g, b].map((c) => c[(side / 2) * width + i * side + side / 2])),
    );
  }
  await driver.get(address);
  await giveFile(driver, 'Photo or job to open', join(folder, 'plain.png'));
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await openStep(driver, 'pictures');
  // All together: names without numbers are no clip.
  await giveFile(driver, 'Pictures to bring in', kinds.slice(1).map(([name]) => join(folder, name)).join('\n')); // prettier-ignore
  for (const [name] of kinds.slice(1)) await find(driver, By.xpath(`//section[@aria-label='In this job']//li[contains(., '${name}')]`));
  await (await find(driver, By.xpath(`//*[@role='radio'][.='Shot']`))).click();
  for (const [name] of kinds) {
    if (name !== 'plain.png') {
      await (await find(driver, By.xpath(`//section[@aria-label='In this job']//li[contains(., '${name}')]//button[.='Use as shot']`))).click(); // prettier-ignore
    }
    await settled(driver);
    const seen: number[][] = [];
    for (let i = 0; i < patches.length; i++) seen.push(await shownColour(driver, [width, side], [i * side + side / 2, side / 2]));
    const labs = labsOf((i) => seen[i].map((v) => decodeSrgb(v / 255)));
    labs.forEach((lab, i) => expect([name, i, deltaE2000(lab, told.get(name)![i]) < 1]).toEqual([name, i, true]));
    // Four inks and the wider space have other colours for the same numbers.
    if (!['inks.jpg', 'wide.png'].includes(name)) {
      const known = labsOf((i) => patches[i].map((v) => decodeSrgb(v / 255)));
      labs.forEach((lab, i) => expect([name, i, deltaE2000(lab, known[i]) < 1.5]).toEqual([name, i, true]));
    }
  }
  // What the browser cannot show by itself has a print as well.
  await driver.wait(
    () =>
      driver.executeScript<boolean>(
        `return [...document.querySelectorAll("section[aria-label='In this job'] li img")].every((image) => image.complete && image.naturalWidth > 0)`,
      ),
    20_000,
  );
});

test('colours that sRGB has not come in with their profile, and leave with it', async () => {
  const { driver, address } = session;
  // Light, then codes: red, orange and a green of the wider space, in large patches.
  const patches = [[255, 20, 10], [250, 120, 0], [30, 230, 60]]; // prettier-ignore
  const [side, width] = [160, 480];
  const codes = Uint8Array.from({ length: width * side * 3 }, (_, i) => patches[Math.floor((Math.floor(i / 3) % width) / side)][i % 3]);
  const png = pngWithProfile(writePng({ width, height: side, channels: 3, data: codes }), 'display-p3');
  const jpeg = await sharp(png).keepIccProfile().jpeg({ quality: 100, chromaSubsampling: '4:4:4' }).toBuffer();
  const path = join(mkdtempSync(join(tmpdir(), 'ritaglio-wide-')), 'wide.jpg');
  writeFileSync(path, jpeg);
  await driver.get(address);
  await giveFile(driver, 'Photo or job to open', path);
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await openStep(driver, 'export');
  await find(driver, By.xpath('//p[contains(., "Display P3 keeps them")]'));
  await (await find(driver, By.xpath(`//*[@role='radio'][.='Display P3']`))).click();
  for (const [format, ending] of [
    ['PNG 16', '.png'],
    ['JPEG', '.jpg'],
    ['WebP', '.webp'],
    ['TIFF 16', '.tif'],
  ] as const) {
    // prettier-ignore
    await (await find(driver, By.xpath(`//*[@role='radio'][.='${format}']`))).click();
    await press(driver, 'Export picture');
    const { name, bytes } = await downloaded(session, ending);
    const { samples } = await readPicture(name, bytes, nodeCodec);
    expect(samples.space).toBe('display-p3');
    const { r, g, b } = lightInDisplayP3(fromSamples(samples));
    patches.forEach((patch, i) => {
      const p = (side / 2) * width + i * side + side / 2;
      const told = [r, g, b].map((c) => 255 * encodeSrgb(c[p]));
      patch.forEach((v, c) => expect(Math.abs(told[c] - v)).toBeLessThan(3));
    });
  }
});

test('the same by keys alone, in at most forty presses', async () => {
  const { driver, address } = session;
  await driver.get(address);
  let presses = 0;
  const keys = async (...pressed: string[]): Promise<void> => {
    for (const key of pressed) {
      presses++;
      await driver.actions().sendKeys(key).perform();
      await driver.sleep(40);
    }
  };
  const focused = (): Promise<string> => driver.executeScript('return document.activeElement?.textContent ?? ""');
  const findByWord = async (word: string, control: string): Promise<void> => {
    presses++;
    await driver.actions().keyDown(Key.CONTROL).sendKeys('k').keyUp(Key.CONTROL).perform();
    await find(driver, By.css('input[aria-label="Words of the control"]'));
    await keys(...word, Key.ENTER);
    await driver.wait(async () => (await focused()).trim() === control, 10_000, `no focus on ${control}`);
  };
  await find(driver, By.xpath(`//ul[@aria-label='Common jobs']//button`));
  while (presses < 12 && !(await focused()).includes('Blur what is behind')) await keys(Key.TAB);
  await keys(Key.ENTER);
  // What the system's own window for files does.
  await (await find(driver, By.css('input[type=file]'))).sendKeys(photo);
  await settled(driver);
  await findByWord('find sub', 'Find the subject');
  await keys(Key.ENTER);
  await find(driver, By.css('[aria-label="Proposed subject"]'));
  await keys(Key.ENTER);
  await find(driver, By.xpath(`//p[contains(., 'There is a cut')]`));
  await keys('5');
  await find(driver, By.css('a[aria-current=step][href$="/lens"]'));
  await settled(driver);
  await keys('8');
  await find(driver, By.css('a[aria-current=step][href$="/export"]'));
  await findByWord('export p', 'Export picture');
  await keys(Key.ENTER);
  expect((await downloaded(session, '.png')).bytes.length).toBeGreaterThan(100_000);
  expect(presses).toBeLessThanOrEqual(40);
});
