/** @jest-environment node */
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { psnr, fromSamples } from '@ritaglio/core';
import { unzipSync } from 'fflate';
import { decode, encode } from 'fast-png';
import { ALL_FORMATS, BufferSource, EncodedPacketSink, Input } from 'mediabunny';
import { By, Key } from 'selenium-webdriver';
import { button, downloaded, draw, find, keptUntil, openStep, press, settled, startSession, typeNumber, type Session } from './browser';

const [width, height, count, rate] = [240, 161, 8, 8];
/** The frame on which the picture is white and the sound clicks. */
const flash = 5;
const folder = mkdtempSync(join(tmpdir(), 'ritaglio-clip-'));
let session: Session;

/** A red ball that rolls over ground of many tones. */
function framePixels(i: number): Uint8Array {
  const data = new Uint8Array(width * height * 3);
  for (let y = 0, k = 0; y < height; y++) {
    for (let x = 0; x < width; x++, k += 3) {
      const ground = 90 + 25 * Math.sin(x / 9) + 25 * Math.cos(y / 7 + x / 40);
      const inside = Math.hypot(x - 50 - 18 * i, y - 90) < 26;
      const rgb = inside ? [190, 50 + ((x * 3 + y) % 20), 40] : [ground * 0.5, ground, ground * 1.1];
      for (let c = 0; c < 3; c++) data[k + c] = i === flash ? 250 : rgb[c];
    }
  }
  return data;
}

/** A second of silence with a click where the flash begins, as 16-bit WAV. */
function click(): Buffer {
  const sampleRate = 48_000;
  const samples = new Int16Array(sampleRate);
  for (let i = 0; i < 480; i++) samples[Math.round((flash / rate) * sampleRate) + i] = 20_000 * Math.sin(i / 4);
  const head = Buffer.alloc(44);
  head.write('RIFF', 0);
  head.writeUInt32LE(36 + samples.byteLength, 4);
  head.write('WAVEfmt ', 8);
  [16, 1 | (1 << 16), sampleRate, sampleRate * 2, 2 | (16 << 16)].forEach((v, i) => head.writeUInt32LE(v, 16 + 4 * i));
  head.write('data', 36);
  head.writeUInt32LE(samples.byteLength, 40);
  return Buffer.concat([head, Buffer.from(samples.buffer)]);
}

const frames = Array.from({ length: count }, (_, i) => {
  const path = join(folder, `roll-${String(i + 1).padStart(2, '0')}.png`);
  writeFileSync(path, encode({ width, height, channels: 3, depth: 8, data: framePixels(i) }));
  return path;
});
const sound = join(folder, 'click.wav');
writeFileSync(sound, click());
let video = '';

beforeAll(async () => {
  session = await startSession();
});
afterAll(async () => {
  await session.close();
  rmSync(folder, { recursive: true, force: true });
});

const now = async (): Promise<number> =>
  Number(await (await find(session.driver, By.css('[aria-label=Frame]'))).getAttribute('aria-valuenow')) - 1;
const tell = async (text: string): Promise<void> =>
  void (await find(session.driver, By.xpath(`//p[@role='status'][contains(., ${JSON.stringify(text)})]`)));
/** Nothing is in hand any more. */
const letGo = (): Promise<void> => session.driver.executeScript('document.activeElement?.blur()');
/** A key pressed while nothing is in hand. */
const key = (...keys: string[]): Promise<void> =>
  session.driver
    .actions()
    .sendKeys(...keys)
    .perform();

/** The click in a video's sound, s, by where its packets are largest; and its pictures' times. */
async function heard(bytes: Uint8Array): Promise<{ clickAt: number; times: number[]; codec: string; size: [number, number] }> {
  const input = new Input({ formats: ALL_FORMATS, source: new BufferSource(bytes.buffer as ArrayBuffer) });
  const picture = (await input.getPrimaryVideoTrack())!;
  const audio = (await input.getPrimaryAudioTrack())!;
  const times: number[] = [];
  for await (const p of new EncodedPacketSink(picture).packets()) times.push(p.timestamp);
  let loudest = { size: 0, at: 0 };
  for await (const p of new EncodedPacketSink(audio).packets())
    if (p.byteLength > loudest.size) loudest = { size: p.byteLength, at: p.timestamp };
  const size: [number, number] = [await picture.getDisplayWidth(), await picture.getDisplayHeight()];
  return { clickAt: loudest.at, times, codec: (await audio.getCodec())!, size };
}

describe('numbered frames', () => {
  test('dropped together they are offered as a clip, of a rate that can be changed', async () => {
    const { driver } = session;
    await driver.get(session.address);
    await (await find(driver, By.css('input[type=file]'))).sendKeys(frames.join('\n'));
    const field = await find(driver, By.css('input[aria-label="Frames a second"]'));
    expect(await (await find(driver, By.css('[role=dialog]'))).getText()).toMatch(/8 frames, 240 × 161, 24 a second/);
    await field.sendKeys(Key.chord(Key.CONTROL, 'a'), String(rate));
    await press(driver, 'Open as a clip');
    await settled(driver);
    const { recipe } = await keptUntil(driver, (k) => k.jobs === 1);
    expect(recipe.time).toMatchObject({ rate: { frames: 8, seconds: 1 }, first: 0, last: 7 });
  });

  test('keys and presses go along the tape', async () => {
    const { driver } = session;
    await letGo();
    await key(Key.ARROW_RIGHT, Key.ARROW_RIGHT);
    expect(await now()).toBe(2);
    await key(Key.END);
    expect(await now()).toBe(count - 1);
    await key(Key.HOME);
    expect(await now()).toBe(0);
    await (await find(driver, By.css('[aria-label=Frame]'))).click();
    expect(Math.abs((await now()) - count / 2)).toBeLessThanOrEqual(1);
  });

  test('with a sound they leave as WebM and MP4, the click with the flash', async () => {
    const { driver } = session;
    await openStep(driver, 'pictures');
    await (await find(driver, By.css('input[aria-label="Sound of roll"]'))).sendKeys(sound);
    await find(driver, button('Without sound'));
    await openStep(driver, 'export');
    for (const kind of ['WebM', 'MP4']) {
      await (await find(driver, By.xpath(`//*[@role='radio'][.='${kind}']`))).click();
      await press(driver, 'Export clip');
      await tell('Written');
      const { bytes } = await downloaded(session, kind.toLowerCase());
      const { clickAt, times, size, codec } = await heard(bytes);
      expect(times).toHaveLength(count);
      times.sort((a, b) => a - b).forEach((t, i) => expect(t).toBeCloseTo(i / rate, 2));
      expect(Math.abs(clickAt - flash / rate)).toBeLessThan(1 / rate);
      expect(size).toEqual(kind === 'WebM' ? [240, 161] : [240, 160]);
      if (kind === 'WebM') {
        expect(codec).toBe('opus');
        video = join(folder, 'roll.webm');
        writeFileSync(video, bytes);
      }
    }
  });
});

describe('a video', () => {
  test('is read with its rate, size and sound, and its frames are those that went in', async () => {
    const { driver } = session;
    await driver.get(session.address);
    await (await find(driver, By.css('input[type=file]'))).sendKeys(video);
    await press(driver, 'Open as a clip');
    await settled(driver);
    const { recipe } = await keptUntil(driver, (k) => k.jobs === 2);
    const [clip] = recipe.clips;
    expect(clip).toMatchObject({ count, rate: { frames: 8, seconds: 1 }, size: { width, height }, from: { kind: 'video' } });
    expect(clip.sound).not.toBeNull();
    // Without a subject on the bench the finished picture is the clip itself behind nothing.
    await openStep(driver, 'export');
    await (await find(driver, By.xpath(`//*[@role='radio'][.='PNGs']`))).click();
    await press(driver, 'Export clip');
    await tell('Written');
    const files = unzipSync((await downloaded(session, '.zip')).bytes);
    expect(Object.keys(files)).toEqual(Array.from({ length: count }, (_, i) => `000${i + 1}.png`));
  });

  test('a marked frame is followed through it; a frame that is doubted is marked as well', async () => {
    const { driver } = session;
    await openStep(driver, 'matte');
    await settled(driver);
    await letGo();
    await key(Key.HOME);
    await draw(driver, [width, height], [[40, 90], [60, 90]]); // prettier-ignore
    await draw(driver, [width, height], [[120, 20], [220, 20], [220, 140]], Key.SHIFT); // prettier-ignore
    await keptUntil(driver, ({ recipe }) => recipe.subjects[0].marks.length === 2);
    await settled(driver);
    await press(driver, 'Follow through the clip');
    await find(driver, By.xpath(`//p[contains(., 'Followed from marks on 1 frame')]`));
    await press(driver, 'Next doubtful');
    const doubted = await now();
    expect(doubted).not.toBe(0);
    await settled(driver);
    await draw(driver, [width, height], [[10, 20], [20, 20]], Key.SHIFT); // prettier-ignore
    const { recipe } = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === 3);
    expect(recipe.subjects[0].marks[2].frame).toBe(doubted);
    await press(driver, 'Follow through the clip');
    await find(driver, By.xpath(`//p[contains(., 'Followed from marks on 2 frames')]`));
  });

  test('the focus is keyed by its square and by K, and moves between its points', async () => {
    const { driver } = session;
    await openStep(driver, 'lens');
    await letGo();
    await key(Key.HOME);
    await (await find(driver, By.css('button[aria-label^="Distance: does not change"]'))).click();
    await key(Key.END);
    await typeNumber(driver, 'Distance', 12);
    const { recipe } = await keptUntil(driver, (k) => k.recipe.keys[0]?.points.length === 2);
    expect(recipe.keys[0]).toMatchObject({ of: 'lens.focus', points: [{ frame: 0, value: 3 }, { frame: 7, value: 12 }] }); // prettier-ignore
    await letGo();
    await key('k');
    await keptUntil(driver, (k) => k.recipe.keys[0]?.points.length === 1);
    await key('k');
    await keptUntil(driver, (k) => k.recipe.keys[0]?.points.length === 2);
    // Back over the marked frame to the first point.
    await key('[', '[');
    expect(await now()).toBe(0);
  });

  test('it plays, and stops where it was', async () => {
    const { driver } = session;
    await openStep(driver, 'matte');
    await press(driver, 'Play');
    await find(driver, By.xpath(`//span[contains(., ' a second')]`));
    await driver.wait(async () => (await now()) > 2, 60_000);
    await press(driver, 'Pause');
    await driver.wait(async () => (await driver.findElements(button('Play'))).length === 1, 10_000);
    // It goes round: any frame may be the one.
    const stopped = await now();
    await driver.sleep(500);
    expect(await now()).toBe(stopped);
  });

  test('an export that was stopped goes on, and gives what an undisturbed one gives', async () => {
    const { driver } = session;
    await openStep(driver, 'export');
    await (await find(driver, By.xpath(`//*[@role='radio'][.='PNGs']`))).click();
    await press(driver, 'Export clip');
    await driver.wait(async () => /Frame [3-8] of 8/.test(await (await find(driver, By.xpath(`//p[@role='status'][contains(., 'Frame')]`))).getText()), 90_000); // prettier-ignore
    await driver.navigate().refresh();
    await openStep(driver, 'export');
    const whole = async (): Promise<Record<string, Uint8Array>> => {
      await (await find(driver, By.xpath(`//*[@role='radio'][.='PNGs']`))).click();
      await press(driver, 'Export clip');
      await tell('Written');
      return unzipSync((await downloaded(session, '.zip')).bytes);
    };
    const [resumed, again] = [await whole(), await whole()];
    expect(Object.keys(resumed)).toHaveLength(count);
    for (const name of Object.keys(again)) expect(Buffer.compare(resumed[name], again[name])).toBe(0);
    // The video that is made of them is read back as near as it should be.
    await (await find(driver, By.xpath(`//*[@role='radio'][.='WebM']`))).click();
    await press(driver, 'Export clip');
    await tell('Written');
    const { bytes } = await downloaded(session, '.webm');
    const path = join(folder, 'again.webm');
    writeFileSync(path, bytes);
    await driver.get(session.address);
    await (await find(driver, By.css('input[type=file]'))).sendKeys(path);
    await press(driver, 'Open as a clip');
    await settled(driver);
    await openStep(driver, 'stage');
    await settled(driver);
    await openStep(driver, 'export');
    await (await find(driver, By.xpath(`//*[@role='radio'][.='PNGs']`))).click();
    await press(driver, 'Export clip');
    await tell('Written');
    const read = unzipSync((await downloaded(session, '.zip')).bytes);
    for (const name of ['0001.png', '0004.png']) {
      const [a, b] = [read[name], again[name]].map((png) => fromSamples(decode(png) as never));
      expect(psnr(a, b)).toBeGreaterThan(38);
    }
  });
});
