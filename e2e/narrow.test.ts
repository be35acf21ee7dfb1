import { By, type WebDriver } from 'selenium-webdriver';
import { barriers } from './barriers';
import { button, downloaded, find, halfPhoto, keptUntil, settled, startSession, textOf, type Session } from './browser';

/** Narrow screens, by touch alone. */
type Point = [number, number];
let session: Session;
const command = (name: string, params: object): Promise<void> =>
  (session.driver as WebDriver & { sendDevToolsCommand(name: string, params: object): Promise<void> }).sendDevToolsCommand(name, params);
const touch = (type: string, ...points: Point[]): Promise<void> =>
  command('Input.dispatchTouchEvent', { type, touchPoints: points.map(([x, y], id) => ({ x, y, id })) });

/** Taps what is found. */
async function tap(by: By): Promise<void> {
  const { driver } = session;
  const element = await find(driver, by);
  const at = await driver.executeScript<Point>(
    `arguments[0].scrollIntoView({ block: 'nearest', inline: 'center' });
     const box = arguments[0].getBoundingClientRect();
     return [box.x + box.width / 2, box.y + box.height / 2];`,
    element,
  );
  await touch('touchStart', at);
  await touch('touchEnd');
}

/** Goes to a step by the work line's strip, which is swiped meanwhile. */
async function goTo(step: string): Promise<void> {
  const { driver } = session;
  const link = `nav[aria-label="Work line"] a[href$="/${step}"]`;
  await driver.wait(async () => {
    await tap(By.css(link));
    await driver.sleep(300);
    return (await driver.findElements(By.css(`${link}[aria-current=step]`))).length > 0;
  }, 20_000);
}

/** Draws with a finger through points of the full-size picture, which is shown whole. */
async function drawn(frame: Point, points: Point[], meanwhile?: () => Promise<void>): Promise<void> {
  const place = await placed(frame);
  await touch('touchStart', place(points[0]));
  for (const p of points.slice(1)) await touch('touchMove', place(p));
  await meanwhile?.();
  await touch('touchEnd');
}

async function placed(frame: Point): Promise<(p: Point) => Point> {
  const box = await (await find(session.driver, By.css('[data-testid=picture]'))).getRect();
  const zoom = 0.965 * Math.min(box.width / frame[0], box.height / frame[1]);
  return ([x, y]) => [box.x + box.width / 2 + (x - frame[0] / 2) * zoom, box.y + box.height / 2 + (y - frame[1] / 2) * zoom];
}

/** Opens or closes a sheet by a tap, once more when the page moved under the finger. */
async function sheet(name: string, open: boolean): Promise<void> {
  const { driver } = session;
  const by = By.xpath(`//nav[@aria-label="Sheets"]/button[.="${name}"]`);
  await driver.wait(async () => {
    if ((await (await find(driver, by)).getAttribute('aria-expanded')) === String(open)) return true;
    await tap(by);
    await driver.sleep(200);
    return false;
  }, 20_000);
}

/** On to the step that is proposed. */
const on = (name: string): By => By.xpath(`//a[normalize-space()=${JSON.stringify(`${name} ›`)}]`);

describe.each([
  ['a telephone', 390, 844],
  ['a tablet', 820, 1180],
])('on %s', (_, width, height) => {
  beforeAll(async () => {
    session = await startSession();
    // As large as the largest screen that is looked at.
    await session.driver.manage().window().setRect({ width: 1280, height: 1320 });
    await command('Emulation.setDeviceMetricsOverride', { width, height, deviceScaleFactor: 1, mobile: true });
    await command('Emulation.setTouchEmulationEnabled', { enabled: true, maxTouchPoints: 5 });
  });
  afterAll(() => session.close());

  test('a photo becomes a picture with soft ground behind by touch, the picture always in sight', async () => {
    const { driver, address } = session;
    await driver.get(address);
    await (await find(driver, By.css('input[type=file]'))).sendKeys(await halfPhoto(session, 'weathervane.jpg'));
    await find(driver, By.css('nav[aria-label="Work line"]'));
    await settled(driver);
    const seen = async (): Promise<number> => (await (await find(driver, By.css('[data-testid=picture]'))).getRect()).height;
    expect(await seen()).toBeGreaterThan(0.4 * height);
    // Beside the finger there is a loupe while it draws.
    await drawn([1500, 1000], [[700, 260], [760, 420], [745, 640]], async () => { expect(await layers(driver)).toBe(3); }); // prettier-ignore
    expect(await layers(driver)).toBe(2);
    await keptUntil(driver, ({ recipe }) => recipe.subjects[0].marks.length === 1);
    await sheet('Controls', true);
    await tap(By.xpath(`//*[@role="radiogroup" and @aria-label="Kind of mark"]//*[@role="radio"][contains(., "Outside")]`));
    expect(await seen()).toBeGreaterThan(0.2 * height);
    await drawn([1500, 1000], [[120, 80], [160, 500]]); // prettier-ignore
    const { recipe } = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === 2);
    expect(recipe.subjects[0].marks.map((m) => m.kind)).toEqual(['inside', 'outside']);
    await sheet('Controls', false);
    await settled(driver);
    await tap(on('Plate'));
    await find(driver, By.css('a[aria-current=step][href$="/plate"]'));
    await goTo('export');
    await sheet('Controls', true);
    await tap(button('Export picture'));
    expect((await downloaded(session, '.png')).bytes.length).toBeGreaterThan(100_000);
    await sheet('Controls', false);
  });

  test('two fingers zoom and move the picture, and draw nothing', async () => {
    const { driver } = session;
    await goTo('matte');
    await settled(driver);
    const zoom = async (): Promise<number> => Number.parseFloat(await textOf(driver, By.css('button[title="Fit (0)"]')));
    const fit = await zoom();
    const { x, y, width: w, height: h } = await (await find(driver, By.css('[data-testid=picture]'))).getRect();
    const [cx, cy] = [x + w / 2, y + h / 2];
    await touch('touchStart', [cx - 30, cy]);
    await touch('touchStart', [cx - 30, cy], [cx + 30, cy]);
    for (const d of [50, 70, 90]) await touch('touchMove', [cx - d, cy], [cx + d, cy]);
    await touch('touchEnd');
    expect((await zoom()) / fit).toBeGreaterThan(2.4);
    expect((await keptUntil(driver, () => true)).recipe.subjects[0].marks).toHaveLength(2);
    await tap(By.css('button[title="Fit (0)"]'));
  });

  test('matte and lens are free of barriers, and what is tapped is large enough', async () => {
    const { driver } = session;
    for (const step of ['matte', 'lens']) {
      await goTo(step);
      await sheet('Controls', true);
      expect(await barriers(driver)).toEqual([]);
      const small = await driver.executeScript<string[]>(`
        return [...document.querySelectorAll('button, select, [role=radio], a')]
          .filter((e) => { const r = e.getBoundingClientRect(); return r.width > 0 && r.height < 44; })
          .map((e) => e.outerHTML.slice(0, 120));`);
      expect(small).toEqual([]);
      await sheet('Controls', false);
    }
    await sheet('Evidence', true);
    await find(driver, By.css('aside[aria-label=Evidence] section[aria-label=Loupe]'));
    await sheet('Evidence', false);
  });
});

/** How many drawings lie over each other in the picture. */
const layers = (driver: WebDriver): Promise<number> =>
  driver.executeScript('return document.querySelectorAll("[data-testid=picture] canvas").length');
