import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { By, Key, type WebDriver } from 'selenium-webdriver';
import { button, draw, find, giveFile, keptUntil, openStep, press, settled, startSession, textOf, type Session } from './browser';

const shot = join(fileURLToPath(new URL('.', import.meta.url)), '../demo/truth/cuts/yarn-doll/shot.jpg');
const frame: [number, number] = [1200, 800];
let session: Session;

beforeAll(async () => {
  session = await startSession();
  const { driver } = session;
  await driver.get(session.address);
  await giveFile(driver, 'Photo or job to open', shot);
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await openStep(driver, 'matte');
});
afterAll(() => session.close());

const marks = async (test: (m: Awaited<ReturnType<typeof keptUntil>>['recipe']['subjects'][number]['marks']) => boolean) =>
  (await keptUntil(session.driver, (k) => test(k.recipe.subjects[0].marks))).recipe.subjects[0].marks;
const kind = async (driver: WebDriver, name: string): Promise<void> =>
  (
    await find(driver, By.xpath(`//*[@role="radiogroup" and @aria-label="Kind of mark"]//*[@role="radio"][contains(., "${name}")]`))
  ).click();
const share = async (driver: WebDriver): Promise<number> => {
  await settled(driver);
  return Number.parseFloat(await textOf(driver, By.xpath('//*[normalize-space()="Subject"]/following-sibling::*[contains(., "%")]')));
};

describe('more ways to say what is meant, on a new photo', () => {
  test('a loop around the subject alone gives a cut', async () => {
    const { driver } = session;
    await kind(driver, 'Loop');
    const around = Array.from({ length: 25 }, (_, k): [number, number] => {
      const turn = (2 * Math.PI * k) / 24;
      return [600 + 260 * Math.cos(turn), 400 + 390 * Math.sin(turn)];
    });
    await draw(driver, frame, around);
    expect((await marks((m) => m.length === 1))[0].kind).toBe('loop');
    const part = await share(driver);
    expect(part).toBeGreaterThan(8);
    expect(part).toBeLessThan(33);
    await press(driver, 'Undo');
    await marks((m) => m.length === 0);
  });

  test('a stroke where none is taken says why, and one press shows where it is', async () => {
    const { driver } = session;
    const shown = (name: string): Promise<void> => driver.findElement(By.xpath(`//*[@aria-label="Product shown"]//*[@role="radio"][.="${name}"]`)).click(); // prettier-ignore
    await shown('Matte');
    await draw(driver, frame, [[560, 400], [640, 420]]); // prettier-ignore
    expect(await textOf(driver, By.css('main [role=status]'))).toContain('marks are drawn on the shot');
    await press(driver, 'Show the shot');
    await driver.actions().sendKeys('0').perform();
    await draw(driver, frame, [[560, 400], [640, 420]]); // prettier-ignore
    await marks((m) => m.length === 1);
    await press(driver, 'Undo');
    await marks((m) => m.length === 0);
  });

  test('pressing the thing itself proposes it, to be taken or dropped', async () => {
    const { driver } = session;
    await press(driver, 'This one …');
    await draw(driver, frame, [[600, 560]]);
    await find(driver, By.css('[role=group][aria-label="Proposed subject"]'));
    await press(driver, 'Take it');
    expect((await marks((m) => m.length > 0)).some((m) => m.kind === 'inside' && m.filled)).toBe(true);
    await press(driver, 'Undo');
    await marks((m) => m.length === 0);
    await settled(driver);
  });

  test('a border follows the contour between presses, ends open with Enter, and its points can be dragged', async () => {
    const { driver } = session;
    await kind(driver, 'Border');
    const points = async (n: number): Promise<unknown> =>
      driver.wait(async () => (await driver.findElements(By.css(`[data-anchors="${n}"]`))).length > 0, 60_000);
    for (const [n, at] of (
      [
        [470, 640],
        [400, 690],
        [430, 770],
      ] as [number, number][]
    ).entries()) {
      // prettier-ignore
      await draw(driver, frame, [at]);
      await points(n + 1);
    }
    await (await find(driver, By.css('body'))).sendKeys(Key.ENTER);
    const [border] = await marks((m) => m.length === 1);
    expect(border).toMatchObject({ kind: 'trace', anchors: expect.any(Array) });
    expect(border.filled).toBeUndefined();
    expect(border.anchors).toHaveLength(3);
    expect(border.points.length).toBeGreaterThan(20);
    await press(driver, 'Change');
    const middle = border.points[border.anchors![1]];
    await draw(driver, frame, [[middle[0], middle[1]]]);
    await draw(driver, frame, [[middle[0], middle[1]], [middle[0] + 6, middle[1] - 20], [middle[0] + 12, middle[1] - 40]]); // prettier-ignore
    const [moved] = await marks((m) => JSON.stringify(m[0]?.points) !== JSON.stringify(border.points));
    expect(moved.anchors).toHaveLength(3);
    expect(Math.hypot(moved.points[0][0] - border.points[0][0], moved.points[0][1] - border.points[0][1])).toBeLessThan(8);
    await (await find(driver, By.css('body'))).sendKeys(Key.DELETE);
    await marks((m) => m.length === 0);
  });

  test('gaps like the pressed one are cleared together, or left out one by one', async () => {
    const { driver } = session;
    await kind(driver, 'Inside');
    await draw(driver, frame, [[600, 400], [600, 480], [600, 620]]); // prettier-ignore
    await marks((m) => m.length === 1);
    await settled(driver);
    await press(driver, 'Gaps like this …');
    // A button stands in for a gap: small, dark, and surrounded by the dress.
    await draw(driver, frame, [[597, 402]]);
    await find(driver, By.css('[role=group][aria-label="Proposed gaps"]'));
    await find(driver, button('Leave this out'));
    await (await find(driver, By.css('body'))).sendKeys(Key.ENTER);
    const all = await marks((m) => m.length > 1);
    expect(all.slice(1).every((m) => m.kind === 'outside')).toBe(true);
    await settled(driver);
  });
});
