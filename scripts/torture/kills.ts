import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { seeded, type Random } from '@ritaglio/core';
import { listen, makeServer } from '@ritaglio/server';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import sharp from 'sharp';
import { draw, find, keptWork, startBrowser } from '../../e2e/browser';

/** Whether all of the browser is killed, or the page alone. */
const ways = ['process', 'tab'] as const;
/** What is being done when it is killed. */
const deeds = ['marking', 'undo', 'take', 'import', 'export'] as const;

/** What came of one kill. */
export interface Killed {
  way: (typeof ways)[number];
  deed: (typeof deeds)[number];
  /** Jobs on the shelf that did not open. */
  unopened: number;
  /** What was said to be damaged. */
  damaged: boolean;
  /** How long before the kill the state was on the screen that is there afterwards, ms; Infinity when it never was. */
  lost: number;
}

/** Work that is so young at a kill may be lost, ms. */
export const mayBeLost = 250;

/** Kills the browser or its page at random moments while a job is worked on, and looks at what is there afterwards. */
export async function kills(
  count: number,
  seed: number,
  tell: (done: number, killed: Killed) => void = () => undefined,
): Promise<Killed[]> {
  const random = seeded(seed);
  const server = await listen(makeServer(), 0);
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const folder = mkdtempSync(join(tmpdir(), 'ritaglio-torture-'));
  const profile = join(folder, 'profile');
  const photo = join(folder, 'ball.png');
  writeFileSync(photo, await ball());
  const out: Killed[] = [];
  let driver = await startBrowser(profile, folder);
  try {
    await driver.get(`${address}/nothing`);
    await driver.executeScript('localStorage.setItem("ritaglio.workingSide", "200")');
    await driver.get(address);
    await (await find(driver, By.css('input[type=file]'))).sendKeys(photo);
    await find(driver, By.css('nav[aria-label="Work line"]'));
    let job = await driver.getCurrentUrl();
    const again = async (): Promise<void> => {
      kill(profile);
      await driver.quit().catch(() => undefined);
      driver = await startBrowser(profile, folder);
    };
    const ready = (): Promise<void> => opened(driver, job);
    for (let i = 0; i < count; i++) {
      const [way, deed] = [ways[Math.floor(random() * ways.length)], deeds[Math.floor(random() * deeds.length)]];
      // A browser of which a page has crashed is not used for another round.
      if (out.at(-1)?.way === 'tab') await again();
      await ready().catch(() => again().then(ready));
      const here = await driver.getWindowHandle();
      await driver.switchTo().newWindow('tab');
      // In a process of its own.
      await driver.get('chrome://version');
      const spare = await driver.getWindowHandle();
      await driver.switchTo().window(here);
      const seen = await worked(driver, deed, address, photo, random);
      await rest(random() * 400);
      const when = Date.now();
      if (way === 'process') await again();
      else await crash(driver, spare).catch(again);
      // A page may take the tab beside it along; then all is begun anew.
      const look = (): ReturnType<typeof after> => after(driver, address, job, seen, when);
      const killed = { way, deed, ...(await look().catch(() => again().then(look))) };
      out.push(killed);
      tell(i + 1, killed);
      // Another job now and then, so that it does not grow without end.
      if (i % 20 === 19) {
        await driver.get(address);
        await (await find(driver, By.css('input[type=file]'))).sendKeys(photo);
        await find(driver, By.css('nav[aria-label="Work line"]'));
        job = await driver.getCurrentUrl();
      }
    }
  } finally {
    await driver.quit().catch(() => undefined);
    await new Promise((resolve) => server.close(resolve));
    rmSync(folder, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
  }
  return out;
}

/** Opens a job. @throws when it is not there in time */
async function opened(driver: WebDriver, job: string): Promise<void> {
  await driver.get(job);
  await driver.wait(async () => (await driver.findElements(By.css('main[data-settled]'))).length > 0, 15_000);
}

/** How many marks were on the screen, and since when. */
type Seen = { marks: number; since: number }[];

/** Does something for a while. @returns how many marks there were, and when */
async function worked(driver: WebDriver, deed: Killed['deed'], address: string, photo: string, random: Random): Promise<Seen> {
  let marks = await marksKept(driver);
  const seen: Seen = [{ marks, since: 0 }];
  const add = (by: number): void => void seen.push({ marks: (marks += by), since: Date.now() });
  const stroke = async (): Promise<void> => {
    const [x, y] = [20 + random() * 120, 20 + random() * 80];
    await draw(driver, [160, 120], [[x, y], [x + 12, y + 6]]); // prettier-ignore
    add(1);
  };
  for (let k = 0; k < 2 + random() * 3; k++) await stroke();
  if (deed === 'undo') {
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    add(-1);
  } else if (deed === 'take') await driver.actions().sendKeys('t').perform();
  else if (deed === 'import') {
    // The history so far is written before the shelf is there.
    await rest(mayBeLost);
    await driver.get(address);
    await (await find(driver, By.css('input[type=file]'))).sendKeys(photo);
  } else if (deed === 'export') {
    const link = await driver.findElement(By.css('nav[aria-label="Work line"] a[href$="/export"]'));
    await link.click();
    await (await find(driver, By.xpath('//button[.="Export picture"]'))).click();
  }
  return seen;
}

/** What is there after a kill. */
async function after(
  driver: WebDriver,
  address: string,
  job: string,
  seen: Seen,
  when: number,
): Promise<Pick<Killed, 'unopened' | 'damaged' | 'lost'>> {
  await driver.get(address);
  await find(driver, By.css('section[aria-label=Jobs] li'));
  let unopened = 0;
  let damaged = false;
  const ids = (await keptJobs(driver)).slice(-6);
  for (const id of new Set([...ids, job.split('/job/')[1].split('/')[0]])) {
    await driver.get(`${address}/job/${id}/matte`);
    const open = driver.wait(async () => (await driver.findElements(By.css('nav[aria-label="Work line"]'))).length > 0, 15_000);
    if (!(await open.catch(() => false))) unopened++;
    damaged ||= /damaged|is gone/.test(await driver.executeScript<string>('return document.body.innerText'));
  }
  await opened(driver, job);
  const marks = await marksKept(driver);
  // What is there was on the screen until the next change.
  const times = seen.flatMap((s, i) => (s.marks === marks ? [Math.max(0, when - (seen[i + 1]?.since ?? when))] : []));
  return { unopened, damaged, lost: times.length > 0 ? Math.min(...times) : Infinity };
}

const marksKept = async (driver: WebDriver): Promise<number> => {
  const id = (await driver.getCurrentUrl()).split('/job/')[1].split('/')[0];
  return (await keptWork(driver, id)).recipe.subjects[0].marks.length;
};

const keptJobs = (driver: WebDriver): Promise<string[]> =>
  driver.executeAsyncScript<string[]>(`
    const done = arguments[arguments.length - 1];
    const open = indexedDB.open('ritaglio');
    open.onsuccess = () => {
      const all = open.result.transaction('jobs').objectStore('jobs').getAllKeys();
      all.onsuccess = () => { open.result.close(); done(all.result); };
    };`);

/** Ends all of a browser at once, as a machine does that runs out of memory. */
function kill(profile: string): void {
  try {
    execFileSync('pkill', ['-9', '-f', `user-data-dir=${profile}`]);
  } catch {
    // None was left.
  }
}

/** Ends the page's process alone; another tab of the same browser, opened before, goes on. */
async function crash(driver: WebDriver, spare: string): Promise<void> {
  const { sendDevToolsCommand } = driver as WebDriver & { sendDevToolsCommand(name: string, params: object): Promise<void> };
  await Promise.race([sendDevToolsCommand.call(driver, 'Page.crash', {}).catch(() => undefined), rest(800)]);
  await driver.switchTo().window(spare);
}

const rest = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** A small photo that is cut at once. */
function ball(): Promise<Buffer> {
  const [width, height] = [160, 120];
  const data = Buffer.alloc(3 * width * height);
  for (let p = 0; p < width * height; p++) {
    const inside = Math.hypot((p % width) - 80, Math.floor(p / width) - 60) < 30;
    (inside ? [190, 70, 50] : [70, 120, 150]).forEach((v, c) => (data[3 * p + c] = v + ((p * 7919) % 17)));
  }
  return sharp(data, { raw: { width, height, channels: 3 } })
    .png()
    .toBuffer();
}
