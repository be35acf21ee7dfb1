import { By, Key } from 'selenium-webdriver';
import {
  choose,
  draw,
  find,
  keptUntil,
  openJob,
  openStep,
  press,
  settled,
  startSession,
  textOf,
  typeNumber,
  type Kept,
  type Session,
} from './browser';

const frame: [number, number] = [1800, 1200];
let session: Session;

beforeAll(async () => {
  session = await startSession();
  await session.driver.get(session.address);
  await openJob(session.driver, 'Goat on the quay');
  await settled(session.driver);
  await openStep(session.driver, 'plate');
});
afterAll(() => session.close());

type Plate = Kept['recipe']['subjects'][number]['plate'];
const until = async (wanted: (plate: Plate) => boolean): Promise<Plate> =>
  (await keptUntil(session.driver, (k) => wanted(k.recipe.subjects[0].plate))).recipe.subjects[0].plate;
const figure = async (name: string): Promise<number> =>
  Number.parseFloat(await textOf(session.driver, By.xpath(`//section[@aria-label="Plate, measured"]//dt[.="${name}"]/../dd`)));
/** The colour shown in the middle of a stretch of the plate, as the page draws it. */
const box: [number, number][] = [[300, 950], [420, 950], [420, 1050], [300, 1050], [300, 950]]; // prettier-ignore

describe('the plate', () => {
  test('says what will show, and the loupe walks there', async () => {
    const { driver } = session;
    expect(await figure('Hole')).toBeGreaterThan(10);
    const shows = await figure('Of it is seen');
    expect(shows).toBeGreaterThan(2);
    expect(shows).toBeLessThan(60);
    expect(await (await find(driver, By.css('nav a[href$="/plate"]'))).getText()).toContain(`${shows.toFixed(0)} % seen`);
    const place = (): Promise<string> => textOf(driver, By.css('section[aria-label=Loupe]'));
    const first = await place();
    expect(first).toMatch(/1 of \d+, most first/);
    await press(driver, 'On to what shows less');
    expect(await place()).toMatch(/2 of \d+, most first/);
    await driver.actions().sendKeys('l').perform();
    expect(await place()).toMatch(/3 of \d+, most first/);
    await (await find(driver, By.xpath('//label[contains(., "Dim what will not show")]'))).click();
  });

  test('every fill can be taken, and tries stay at hand', async () => {
    const { driver } = session;
    await press(driver, 'Another try');
    expect((await until((p) => p.fill.kind === 'patch' && p.fill.tries === 2)).fill).toEqual({ kind: 'patch', tries: 2, taken: 2 });
    await press(driver, '1');
    await until((p) => p.fill.kind === 'patch' && p.fill.taken === 1);
    await press(driver, 'Photographed');
    await until((p) => p.fill.kind === 'photographed');
    await settled(driver);
    expect(await (await find(driver, By.css('section[aria-label=Fill]'))).getText()).toContain('No photographed plate is chosen yet');
    await press(driver, 'Smooth');
    await until((p) => p.fill.kind === 'smooth');
    await settled(driver);
  });

  test('regions are added to the hole, filled otherwise, borrowed from and moved', async () => {
    const { driver } = session;
    const hole = await figure('Hole');
    await press(driver, 'Add');
    await press(driver, 'Around');
    await draw(driver, frame, box);
    expect((await until((p) => p.regions.length === 1)).regions[0]).toMatchObject({ how: 'add', region: { filled: true } });
    await settled(driver);
    expect(await figure('Hole')).toBeGreaterThan(hole + 0.3);
    await press(driver, 'Fill a part otherwise');
    await draw(driver, frame, box);
    await until((p) => p.parts.length === 1);
    await choose(driver, 'Fill of part 1', 'Stretch');
    expect((await until((p) => p.parts[0].fill.kind === 'stretch')).parts).toHaveLength(1);
    await press(driver, 'Borrowed');
    await press(driver, 'Draw where from');
    await draw(
      driver,
      frame,
      box.map(([x, y]) => [x + 1000, y]),
    );
    await typeNumber(driver, 'Slide across', -240);
    expect((await until((p) => p.fill.kind === 'borrowed' && p.fill.x === -240)).fill).toMatchObject({ kind: 'borrowed', y: 0 });
    await press(driver, 'Smooth');
    await press(driver, 'Lift a region');
    await draw(
      driver,
      frame,
      box.map(([x, y]) => [x + 1000, y - 30]),
    );
    await until((p) => p.moves.length === 1);
    await typeNumber(driver, 'Across', 120);
    expect((await until((p) => p.moves[0].x === 120)).moves[0]).toMatchObject({ y: 0, size: 1 });
  });

  test('clone takes its source by Alt, stays aligned, and heal and paint are strokes too', async () => {
    const { driver } = session;
    await press(driver, 'Clone');
    await draw(driver, frame, [[400, 900]], Key.ALT); // prettier-ignore
    await draw(driver, frame, [[600, 1000], [640, 1000]]); // prettier-ignore
    await until((p) => p.retouch.length === 1);
    await draw(driver, frame, [[700, 1050], [740, 1050]]); // prettier-ignore
    const [one, two] = (await until((p) => p.retouch.length === 2)).retouch;
    const apart = (s: typeof one): number[] => [s.points[0][0] - s.source![0], s.points[0][1] - s.source![1]].map(Math.round);
    expect(one.tip).toBe('clone');
    expect(Math.abs(apart(one)[0] - 200)).toBeLessThan(6);
    expect(Math.abs(apart(one)[0] - apart(two)[0]) + Math.abs(apart(one)[1] - apart(two)[1])).toBeLessThan(4);
    await press(driver, 'Heal');
    await draw(driver, frame, [[800, 1080], [820, 1080]]); // prettier-ignore
    await press(driver, 'Paint');
    await draw(driver, frame, [[200, 1100], [260, 1100]]); // prettier-ignore
    const strokes = (await until((p) => p.retouch.length === 4)).retouch;
    expect(strokes.map((s) => s.tip)).toEqual(['clone', 'clone', 'heal', 'paint']);
    await settled(driver);
  });

  test('undo takes the strokes off again, and the halo without the plate can be seen beside', async () => {
    const { driver } = session;
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await until((p) => p.retouch.length === 3);
    await press(driver, 'Halo without it');
    await settled(driver);
    const picture = await find(driver, By.css('[data-testid=picture]'));
    expect(await picture.getAttribute('aria-label')).toBe('Finished, Plate');
  });
});
