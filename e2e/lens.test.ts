import { cpus } from 'node:os';
import { resolve } from 'node:path';
import { By, Key, Origin, type WebElement } from 'selenium-webdriver';
import {
  button,
  choose,
  chooseFrom,
  find,
  giveFile,
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
  session = await startSession({ workingSide: 450 });
  await session.driver.get(session.address);
  await openJob(session.driver, 'Goat on the quay');
  await settled(session.driver);
  await openStep(session.driver, 'lens');
});
afterAll(() => session.close());

type Recipe = Kept['recipe'];
const until = async (wanted: (recipe: Recipe) => boolean): Promise<Recipe> =>
  (await keptUntil(session.driver, (k) => wanted(k.recipe))).recipe;
const plateOf = (r: Recipe): Recipe['cards'][number] => r.cards.find((c) => c.kind === 'plate')!;
const slider = (label: string): Promise<WebElement> =>
  find(session.driver, By.css(`section[aria-label=Bench] [role=slider][aria-label="${label}"]`));
/** Figure at the head of a part of the controls. */
const head = (part: string): Promise<string> => textOf(session.driver, By.css(`section[aria-label="${part}"] h2 + span`));

/** Drags something of the bench by so many screen pixels. */
async function dragged(label: string, dx: number, dy = 0): Promise<void> {
  const handle = await slider(label);
  await session.driver
    .actions()
    .move({ origin: handle })
    .press()
    .move({ origin: Origin.POINTER, x: dx, y: dy, duration: 120 })
    .release()
    .perform();
}

/** The place on the screen of a full-size point of the frame. */
async function place(x: number, y: number): Promise<{ x: number; y: number }> {
  const { driver } = session;
  const box = await (await find(driver, By.css('[data-testid=picture] canvas'))).getRect();
  const zoom = 0.965 * Math.min(box.width / frame[0], box.height / frame[1]);
  return {
    x: Math.round(box.x + box.width / 2 + (x - frame[0] / 2) * zoom),
    y: Math.round(box.y + box.height / 2 + (y - frame[1] / 2) * zoom),
  };
}

/** Presses at a full-size point, and drags to another if there is one. */
async function pressed(from: [number, number], to?: [number, number]): Promise<void> {
  const a = await place(...from);
  const actions = session.driver
    .actions()
    .move({ ...a })
    .press();
  if (to) {
    const b = await place(...to);
    actions.move({ x: Math.round((a.x + b.x) / 2), y: Math.round((a.y + b.y) / 2), duration: 60 }).move({ ...b, duration: 60 });
  }
  await actions.release().perform();
}

/** Draws with the pointer through full-size points. */
async function drawn(points: [number, number][]): Promise<void> {
  const actions = session.driver
    .actions()
    .move({ ...(await place(...points[0])) })
    .press();
  for (const p of points.slice(1)) actions.move({ ...(await place(...p)), duration: 60 });
  await actions.release().perform();
}

/** Mean lightness of a patch of the shown picture, 0 to 255, as the page draws it. */
async function brightness(x: number, y: number): Promise<number> {
  const at = await place(x, y);
  return session.driver.executeScript<number>(
    `const canvas = document.querySelector('[data-testid=picture] canvas');
     const box = canvas.getBoundingClientRect();
     const k = canvas.width / box.width;
     const { data } = canvas.getContext('2d').getImageData((arguments[0] - box.x) * k - 3, (arguments[1] - box.y) * k - 3, 7, 7);
     let sum = 0;
     for (let i = 0; i < data.length; i += 4) sum += data[i] + data[i + 1] + data[i + 2];
     return sum / (3 * 49);`,
    at.x,
    at.y,
  );
}

test('threads that help the renderer were called up, as memory can be shared', async () => {
  expect(await session.driver.executeScript('return crossOriginIsolated')).toBe(true);
  expect(session.asked.some((url) => /pool\.worker/.test(url))).toBe(cpus().length > 1);
});

describe('the bench', () => {
  test('the needle is dragged and moved by keys; the figures follow', async () => {
    await dragged('Focus, distance', 60);
    const farther = await until((r) => r.lens.focus > 3.3);
    expect(await head('Focus')).toBe(`${farther.lens.focus.toFixed(2)} m`);
    const needle = await slider('Focus, distance');
    await needle.sendKeys(Key.ARROW_RIGHT);
    const on = await until((r) => r.lens.focus > farther.lens.focus);
    expect(on.lens.focus / farther.lens.focus).toBeCloseTo(1.02, 2);
    await press(session.driver, 'Focus on the subject');
    await until((r) => r.lens.focus === 3.1);
  });

  test('the opening is dragged on the camera and moved by keys; the picture goes softer', async () => {
    const { driver } = session;
    await settled(driver);
    const before = (await until(() => true)).lens.fNumber;
    await dragged('Aperture of the lens', 0, -12);
    const wide = await until((r) => r.lens.fNumber < before);
    await (await slider('Aperture of the lens')).sendKeys(Key.ARROW_UP);
    await until((r) => r.lens.fNumber > wide.lens.fNumber);
    await typeNumber(driver, 'Aperture', 2.8);
    await until((r) => r.lens.fNumber === 2.8);
    await settled(driver);
  });

  test('a card is dragged along the rail, unless it is locked', async () => {
    const { driver } = session;
    await dragged('Plate, distance', -80);
    const nearer = plateOf(await until((r) => plateOf(r).distance < 19)).distance;
    await (await find(driver, By.css('button[aria-label="Lock this card"]'))).click();
    await until((r) => plateOf(r).locked);
    await dragged('Plate, distance', 120);
    expect(plateOf(await until(() => true)).distance).toBe(nearer);
    await (await find(driver, By.css('button[aria-label="Lock this card"]'))).click();
    await until((r) => !plateOf(r).locked);
  });
});

describe('distances on the picture', () => {
  test('the ground line is dragged, half way up the ground is farther', async () => {
    const { driver } = session;
    await press(driver, 'Ground line');
    await pressed([200, 985], [200, 1060]);
    const ground = plateOf(await until((r) => plateOf(r).distances.ground!.line > 1030)).distances.ground!;
    expect(ground.horizon).toBe(437);
    expect(Math.abs(ground.line - 1060)).toBeLessThan(12);
    await pressed([200, 437], [200, 400]);
    await until((r) => Math.abs(plateOf(r).distances.ground!.horizon - 400) < 12);
  });

  test('a peg is set where it is pressed, dragged, typed, and taken away', async () => {
    const { driver } = session;
    await press(driver, 'Peg');
    await pressed([300, 700]);
    const [peg] = plateOf(await until((r) => plateOf(r).distances.pegs.length === 1)).distances.pegs;
    expect(Math.hypot(peg.x - 300, peg.y - 700)).toBeLessThan(5);
    expect(peg.distance).toBeGreaterThan(3.1);
    await typeNumber(driver, 'Peg 1', 7.5);
    await until((r) => plateOf(r).distances.pegs[0].distance === 7.5);
    // By its head, which stands a little above the point.
    await pressed([300, 675], [380, 675]);
    await until((r) => plateOf(r).distances.pegs[0].x > 350);
    await (await find(driver, By.css('button[aria-label="Take peg 1 away"]'))).click();
    await until((r) => plateOf(r).distances.pegs.length === 0);
    await press(driver, 'Peg');
  });

  test('are painted where they are drawn, and the last stroke is taken back', async () => {
    const { driver } = session;
    await press(driver, 'Paint');
    await typeNumber(driver, 'Paint with', 4.5);
    await pressed([300, 600], [500, 640]);
    const [stroke] = plateOf(await until((r) => plateOf(r).distances.painted.length === 1)).distances.painted;
    expect(stroke.distance).toBe(4.5);
    expect(Math.hypot(stroke.points[0][0] - 300, stroke.points[0][1] - 600)).toBeLessThan(5);
    await press(driver, 'Paint');
    await (await find(driver, By.xpath('//button[starts-with(., "Take") and contains(., "stroke")]'))).click();
    await until((r) => plateOf(r).distances.painted.length === 0);
  });

  test('a thing beside the subject stands with it: a press finds it, and it is taken away again', async () => {
    const { driver } = session;
    await press(driver, 'Stands with the subject');
    await pressed([99, 720]);
    const standing = (r: Recipe): Recipe['cards'][number]['distances']['standing'] => plateOf(r).distances.standing;
    const [thing] = standing(await until((r) => standing(r).length > 0));
    const xs = thing.points.map((p) => p[0]);
    expect(Math.min(...xs)).toBeLessThan(60);
    expect(Math.max(...xs)).toBeLessThan(420);
    await press(driver, 'Take the last away');
    await until((r) => standing(r).length === 0);
    await press(driver, 'Stands with the subject');
  });

  test('the blur is painted where it is wanted, and is everywhere again', async () => {
    const { driver } = session;
    await press(driver, 'Paint where');
    await pressed([300, 300], [600, 300]);
    await until((r) => plateOf(r).blurLimit.painted.length === 1);
    expect(await head('Where it is blurred')).toBe('in part');
    await press(driver, 'Everywhere');
    await until((r) => plateOf(r).blurLimit.painted.length === 0);
  });

  test('come from a picture that is brought in right there, and go with it', async () => {
    const { driver } = session;
    const depth = resolve('demo/truth/goat-quay/depth.png');
    await giveFile(driver, 'Picture of distances, a file', depth);
    const { map } = plateOf(await until((r) => plateOf(r).distances.map !== null)).distances;
    expect(map!.reading).toBe('metres');
    await typeNumber(driver, 'White is', 262.1);
    await until((r) => plateOf(r).distances.map!.far === 262.1);
    await settled(driver);
    await press(driver, 'See them');
    // The bollard stands 5 m before houses at 130 m; the ground alone knows nothing of it.
    await driver.wait(async () => (await brightness(1520, 520)) > (await brightness(1300, 300)) + 30, 20_000);
    expect(await brightness(1520, 520)).toBeGreaterThan((await brightness(1380, 520)) + 20);
    await press(driver, 'See them');
    await choose(driver, 'Picture of distances', 'None');
    await until((r) => plateOf(r).distances.map === null);
  });

  test('are seen as a picture: near is light, far is dark', async () => {
    const { driver } = session;
    await settled(driver);
    await press(driver, 'See them');
    await driver.wait(async () => (await brightness(300, 1150)) > (await brightness(300, 150)) + 30, 20_000);
    await press(driver, 'See them');
  });

  test('a press on the picture focuses there', async () => {
    const { driver } = session;
    await press(driver, 'Focus by a press');
    await pressed([200, 750]);
    const { lens } = await until((r) => Math.abs(r.lens.focus - 3.1) > 0.3);
    expect(lens.focus).toBeGreaterThan(3.3);
    await press(driver, 'Focus on the subject');
    await until((r) => r.lens.focus === 3.1);
    await press(driver, 'Focus by a press');
  });
});

describe('a blur that is shared', () => {
  test('is measured in the shot and behind, and given by one press', async () => {
    const { driver } = session;
    await settled(driver);
    const before = (await until(() => true)).lens.fNumber;
    const measure = await find(driver, By.xpath('//section[@aria-label="Blur like this"]//button[.="Measure"]'));
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', measure);
    await measure.click();
    const part = await find(driver, By.css('section[aria-label="Blur like this"]'));
    await driver.wait(async () => /In the shot\s+[\d.]+ px/.test(await part.getText()), 60_000);
    await (await find(driver, By.xpath('//section[@aria-label="Blur like this"]//button[.="Blur like this"]'))).click();
    // The shot is sharp all through, so its own plate needs hardly any blur.
    expect((await until((r) => r.lens.fNumber !== before)).lens.fNumber).toBeGreaterThan(before);
    await (await find(driver, By.css('body'))).sendKeys(Key.chord(Key.CONTROL, 'z'));
    await until((r) => r.lens.fNumber === before);
  });
});

describe('lamps', () => {
  test('are counted; a press drops one; one is set by hand', async () => {
    const { driver } = session;
    await settled(driver);
    const found = async (): Promise<number> => Number.parseInt(await head('Lamps'), 10);
    const all = await found();
    expect(all).toBeGreaterThan(10);
    await press(driver, 'Outline them');
    // The lamp by itself at the upper left.
    await pressed([79, 160]);
    await until((r) => 'lamps' in plateOf(r) && (plateOf(r) as { lamps: { dropped: unknown[] } }).lamps.dropped.length === 1);
    await settled(driver);
    expect(await found()).toBe(all - 1);
    const dark = await brightness(1650, 120);
    await press(driver, 'Set a lamp');
    await pressed([1650, 120]);
    await until((r) => (plateOf(r) as { lamps: { set: unknown[] } }).lamps.set.length === 1);
    await settled(driver);
    expect(await brightness(1650, 120)).toBeGreaterThan(dark + 20);
    await press(driver, 'Fill an area');
    await drawn([[1300, 60], [1700, 60], [1700, 320], [1300, 320]]); // prettier-ignore
    const areas = (r: Recipe): unknown[] => (plateOf(r) as { lamps: { areas: unknown[] } }).lamps.areas;
    await until((r) => areas(r).length === 1);
    await settled(driver);
    await press(driver, 'Only those found');
    await until((r) => areas(r).length === 0);
  });
});

describe('the stage', () => {
  test('lettering stands between the cards: the goat hides it, the sky shows it', async () => {
    const { driver } = session;
    await openStep(driver, 'stage');
    await press(driver, 'Lettering');
    const words = await until((r) => r.cards.some((c) => c.kind === 'lettering'));
    expect(words.cards.find((c) => c.kind === 'lettering')!.distance).toBeGreaterThan(3.1);
    const box = await find(driver, By.css('textarea[aria-label="What it says"]'));
    await box.sendKeys(Key.chord(Key.CONTROL, 'a'), 'QUAY');
    await typeNumber(driver, 'Height', 400);
    await settled(driver);
    // The goat's body is before it, whatever it says.
    const before = await brightness(980, 620);
    await press(driver, 'Flip');
    await settled(driver);
    expect(Math.abs((await brightness(980, 620)) - before)).toBeLessThan(6);
  });

  test('a card is moved, turned and made larger on the picture, and taken off the bench', async () => {
    const { driver } = session;
    const letters = (r: Recipe) => r.cards.find((c) => c.kind === 'lettering');
    const { placement } = letters(await until(() => true))!;
    await pressed([900, 620], [1010, 760]);
    const moved = letters(await until((r) => letters(r)!.placement.x > placement.x + 60))!.placement;
    expect(Math.abs(moved.y - placement.y - 140)).toBeLessThan(25);
    await typeNumber(driver, 'Turn', 15);
    await until((r) => letters(r)!.placement.turn === 15);
    await (await find(driver, By.css('button[aria-label="Hide QUAY"]'))).click();
    await until((r) => letters(r)!.hidden);
    await (await find(driver, By.css('button[aria-label="Take QUAY off the bench"]'))).click();
    await until((r) => letters(r) === undefined);
  });

  test('the frame is cut to a ratio and put back', async () => {
    const { driver } = session;
    await chooseFrom(driver, 'Ratio of the frame', '1 : 1');
    const cut = (await until((r) => r.frame.width === r.frame.height)).frame;
    expect(cut).toEqual({ width: 1200, height: 1200, x: 0, y: 0, turn: 0 });
    await typeNumber(driver, 'Straighten', 3);
    await until((r) => r.frame.turn === 3);
    await settled(driver);
    await press(driver, 'All of the shot');
    await until((r) => r.frame.width === 1800 && r.frame.turn === 0);
  });
});

describe('takes', () => {
  test('are kept by a key, made in a row by a press, compared, and gone back to', async () => {
    const { driver } = session;
    await (await find(driver, By.css('body'))).sendKeys('t');
    await driver.wait(async () => (await driver.findElements(By.xpath('//button[.="1 take"]'))).length === 1, 20_000);
    await typeNumber(driver, 'Distance', 5);
    await (await find(driver, By.xpath('//button[.="1 take"]'))).click();
    await press(driver, 'A row at f/1.4, 2, 2.8, 4, 5.6');
    await driver.wait(async () => (await driver.findElements(By.css('[role=dialog] li'))).length === 6, 30_000);
    await driver.wait(async () => (await driver.findElements(By.css('[role=dialog] li img'))).length === 6, 90_000);
    const at14 = await find(driver, By.xpath('//*[@role="dialog"]//li[.//span[.="f/1.4"]]//button[.="Go back"]'));
    await at14.click();
    await until((r) => r.lens.fNumber === 1.4);
    await (await find(driver, By.xpath('//button[.="6 takes"]'))).click();
    await (await find(driver, By.xpath('//*[@role="dialog"]//li[.//span[.="take 1"]]//button[.="Beside"]'))).click();
    await driver.wait(async () => (await driver.findElements(By.css('[role=dialog]'))).length === 0, 60_000);
    expect(await (await find(driver, By.css('[aria-label=Compare] [data-state=checked]'))).getText()).toBe('Beside');
    await driver.findElement(button('Undo')).click();
    await until((r) => r.lens.fNumber === 2.8);
  });
});
