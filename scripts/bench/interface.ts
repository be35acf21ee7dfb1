import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By, Key, Origin, type WebDriver } from 'selenium-webdriver';
import sharp from 'sharp';
import { find, openJob, openStep, settled, startSession } from '../../e2e/browser';
import { ofBrowsers } from '../measure/processes';
import { root } from '../measure/truth';

/** What is felt in the real interface: a photo after its drop, and the answer to each mark. */

const median = (times: number[]): number => [...times].sort((a, b) => a - b)[times.length >> 1];

/** Writes down, in the page, when a photo was given and when the first of it was on the screen, ms. */
const watchPhoto = `
  window.seenAfter = undefined;
  document.querySelector('input[type=file]').addEventListener('change', () => {
    const begun = performance.now();
    const look = () => {
      for (const canvas of document.querySelectorAll('[data-testid=picture] canvas')) {
        const { data } = canvas.getContext('2d').getImageData(canvas.width >> 1, canvas.height >> 1, 24, 24);
        const codes = new Set();
        for (let i = 0; i < data.length; i += 4) if (data[i + 3] > 0) codes.add((data[i] << 16) | (data[i + 1] << 8) | data[i + 2]);
        // A placeholder is of one colour, a photograph is not.
        if (codes.size > 8) { window.seenAfter = performance.now() - begun; return; }
      }
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  }, true);`;

/** Writes down when strokes end, when what they ask for is answered, and how long the page's own thread is held up. */
const watchMarks = `
  window.held = [];
  window.events = [];
  addEventListener('pointerup', () => window.events.push(['up', performance.now()]), true);
  const main = document.querySelector('main[data-answered]');
  new MutationObserver(() => window.events.push([main.dataset.answered, performance.now()])).observe(main, { attributes: true, attributeFilter: ['data-answered'] });
  new PerformanceObserver((list) => window.held.push(...list.getEntries().map((e) => e.duration))).observe({ type: 'longtask' });`;

async function photoSeen(driver: WebDriver, address: string, path: string): Promise<number> {
  await driver.get(address);
  const field = await find(driver, By.css('input[type=file]'));
  // As long as somebody takes to choose a file.
  await driver.sleep(1500);
  await driver.executeScript(watchPhoto);
  await field.sendKeys(path);
  return driver.wait(() => driver.executeScript<number | undefined>('return window.seenAfter'), 60_000) as Promise<number>;
}

/** CPU time that browsers on this machine have used since they began, in ticks of the system's clock. */
const browserTicks = (): number =>
  ofBrowsers('stat', (text) => {
    // User and system time, behind the name in brackets.
    const fields = text.slice(text.lastIndexOf(')') + 2).split(' ');
    return Number(fields[11]) + Number(fields[12]);
  });

/** A person looks at an answer for so long before the next mark, ms. */
const betweenMarks = 1500;

/** What marking takes. */
interface Marking {
  /** From each stroke's end to the matte that follows it, ms. */
  answers: number[];
  /** Longest time that the page's own thread was held up, ms. */
  held: number;
  /** Share of a mark's CPU time that was used after its answer, until the next one. */
  after: number;
}

/** Draws so many marks at a person's pace. */
async function marksAnswered(driver: WebDriver, marks: number): Promise<Marking> {
  await openStep(driver, 'matte');
  await settled(driver);
  const box = await (await find(driver, By.css('[data-testid=picture]'))).getRect();
  await driver.executeScript(watchMarks);
  let [inAll, after] = [0, 0];
  for (let k = 0; k < marks; k++) {
    // Inside down the middle, outside around: strokes of a rough cut, one after the other.
    const inside = k % 2 === 0;
    const turn = (2 * Math.PI * k) / marks;
    const [rx, ry] = inside ? [0.07, 0.16] : [0.3, 0.42];
    const at = (t: number): { x: number; y: number; duration: number; origin: Origin } => ({
      x: Math.round(box.x + box.width * (0.5 + rx * Math.cos(t))),
      y: Math.round(box.y + box.height * (0.5 + ry * Math.sin(t))),
      duration: 60,
      origin: Origin.VIEWPORT,
    });
    let actions = driver.actions();
    if (!inside) actions = actions.keyDown('\uE008');
    actions = actions
      .move(at(turn))
      .press()
      .move(at(turn + 0.12))
      .move(at(turn + 0.24))
      .release();
    if (!inside) actions = actions.keyUp('\uE008');
    const begun = browserTicks();
    await actions.perform();
    await driver.wait(async () => (await driver.findElements(By.css('main[data-answered=true]'))).length > 0, 60_000);
    const answered = browserTicks();
    await driver.sleep(betweenMarks);
    inAll += browserTicks() - begun;
    after += browserTicks() - answered;
  }
  const held = await driver.executeScript<number[]>('return window.held');
  await settled(driver);
  const events = await driver.executeScript<[string, number][]>('return window.events');
  const answers: number[] = [];
  events.forEach(([kind, when], i) => {
    if (kind !== 'up') return;
    const answer = events.slice(i + 1).find(([k]) => k === 'true');
    if (answer) answers.push(answer[1] - when);
  });
  return { answers, held: Math.max(0, ...held), after: after / inAll };
}

/** Writes down, in the page, how long after a key another picture is on the screen, ms. */
const watchFrames = `
  window.frames = [];
  const canvas = document.querySelector('[data-testid=picture] canvas');
  // Looking must not take long itself: some rows, and of them every seventh number.
  const look = () => {
    let sum = 0;
    for (let y = 20; y < canvas.height; y += 40) {
      const { data } = canvas.getContext('2d').getImageData(0, y, canvas.width, 1);
      for (let i = 0; i < data.length; i += 7) sum = (sum * 31 + data[i]) | 0;
    }
    return sum;
  };
  addEventListener('keydown', () => {
    const [begun, was] = [performance.now(), look()];
    const wait = () => (look() === was ? requestAnimationFrame(wait) : window.frames.push(performance.now() - begun));
    requestAnimationFrame(wait);
  }, true);`;

/** From a key that goes on by a frame to its picture, ms: of frames that were not seen before, and of the same again. */
async function framesSeen(driver: WebDriver, address: string, step: string): Promise<{ first: number; again: number }> {
  await driver.get(address);
  await openJob(driver, 'Goat rolling by');
  await openStep(driver, step);
  await settled(driver);
  await driver.executeScript(watchFrames);
  await driver.executeScript('document.activeElement?.blur()');
  const went = async (key: string): Promise<number[]> => {
    await driver.executeScript('window.frames.length = 0');
    for (let k = 0; k < 6; k++) {
      await driver.actions().sendKeys(key).perform();
      await driver.wait(() => driver.executeScript<boolean>(`return window.frames.length === ${k + 1}`), 60_000);
      await settled(driver);
    }
    return driver.executeScript<number[]>('return window.frames');
  };
  const first = median(await went(Key.ARROW_RIGHT));
  return { first, again: median(await went(Key.ARROW_LEFT)) };
}

/** Lines for docs/speed.md. */
export async function interfaceTimes(): Promise<string[]> {
  const folder = mkdtempSync(join(tmpdir(), 'ritaglio-interface-'));
  const session = await startSession({ workingSide: 1800 });
  const shot = join(root, 'demo/pictures/goat-quay.jpg');
  try {
    const seen: Record<string, number> = {};
    for (const [name, width, height] of [
      ['4 MP', 2450, 1633],
      ['24 MP', 6000, 4000],
    ] as const) {
      const times: number[] = [];
      for (let k = 0; k < 5; k++) {
        // Another file each time: what is kept already would be found again.
        const path = join(folder, `${width}-${k}.jpg`);
        await sharp(shot)
          .resize(width, height)
          .jpeg({ quality: 88 + k })
          .toFile(path);
        times.push(await photoSeen(session.driver, session.address, path));
      }
      seen[name] = median(times);
    }
    await photoSeen(session.driver, session.address, join(folder, '2450-0.jpg'));
    const { answers, held, after } = await marksAnswered(session.driver, 20);
    const cut = await framesSeen(session.driver, session.address, 'matte');
    const finished = await framesSeen(session.driver, session.address, 'lens');
    return [
      'In the real interface (headless, drawn without a graphics card, the machine otherwise idle):',
      '',
      `* a photo is on the screen ${seen['4 MP'].toFixed(0)} ms after it was given at 4 MP (aim 300), ${seen['24 MP'].toFixed(0)} ms at 24 MP (aim 600), median of 5;`,
      `* the matte answers ${median(answers).toFixed(0)} ms after a stroke’s end, median of ${answers.length} marks at a person’s pace on a photo of 4 MP worked at 1800 px (aim 700), the slowest after ${Math.max(...answers).toFixed(0)} ms;`,
      `* while marking the page’s own thread was ${held > 0 ? `held up for at most ${held.toFixed(0)} ms` : 'never held up for 50 ms'} at once (a new mark begins within 50 ms when that is less);`,
      `* of the CPU time of a mark, ${(100 * after).toFixed(0)} % were used after its answer, until the next mark (aim 10);`,
      `* a frame of a clip is on the screen ${cut.first.toFixed(0)} ms after the key as a shot, ${finished.first.toFixed(0)} ms finished (aim 400); ${cut.again.toFixed(0)} and ${finished.again.toFixed(0)} ms when it was seen before (aim 150), median of 6.`,
    ];
  } finally {
    await session.close();
    rmSync(folder, { recursive: true });
  }
}
