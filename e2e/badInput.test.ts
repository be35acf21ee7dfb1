import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { By } from 'selenium-webdriver';
import sharp from 'sharp';
import { find, giveFile, keptUntil, keptWork, openStep, said, startSession, type Session } from './browser';

const demo = join(fileURLToPath(new URL('.', import.meta.url)), '../demo/pictures');
const folder = mkdtempSync(join(tmpdir(), 'ritaglio-bad-'));
let session: Session;
let jpeg: Buffer;
let png: Buffer;

const gradient = (width: number, height: number) =>
  sharp(Buffer.from(Array.from({ length: width * height * 3 }, (_, i) => (i * 37) % 256)), { raw: { width, height, channels: 3 } });

beforeAll(async () => {
  jpeg = readFileSync(join(demo, 'evening-sky.jpg'));
  png = await gradient(60, 40).png().toBuffer();
  session = await startSession();
  const { driver, address } = session;
  await driver.get(address);
  await giveFile(driver, 'Photo or job to open', join(demo, 'weathervane.jpg'));
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await openStep(driver, 'pictures');
});
afterAll(async () => {
  await session.close();
  rmSync(folder, { recursive: true, force: true });
});

function changed(bytes: Buffer, at: number, values: number[]): Buffer {
  const out = Buffer.from(bytes);
  out.set(values, at);
  return out;
}

/** Brings a file into the job and waits for what is said of it, or for it to be there. */
async function bring(name: string, bytes: Uint8Array): Promise<void> {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  await giveFile(session.driver, 'Pictures to bring in', path);
}

describe('a file that cannot be read', () => {
  test.each<[string, () => Buffer]>([
    ['truncated.jpg', () => jpeg.subarray(0, jpeg.length / 3)],
    ['wrong-sum.png', () => changed(png, png.length - 20, [1, 2, 3])],
    ['empty.png', () => Buffer.alloc(0)],
    ['text.png', () => Buffer.from('This is a shopping list, not a picture.\n'.repeat(9))],
    ['endless.png', () => changed(png, 16, [0, 0, 0xea, 0x60, 0, 0, 0xea, 0x60])],
  ])('%s is refused with a sentence, and the job is untouched', async (name, bytes) => {
    const before = await keptWork(session.driver);
    await bring(name, bytes());
    const sentence = await said(session.driver, name);
    expect(sentence.length).toBeGreaterThan(40);
    expect(sentence).not.toMatch(/undefined|Error:|Something went wrong/);
    expect(await keptWork(session.driver)).toEqual(before);
  });
});

describe('an unusual file that can be read', () => {
  test.each<[string, () => Promise<Buffer>]>([
    ['dot.png', () => gradient(1, 1).png().toBuffer()],
    ['ink.jpg', () => gradient(60, 40).toColourspace('cmyk').jpeg().toBuffer()],
    ['deep.png', () => gradient(60, 40).toColourspace('rgb16').png().toBuffer()],
    ['grey.png', () => gradient(60, 40).greyscale().png().toBuffer()],
    ['palette.png', () => gradient(60, 40).png({ palette: true, colours: 16 }).toBuffer()],
    [
      'moving.webp',
      () =>
        sharp(Buffer.from(Array.from({ length: 40 * 60 * 3 }, (_, i) => i % 251)), {
          raw: { width: 40, height: 60, channels: 3, pageHeight: 30 },
        })
          .webp({ loop: 0, delay: [100, 100] })
          .toBuffer(),
    ],
  ])('%s comes in, and the recipe is untouched', async (name, bytes) => {
    const before = await keptWork(session.driver);
    await bring(name, await bytes());
    await find(session.driver, By.xpath(`//section[@aria-label="In this job"]//p[.="${name}"]`));
    const after = await keptUntil(session.driver, (k) => k.pictures === before.pictures + 1);
    expect(after.recipe).toEqual(before.recipe);
  });

  test('a tiny picture goes through the whole line', async () => {
    const path = join(folder, 'dot.png');
    await session.driver.get(session.address);
    await giveFile(session.driver, 'Photo or job to open', path);
    await keptUntil(session.driver, (k) => k.name === 'dot');
    await find(session.driver, By.css('main[data-settled=true]'));
  });
});
