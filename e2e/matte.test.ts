import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { readPicture } from '@ritaglio/formats';
import { By, Key } from 'selenium-webdriver';
import { nodeCodec } from '../packages/cli/src/files';
import {
  choose,
  downloaded,
  draw,
  find,
  giveFile,
  keptUntil,
  openJob,
  openStep,
  press,
  settled,
  shownColour,
  startSession,
  type Session,
} from './browser';

const demo = join(fileURLToPath(new URL('.', import.meta.url)), '../demo');
const frame: [number, number] = [1500, 1000];
let session: Session;

beforeAll(async () => {
  session = await startSession();
  await session.driver.get(session.address);
  await openJob(session.driver, 'Lantern at dusk');
  await settled(session.driver);
});
afterAll(() => session.close());

const subject = async (test: (s: Awaited<ReturnType<typeof keptUntil>>['recipe']['subjects'][number]) => boolean) =>
  (await keptUntil(session.driver, (k) => test(k.recipe.subjects[0]))).recipe.subjects[0];

describe('the matte’s tools on the real interface', () => {
  test('the screen is found by itself, and can be picked in the picture', async () => {
    const { driver } = session;
    await find(driver, By.xpath('//section[@aria-label="Cut by"]//*[.="found"]'));
    await press(driver, 'Pick in the picture');
    await draw(driver, frame, [[300, 500]]);
    const picked = await subject((s) => s.screen.colour !== 'auto');
    const [r, g, b] = [1, 3, 5].map((at) => Number.parseInt(picked.screen.colour.slice(at, at + 2), 16));
    expect(g).toBeGreaterThan(1.5 * Math.max(r, b));
    await find(driver, By.xpath('//section[@aria-label="Cut by"]//*[.="picked"]'));
    await settled(driver);
  });

  test('a garbage rectangle is drawn, taken by a corner, and erased', async () => {
    const { driver } = session;
    await press(driver, 'Shapes');
    const had = (await subject(() => true)).garbage.length;
    await draw(driver, frame, [
      [100, 100],
      [300, 400],
    ]);
    const drawn = (await subject((s) => s.garbage.length === had + 1)).garbage[had];
    expect(drawn).toMatchObject({ kind: 'rectangle' });
    await draw(driver, frame, [
      [300, 400],
      [350, 420],
      [400, 450],
    ]);
    const moved = (await subject((s) => JSON.stringify(s.garbage[had]) !== JSON.stringify(drawn))).garbage[had];
    if (moved.kind === 'polygon' || drawn.kind === 'polygon') throw new Error('a rectangle became a polygon');
    expect(moved.width).toBeGreaterThan(drawn.width + 60);
    expect(Math.abs(moved.x - drawn.x)).toBeLessThan(3);
    await (await find(driver, By.css('body'))).sendKeys(Key.DELETE);
    await subject((s) => s.garbage.length === had);
  });

  test('the hand paints opaque with its strength, and undo takes it off', async () => {
    const { driver } = session;
    const had = (await subject(() => true)).hand.length;
    await press(driver, 'By hand');
    await draw(driver, frame, [
      [250, 600],
      [300, 640],
    ]);
    const stroke = (await subject((s) => s.hand.length === had + 1)).hand[had];
    expect(stroke).toMatchObject({ tip: 'opaque', hardness: 0.5, opacity: 1 });
    // Straight on from the last end with a key.
    await draw(driver, frame, [[400, 600]], Key.CONTROL);
    const straight = (await subject((s) => s.hand.length === had + 2)).hand[had + 1];
    expect(straight.points).toHaveLength(2);
    expect(straight.points[0].slice(0, 2)).toEqual(stroke.points[stroke.points.length - 1].slice(0, 2));
    await press(driver, 'Undo');
    await press(driver, 'Undo');
    await subject((s) => s.hand.length === had);
  });

  test('marks by corners and around; then moved, turned and erased', async () => {
    const { driver } = session;
    await press(driver, 'Mark');
    await press(driver, 'Corners');
    const had = (await subject(() => true)).marks.length;
    for (const at of [[200, 200], [320, 210], [260, 320], [200, 200]] as [number, number][]) await draw(driver, frame, [at]); // prettier-ignore
    const polygon = (await subject((s) => s.marks.length === had + 1)).marks[had];
    expect(polygon).toMatchObject({ filled: true, kind: 'inside' });
    expect(polygon.points).toHaveLength(3);
    await press(driver, 'Change');
    await draw(driver, frame, [[260, 205], [280, 230], [300, 245]]); // prettier-ignore
    const moved = (await subject((s) => s.marks[had]?.points[0][0] !== polygon.points[0][0])).marks[had];
    expect(moved.points[0][0] - polygon.points[0][0]).toBeGreaterThan(20);
    await (await find(driver, By.css('body'))).sendKeys('x');
    await subject((s) => s.marks[had].kind === 'outside');
    await (await find(driver, By.css('body'))).sendKeys(Key.DELETE);
    await subject((s) => s.marks.length === had);
    await settled(driver);
  });

  test('a matte is kept under a name, taken away from the other, and written as 16-bit grey', async () => {
    const { driver } = session;
    const name = await find(driver, By.css('input[aria-label="Name of the matte"]'));
    await name.sendKeys('Whole lantern');
    await press(driver, 'Keep');
    const { mattes } = (await keptUntil(driver, (k) => k.recipe.mattes.length === 1)).recipe;
    expect(mattes[0].name).toBe('Whole lantern');
    await settled(driver);
    await choose(driver, 'How Whole lantern is used', 'taken away');
    await subject((s) => s.with[0]?.how === 'subtract');
    await settled(driver);
    // What is taken away from itself leaves nothing but soft rims.
    const share = await find(driver, By.xpath('//section[@aria-label="Matte figures"]//dt[.="Subject"]/following-sibling::dd'));
    expect(Number.parseFloat(await share.getText())).toBeLessThan(1.5);
    await press(driver, 'Write as PNG');
    const { bytes } = await downloaded(session, '.png');
    const { samples } = await readPicture('m.png', bytes, nodeCodec);
    expect([samples.width, samples.height, samples.channels]).toEqual([1500, 1000, 1]);
    expect(samples.data).toBeInstanceOf(Uint16Array);
    await choose(driver, 'How Whole lantern is used', 'not used');
    await settled(driver);
  });

  test('a subject is proposed without marks, and taken or dropped with one key', async () => {
    const { driver } = session;
    const before = (await subject(() => true)).marks.length;
    await press(driver, 'Find the subject');
    await find(driver, By.css('[role=group][aria-label="Proposed subject"]'));
    await (await find(driver, By.css('body'))).sendKeys(Key.ESCAPE);
    await driver.wait(async () => (await driver.findElements(By.css('[aria-label="Proposed subject"]'))).length === 0, 5000);
    expect((await subject(() => true)).marks.length).toBe(before);
    await press(driver, 'Find the subject');
    await find(driver, By.css('[role=group][aria-label="Proposed subject"]'));
    await (await find(driver, By.css('body'))).sendKeys(Key.ENTER);
    const taken = await subject((s) => s.marks.length > before);
    expect(taken.cut).toBe('marks');
    await settled(driver);
  });

  test('the cut is seen over black, white, grey, what is behind, and as an outline', async () => {
    const { driver } = session;
    await settled(driver);
    const [cloth, paper]: [number, number][] = [[330, 500], [750, 430]]; // prettier-ignore
    const seen = async (how: string): Promise<{ out: number[]; inside: number[] }> => {
      await choose(driver, 'Removed as', how);
      await settled(driver);
      await driver.sleep(300);
      return { out: await shownColour(driver, frame, cloth), inside: await shownColour(driver, frame, paper) };
    };
    const apart = (a: number[], b: number[]): number => Math.max(...a.map((v, c) => Math.abs(v - b[c])));
    const plain = await seen('outline only');
    // The cloth is green there.
    expect(plain.out[1]).toBeGreaterThan(1.5 * Math.max(plain.out[0], plain.out[2]));
    for (const [how, code] of [['black', 0], ['white', 255], ['mid-grey', 119]] as const) {
      const { out, inside } = await seen(how);
      expect([how, apart(out, [code, code, code]) < 3]).toEqual([how, true]);
      expect([how, apart(inside, plain.inside) < 40]).toEqual([how, true]);
    } // prettier-ignore
    const hatch = await seen('hatch');
    const dimmed = await seen('dimmed');
    const behind = await seen('what is behind');
    for (const { inside } of [hatch, dimmed, behind]) expect(apart(inside, plain.inside)).toBeLessThan(40);
    // Of the cloth there is less to be seen, and nothing before what is behind.
    const green = ([r, g, b]: number[]): number => g - Math.max(r, b);
    for (const { out } of [hatch, dimmed]) expect(green(out)).toBeLessThan(0.6 * green(plain.out));
    expect(green(behind.out)).toBeLessThan(5);
    await choose(driver, 'Removed as', 'hatch');
  });

  test('a picture multiplied by its opacity comes in straight, says so, and can be left as it is', async () => {
    const { driver } = session;
    await openStep(driver, 'pictures');
    await giveFile(driver, 'Pictures to bring in', join(demo, 'pictures/paper-boat.png'));
    const { multiplied } = (await keptUntil(driver, (k) => k.recipe.multiplied.length === 1)).recipe;
    expect(multiplied[0].over).toBe('#000000');
    await find(driver, By.xpath('//*[contains(text(), "multiplied by its opacity over black")]'));
    await press(driver, 'Leave it as it is');
    await keptUntil(driver, (k) => k.recipe.multiplied.length === 0);
  });
});
