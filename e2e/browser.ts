import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import type { IncomingMessage, Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import type { Recipe } from '@ritaglio/core';
import jsonPatch, { type Operation } from 'fast-json-patch';
import { plainName } from '../packages/app/src/job/find/names';
import { listen, makeServer, type ServerOptions } from '@ritaglio/server';
import { Builder, By, error, Key, Origin, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome';
import sharp from 'sharp';

/** A running application and a browser that looks at it. */
export interface Session {
  driver: WebDriver;
  address: string;
  /** Where downloads arrive. */
  downloads: string;
  /** Where what is given to the page may be written. */
  given: string;
  /** What has been asked of the server, oldest first. */
  asked: string[];
  close: () => Promise<void>;
  /** Stops the server and leaves the browser alone. */
  stopServer: () => Promise<void>;
}

/** What a session begins with. */
export interface SessionOptions extends ServerOptions {
  /** Longest side at which jobs are worked out, px; small where pixels are not the matter. Default 300. */
  workingSide?: number;
}

/** A headless browser with a profile, 1280 × 800 inside. */
export async function startBrowser(profile: string, downloads: string): Promise<WebDriver> {
  const chrome = new Options();
  chrome.setBinaryPath('/usr/bin/chromium');
  chrome.addArguments(
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--window-size=1280,800',
    '--force-device-scale-factor=1',
    `--user-data-dir=${profile}`,
  );
  chrome.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false });
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(chrome)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  forgiving(driver);
  // The window's inside, whatever the browser takes for its own bars.
  const [w, h] = (await driver.executeScript('return [outerWidth - innerWidth, outerHeight - innerHeight]')) as [number, number];
  await driver
    .manage()
    .window()
    .setRect({ width: 1280 + w, height: 800 + h });
  return driver;
}

/** Starts the server on a free port and a fresh headless browser, 1280 × 800. */
export async function startSession({ workingSide = 300, ...options }: SessionOptions = {}): Promise<Session> {
  const server: Server = await listen(makeServer(options), 0);
  const asked: string[] = [];
  server.on('request', ({ url }: IncomingMessage) => asked.push(url ?? ''));
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const profile = mkdtempSync(join(tmpdir(), 'ritaglio-profile-'));
  const downloads = mkdtempSync(join(tmpdir(), 'ritaglio-downloads-'));
  const given = mkdtempSync(join(tmpdir(), 'ritaglio-given-'));
  const driver = await startBrowser(profile, downloads);
  // Any page of the address will do to write down what is chosen in this browser.
  await driver.get(`${address}/nothing`);
  await driver.executeScript('localStorage.setItem("ritaglio.workingSide", arguments[0])', workingSide);
  return {
    driver,
    address,
    downloads,
    given,
    asked,
    stopServer: () =>
      new Promise((resolve) => {
        server.close(() => resolve());
        server.closeAllConnections();
      }),
    close: async () => {
      await driver.quit().catch(() => undefined);
      await new Promise((resolve) => server.close(resolve));
      rmSync(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
      for (const folder of [downloads, given]) rmSync(folder, { recursive: true, force: true });
    },
  };
}

/** What is waited for is not there yet while the page draws it anew. */
function forgiving(driver: WebDriver): void {
  const wait = driver.wait.bind(driver) as (condition: unknown, ...rest: unknown[]) => unknown;
  const patient = (condition: unknown, ...rest: unknown[]): unknown => {
    if (typeof condition !== 'function') return wait(condition, ...rest);
    const asked = async (d: WebDriver): Promise<unknown> => {
      try {
        return await (condition as (d: WebDriver) => unknown)(d);
      } catch (e) {
        if (e instanceof error.StaleElementReferenceError) return false;
        throw e;
      }
    };
    return wait(asked, ...rest);
  };
  driver.wait = patient as typeof driver.wait;
}

/** Longest wait for anything the application computes; a guard against hanging, not a measure of speed. */
const patience = 100_000;

export function button(name: string): By {
  return By.xpath(`//button[normalize-space()=${JSON.stringify(name)} or @aria-label=${JSON.stringify(name)}]`);
}

export async function find(driver: WebDriver, by: By): Promise<WebElement> {
  return driver.wait(until.elementLocated(by), patience, `nothing found for ${by.toString()}`);
}

/** Does something with what is found, once more when the page has just drawn it anew. */
async function withFound<T>(driver: WebDriver, by: By, act: (found: WebElement) => Promise<T>): Promise<T> {
  for (let tries = 0; ; tries++) {
    try {
      return await act(await find(driver, by));
    } catch (e) {
      if (!(e instanceof error.StaleElementReferenceError) || tries > 5) throw e;
    }
  }
}

const click = (driver: WebDriver, by: By): Promise<void> => withFound(driver, by, (found) => found.click());

/** What is written in what is found. */
export const textOf = (driver: WebDriver, by: By): Promise<string> => withFound(driver, by, (found) => found.getText());

export async function press(driver: WebDriver, name: string): Promise<void> {
  await click(driver, button(name));
}

/** Opens a job, or a demo job, from the shelf. */
export async function openJob(driver: WebDriver, name: string): Promise<void> {
  await click(driver, By.xpath(`//button[starts-with(@aria-label, "Open ") and contains(@aria-label, "${name}")]`));
  await find(driver, By.css('nav[aria-label="Work line"]'));
}

/** Goes to a step of the open job by its work line. */
export async function openStep(driver: WebDriver, step: string): Promise<void> {
  await click(driver, By.css(`nav[aria-label="Work line"] a[href$="/${step}"]`));
  await find(driver, By.css(`a[aria-current=step][href$="/${step}"]`));
}

/** Waits until the line has been worked out for the current recipe. */
export async function settled(driver: WebDriver): Promise<void> {
  await find(driver, By.css('main[data-settled=true]'));
}

/** Gives a file to the page by a file field. */
export async function giveFile(driver: WebDriver, field: string, path: string): Promise<void> {
  const input = await driver.wait(until.elementLocated(By.css(`input[type=file][aria-label="${field}"]`)), patience);
  await input.sendKeys(path);
}

/** A demo photograph at half its size, under its own name: where its pixels are not the matter, less is worked out and written. */
export async function halfPhoto({ given }: Session, name: string): Promise<string> {
  const from = fileURLToPath(new URL(`../demo/pictures/${name}`, import.meta.url));
  const { width } = await sharp(from).metadata();
  const path = join(given, name);
  await sharp(from)
    .resize(width / 2)
    .jpeg({ quality: 92 })
    .toFile(path);
  return path;
}

/** Types a number into a control. */
export async function typeNumber(driver: WebDriver, label: string, value: number): Promise<void> {
  const field = await find(driver, By.css(`input[aria-label="${label}, typed"]`));
  await field.click();
  await driver.sleep(100);
  await field.sendKeys(Key.chord(Key.CONTROL, 'a'), String(value), Key.ENTER);
}

/** Takes one of a list that opens. */
export async function choose(driver: WebDriver, label: string, option: string): Promise<void> {
  await click(driver, By.xpath(`//select[@aria-label=${JSON.stringify(label)}]/option[.=${JSON.stringify(option)}]`));
}

/** Chooses one thing to do from a menu that a press opens. */
export async function chooseFrom(driver: WebDriver, label: string, option: string): Promise<void> {
  await press(driver, label);
  await click(driver, By.xpath(`//*[@role='menuitem'][.=${JSON.stringify(option)}]`));
}

/** Draws a mark with the pointer through points of the full-size picture, which is shown whole. */
export async function draw(driver: WebDriver, frame: [number, number], points: [number, number][], held?: string): Promise<void> {
  const box = (await driver.executeScript(
    'const r = document.querySelector("[data-testid=picture]").getBoundingClientRect(); return [r.x, r.y, r.width, r.height]',
  )) as [number, number, number, number];
  const zoom = 0.965 * Math.min(box[2] / frame[0], box[3] / frame[1]);
  const onScreen = ([x, y]: [number, number]): { x: number; y: number; duration: number; origin: Origin } => ({
    x: Math.round(box[0] + box[2] / 2 + (x - frame[0] / 2) * zoom),
    y: Math.round(box[1] + box[3] / 2 + (y - frame[1] / 2) * zoom),
    duration: 40,
    origin: Origin.VIEWPORT,
  });
  let actions = driver.actions();
  if (held) actions = actions.keyDown(held);
  actions = actions.move(onScreen(points[0])).press();
  for (const p of points.slice(1)) actions = actions.move(onScreen(p));
  actions = actions.release();
  if (held) actions = actions.keyUp(held);
  await actions.perform();
}

/** Mean colour, codes, of a patch of 7 px of the shown picture around a point of the frame, which is shown whole. */
export function shownColour(driver: WebDriver, frame: [number, number], at: [number, number]): Promise<[number, number, number]> {
  return driver.executeScript(
    `const [[width, height], [x, y]] = arguments;
     const room = document.querySelector('[data-testid=picture]').getBoundingClientRect();
     const zoom = 0.965 * Math.min(room.width / width, room.height / height);
     const canvas = document.querySelector('[data-testid=picture] canvas');
     const box = canvas.getBoundingClientRect();
     const k = canvas.width / box.width;
     const left = room.x + room.width / 2 + (x - width / 2) * zoom - box.x;
     const top = room.y + room.height / 2 + (y - height / 2) * zoom - box.y;
     const { data } = canvas.getContext('2d').getImageData(left * k - 3, top * k - 3, 7, 7);
     return [0, 1, 2].map((c) => data.reduce((sum, v, i) => sum + (i % 4 === c ? v : 0), 0) / 49);`,
    frame,
    at,
  );
}

/** What is kept in the browser of a job. */
export interface Kept {
  jobs: number;
  pictures: number;
  name: string;
  cursor: number;
  states: number;
  recipe: Recipe;
}

/** What is kept of a job, or of the one that was changed last. */
export async function keptWork(driver: WebDriver, id?: string): Promise<Kept> {
  const text = (await driver.executeAsyncScript(
    `
    const done = arguments[arguments.length - 1];
    const wanted = arguments[0];
    const open = indexedDB.open('ritaglio');
    open.onsuccess = () => {
      const read = open.result.transaction(['jobs', 'states', 'pictures']);
      const kept = {};
      const ask = (request, then) => { request.onsuccess = () => then(request.result); };
      ask(read.objectStore('pictures').count(), (pictures) => { kept.pictures = pictures; });
      ask(read.objectStore('jobs').getAll(), (jobs) => {
        kept.jobs = jobs.length;
        const job = jobs.find((j) => j.id === wanted) ?? jobs.sort((a, b) => b.changed - a.changed)[0];
        if (!job) return;
        Object.assign(kept, { name: job.name, cursor: job.cursor });
        ask(read.objectStore('states').index('job').count(job.id), (states) => { kept.states = states; });
        ask(read.objectStore('states').get([job.id, job.cursor]), (state) => {
          kept.recipe = state?.recipe;
          kept.changes = state?.patch?.changes;
          if (state?.patch) ask(read.objectStore('states').get([job.id, state.patch.base]), (whole) => { kept.recipe = whole?.recipe; });
        });
      });
      read.oncomplete = () => {
        open.result.close();
        done(JSON.stringify(kept));
      };
    };`,
    id ?? null,
  )) as string;
  const { changes, ...kept } = JSON.parse(text) as Kept & { changes?: Operation[] };
  return changes ? { ...kept, recipe: jsonPatch.applyPatch(kept.recipe, changes).newDocument } : kept;
}

/** Waits until what is kept is as wanted. */
export async function keptUntil(driver: WebDriver, wanted: (kept: Kept) => boolean): Promise<Kept> {
  let kept = await keptWork(driver);
  await driver.wait(async () => wanted((kept = await keptWork(driver))), patience, 'the work was not kept as it should be');
  return kept;
}

/** Waits for a downloaded file whose name ends so, takes it out of the folder, and gives its bytes. */
export async function downloaded(session: Session, ending: string): Promise<{ name: string; bytes: Uint8Array }> {
  let name: string | undefined;
  await session.driver.wait(
    () => {
      const there = readdirSync(session.downloads);
      name = there.find((n) => n.endsWith(ending));
      // The browser holds the name with an empty file while it still writes beside it.
      return name !== undefined && !there.some((n) => n.endsWith('.crdownload')) && statSync(join(session.downloads, name)).size > 0;
    },
    patience,
    `no file ${ending} came`,
  );
  const path = join(session.downloads, name!);
  const bytes = new Uint8Array(readFileSync(path));
  rmSync(path);
  return { name: name!, bytes };
}

/** Waits for a message that holds these words. */
export async function said(driver: WebDriver, words: string): Promise<string> {
  const message = await find(driver, By.xpath(`//*[@data-sonner-toast][contains(., ${JSON.stringify(words)})]`));
  let text = '';
  await driver.wait(async () => (text = await message.getText()) !== '', patience);
  return text;
}

/** Every control of the open step by its part and name, folded parts opened. */
export async function controlsOf(driver: WebDriver): Promise<{ part: string; name: string }[]> {
  await driver.executeScript(`
    for (const folded of document.querySelectorAll('aside[aria-label^=Controls] section button[data-state=closed][aria-expanded=false]')) folded.click();`);
  await driver.sleep(150);
  const raw = await driver.executeScript<{ part: string; said: string | null; label: string | null; text: string }[]>(`
    return [...document.querySelectorAll('aside[aria-label^=Controls] section[aria-label]')].flatMap((section) =>
      [...section.querySelectorAll('button, input, select, [role=slider], [role=radio]')].map((e) => ({
        part: section.getAttribute('aria-label'),
        said: e.dataset.name ?? e.getAttribute('aria-label'),
        label: e.closest('label')?.textContent ?? null,
        text: e.textContent ?? '',
      })),
    );`);
  return raw.flatMap(({ part, said, label, text }) => {
    const name = plainName(said ?? label ?? text);
    return name === undefined || name === part ? [] : [{ part, name }];
  });
}
