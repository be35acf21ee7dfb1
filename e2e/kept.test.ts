import { rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { readJob } from '@ritaglio/formats';
import { By } from 'selenium-webdriver';
import {
  downloaded,
  draw,
  find,
  giveFile,
  halfPhoto,
  keptUntil,
  keptWork,
  openJob,
  openStep,
  press,
  settled,
  startSession,
  typeNumber,
  type Session,
} from './browser';

const size: [number, number] = [1500, 1000];
let session: Session;

beforeAll(async () => {
  session = await startSession();
  const { driver, address } = session;
  await driver.get(address);
  await giveFile(driver, 'Photo or job to open', await halfPhoto(session, 'weathervane.jpg'));
  await find(driver, By.css('nav[aria-label="Work line"]'));
});
afterAll(() => session.close());

describe('work is kept', () => {
  test('through a reload in the middle of computing', async () => {
    const { driver } = session;
    await draw(driver, size, [
      [750, 500],
      [760, 560],
    ]);
    const before = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === 1);
    await driver.navigate().refresh();
    await find(driver, By.css('nav[aria-label="Work line"]'));
    expect((await keptWork(driver)).recipe).toEqual(before.recipe);
    await find(driver, By.xpath('//section[@aria-label="Draw"]//span[.="1 mark"]'));
    // History came back too: the mark can be taken away and put back.
    await press(driver, 'Undo');
    await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === 0);
    await press(driver, 'Redo');
    expect((await keptUntil(driver, (k) => k.cursor === before.cursor)).recipe).toEqual(before.recipe);
  });

  test('through reloads one upon another, while what computes is still being called up', async () => {
    const { driver } = session;
    const before = await keptWork(driver);
    for (let i = 0; i < 8; i++) {
      await driver.navigate().refresh();
      await find(driver, By.css('nav[aria-label="Work line"]'));
    }
    expect((await keptWork(driver)).recipe).toEqual(before.recipe);
    await settled(driver);
  });

  test('when the page is left and come back to: it begins anew, and holds nothing in between', async () => {
    const { driver, address } = session;
    const before = await keptWork(driver);
    await driver.executeScript('window.isOld = true');
    await driver.get(`${address}/nothing`);
    await driver.navigate().back();
    await find(driver, By.css('nav[aria-label="Work line"]'));
    await driver.wait(() => driver.executeScript<boolean>('return window.isOld === undefined'), 20_000);
    await settled(driver);
    expect((await keptWork(driver)).recipe).toEqual(before.recipe);
  });

  test('when the page dies while it computes', async () => {
    const { driver, address } = session;
    await draw(driver, size, [
      [200, 200],
      [300, 220],
    ]);
    const before = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === 2);
    const old = await driver.getWindowHandle();
    await driver.switchTo().newWindow('tab');
    const fresh = await driver.getWindowHandle();
    await driver.switchTo().window(old);
    // The page's process is gone at once; nothing of it can run any more.
    await driver.get('chrome://crash').catch(() => undefined);
    await driver.switchTo().window(fresh);
    await driver.get(address);
    await openJob(driver, 'weathervane');
    const after = await keptWork(driver);
    expect(after.recipe).toEqual(before.recipe);
    expect(after.states).toBe(before.states);
    await settled(driver);
  });

  test('in two tabs: the second looks on, takes over, and nothing of either is lost', async () => {
    const { driver } = session;
    const before = await keptWork(driver);
    const marks = before.recipe.subjects[0].marks.length;
    const one = await driver.getWindowHandle();
    const url = await driver.getCurrentUrl();
    await driver.switchTo().newWindow('tab');
    const two = await driver.getWindowHandle();
    await driver.get(url);
    await find(driver, By.xpath('//div[@aria-label="Keeping"]//p[contains(., "open in another tab")]'));
    await draw(driver, size, [
      [400, 300],
      [450, 320],
    ]);
    expect((await keptWork(driver)).states).toBe(before.states);
    await press(driver, 'Take over here');
    await driver.wait(async () => (await driver.findElements(By.xpath('//button[.="Take over here"]'))).length === 0, 20_000);
    await draw(driver, size, [
      [400, 300],
      [450, 320],
    ]);
    await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === marks + 1);
    // The first tab now looks on, and sees what was done here.
    await driver.switchTo().window(one);
    await find(driver, By.xpath('//button[.="Take over here"]'));
    await find(driver, By.xpath(`//section[@aria-label="Draw"]//span[.="${marks + 1} marks"]`));
    await driver.switchTo().window(two);
    await driver.close();
    await driver.switchTo().window(one);
    await driver.wait(async () => (await driver.findElements(By.xpath('//button[.="Take over here"]'))).length === 0, 20_000);
    await press(driver, 'Undo');
    await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === marks);
    await settled(driver);
  });

  test('in one file that opens again elsewhere', async () => {
    const { driver } = session;
    await openStep(driver, 'lens');
    await typeNumber(driver, 'Aperture', 2);
    const before = await keptUntil(driver, (k) => k.recipe.lens.fNumber === 2);
    await openStep(driver, 'export');
    await press(driver, 'Save the job as one file');
    const { name, bytes } = await downloaded(session, '.zip');
    expect(readJob(name, bytes).recipe).toEqual(before.recipe);

    const elsewhere = await startSession();
    const file = join(tmpdir(), `ritaglio-${process.pid}.zip`);
    try {
      writeFileSync(file, bytes);
      await elsewhere.driver.get(elsewhere.address);
      await giveFile(elsewhere.driver, 'Photo or job to open', file);
      await find(elsewhere.driver, By.css('nav[aria-label="Work line"]'));
      const there = await keptUntil(elsewhere.driver, (k) => k.jobs === 1);
      expect(there.recipe).toEqual(before.recipe);
      await settled(elsewhere.driver);
    } finally {
      rmSync(file, { force: true });
      await elsewhere.close();
    }
  });

  test('a removed job takes its pictures with it', async () => {
    const { driver, address } = session;
    await driver.get(address);
    await press(driver, 'Remove weathervane');
    await press(driver, 'Keep');
    expect((await keptWork(driver)).jobs).toBe(1);
    await press(driver, 'Remove weathervane');
    await press(driver, 'Remove');
    const kept = await keptUntil(driver, (k) => k.jobs === 0);
    expect(kept.pictures).toBe(0);
  });
});
