import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { decode } from 'fast-png';
import { unzipSync } from 'fflate';
import { By } from 'selenium-webdriver';
import sharp from 'sharp';
import { button, downloaded, find, giveFile, keptUntil, openStep, press, settled, startSession, textOf, type Session } from './browser';

/** Shots of one set before a green cloth: a ball at three places. */
const folder = mkdtempSync(join(tmpdir(), 'ritaglio-series-'));
const places = { first: 60, second: 90, third: 120 };
let session: Session;

beforeAll(async () => {
  for (const [name, x] of Object.entries(places)) {
    const data = Buffer.alloc(3 * 180 * 120);
    for (let p = 0; p < 180 * 120; p++) {
      const inside = Math.hypot((p % 180) - x, Math.floor(p / 180) - 60) < 30;
      (inside ? [190, 60, 50] : [40, 170, 60]).forEach((v, c) => (data[3 * p + c] = v));
    }
    await sharp(data, { raw: { width: 180, height: 120, channels: 3 } })
      .png()
      .toFile(join(folder, `${name}.png`));
  }
  session = await startSession();
  await session.driver.get(session.address);
});
afterAll(async () => {
  await session.close();
  rmSync(folder, { recursive: true, force: true });
});

test('a job’s look goes over other shots of the set: each is cut and checked, taken or dropped, and leaves with its name', async () => {
  const { driver } = session;
  await giveFile(driver, 'Photo or job to open', join(folder, 'first.png'));
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await settled(driver);
  await press(driver, 'Screen');
  await keptUntil(driver, ({ recipe }) => recipe.subjects[0].cut === 'screen');
  await settled(driver);
  await openStep(driver, 'export');
  await settled(driver);
  await (await find(driver, By.css('section[aria-label="A series"] button'))).click();
  const field = await find(driver, By.css('input[type=file][aria-label="Shots of the series"]'));
  await field.sendKeys(`${join(folder, 'second.png')}\n${join(folder, 'third.png')}`);
  const list = By.css('ul[aria-label^="Shots of the series"]');
  await driver.wait(async () => (await textOf(driver, list)).match(/\d+ wrong, \d+ to look at/g)?.length === 2, 60_000);
  expect(await textOf(driver, list)).toMatch(/second[^]*third|third[^]*second/);
  // It stays while something else is looked at.
  await openStep(driver, 'lens');
  await settled(driver);
  await openStep(driver, 'export');
  await (await find(driver, By.css('section[aria-label="A series"] button'))).click();
  expect(await textOf(driver, list)).toMatch(/second[^]*third|third[^]*second/);
  // One is opened as a job of its own, to be corrected.
  await press(driver, 'Correct it');
  await find(driver, By.xpath('//a[.="To its job"]'));
  expect((await keptUntil(driver, (k) => k.jobs === 2)).recipe.subjects[0].cut).toBe('screen');
  await press(driver, 'Export those taken');
  const files = unzipSync((await downloaded(session, '.zip')).bytes);
  expect(Object.keys(files).sort()).toEqual(['second.png', 'third.png']);
  const { data, channels } = decode(files['third.png']);
  const red = (x: number): number => data[channels * (60 * 180 + x)] - data[channels * (60 * 180 + x) + 1];
  expect(red(places.third)).toBeGreaterThan(80);
  expect(red(places.first - 20)).toBeLessThan(30);
  await press(driver, 'Drop second');
  await driver.wait(async () => !(await textOf(driver, list)).includes('second'), 5000);
  await find(driver, button('Export those taken'));
});
