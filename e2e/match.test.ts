import { By, Key, Origin, type WebDriver } from 'selenium-webdriver';
import { button, draw, find, keptUntil, openJob, openStep, press, said, settled, startSession, typeNumber, type Session } from './browser';

/** Both sides brought together in the real interface, on the goat by the canal. */
const frame: [number, number] = [1800, 1200];
let session: Session;

beforeAll(async () => {
  session = await startSession({ workingSide: 720 });
  await session.driver.get(session.address);
  await openJob(session.driver, 'Goat by the canal');
  await openStep(session.driver, 'match');
  await settled(session.driver);
});

afterAll(() => session?.close());

/** A row of the table: subject, behind, gap, and whether the gap is within tolerance. */
async function row(driver: WebDriver, name: string): Promise<{ cells: string[]; within: boolean }> {
  await find(driver, By.css(`tr[data-gap=${name}]`));
  // In one go: between two questions the page may have been drawn anew.
  const cells = await driver.executeScript<string[]>(
    `return [...document.querySelectorAll('tr[data-gap=${name}] td')].map((cell) => cell.innerText);`,
  );
  return { cells, within: cells[2].includes('within tolerance') };
}

async function fold(driver: WebDriver, title: string): Promise<void> {
  const head = await find(
    driver,
    By.xpath(`//section[@aria-label=${JSON.stringify(title)}]//button[contains(., ${JSON.stringify(title)})]`),
  );
  await driver.executeScript('arguments[0].scrollIntoView()', head);
  await head.click();
}

/** What the picture says it shows. */
async function shown(driver: WebDriver): Promise<string> {
  return (await find(driver, By.css('[data-testid=picture]'))).getAttribute('aria-label') as Promise<string>;
}

describe('matching', () => {
  test('one press matches one property, and only that', async () => {
    const { driver } = session;
    await press(driver, 'Put back');
    const plain = await keptUntil(driver, (k) => k.recipe.match.strengths.cast === 0);
    await settled(driver);
    expect((await row(driver, 'cast')).within).toBe(false);
    await press(driver, 'Match cast');
    const kept = await keptUntil(driver, (k) => k.recipe.match.strengths.cast === 1);
    expect(kept.recipe.match.strengths).toEqual({ ...plain.recipe.match.strengths, cast: 1 });
    await settled(driver);
    expect((await row(driver, 'cast')).within).toBe(true);
    expect(await (await find(driver, button('Match cast'))).getAttribute('aria-pressed')).toBe('true');
  });

  test('one press matches all with restraint, says what it did, and is undone as one', async () => {
    const { driver } = session;
    const before = await keptUntil(driver, (k) => k.recipe.match.strengths.cast === 1);
    await press(driver, 'Match all');
    const all = await keptUntil(driver, (k) => k.recipe.finish.grain.back === 1);
    expect(all.recipe.match.strengths).toMatchObject({ cast: 1, black: 1, contrast: 1 / 3, saturation: 1 / 3 });
    await settled(driver);
    for (const name of ['cast', 'black', 'grain']) {
      expect([name, (await row(driver, name)).within]).toEqual([name, true]);
    }
    expect(await (await find(driver, By.css('[data-testid=solved-subject]'))).getText()).toMatch(/mired/);
    expect(await (await find(driver, By.css('[data-testid=match-done]'))).getText()).toMatch(/^The subject becomes .*Grain is put back/);
    await (await find(driver, By.css('body'))).sendKeys(Key.chord(Key.CONTROL, 'z'));
    const undone = await keptUntil(driver, (k) => k.cursor === all.cursor - 1);
    expect(undone.recipe).toEqual(before.recipe);
  });

  test('the strength moves what is matched, and the other side can be the one that moves', async () => {
    const { driver } = session;
    await typeNumber(driver, 'Strength', 40);
    await keptUntil(driver, (k) => k.recipe.match.strengths.cast === 0.4 && k.recipe.match.strengths.tint === 0);
    await press(driver, 'Half way');
    await keptUntil(driver, (k) => k.recipe.match.moves === 'both');
    await typeNumber(driver, 'Strength', 100);
    await settled(driver);
    expect((await row(driver, 'cast')).within).toBe(true);
    expect(await (await find(driver, By.css('[data-testid=solved-behind]'))).getText()).toMatch(/mired/);
  });

  test('a reference is drawn, measured, and dropped', async () => {
    const { driver } = session;
    const whole = (await row(driver, 'middle')).cells[1];
    await (await find(driver, By.xpath('//span[.="Behind’s"]/following-sibling::span//button[.="Point at a part"]'))).click();
    await draw(driver, frame, [[60, 60], [500, 60], [500, 400], [60, 400]]); // prettier-ignore
    const kept = await keptUntil(driver, (k) => k.recipe.match.references.background !== null);
    expect(kept.recipe.match.references.background?.filled).toBe(true);
    expect(kept.recipe.match.references.background?.points.length).toBeGreaterThan(2);
    await settled(driver);
    expect((await row(driver, 'middle')).cells[1]).not.toBe(whole);
    await (await find(driver, By.xpath('//span[.="Behind’s"]/following-sibling::span//button[.="All"]'))).click();
    await keptUntil(driver, (k) => k.recipe.match.references.background === null);
  });

  test('a hue is protected by picking it', async () => {
    const { driver } = session;
    await settled(driver);
    await press(driver, 'Pick a hue');
    await draw(driver, frame, [[841, 846], [841, 846]]); // prettier-ignore
    const kept = await keptUntil(driver, (k) => k.recipe.match.protect.length === 1);
    const { hue } = kept.recipe.match.protect[0];
    // The wheels are red.
    expect(Math.min(hue, 360 - hue)).toBeLessThan(60);
    await (await find(driver, By.xpath('//button[starts-with(@aria-label, "Protect hue")]'))).click();
    await keptUntil(driver, (k) => k.recipe.match.protect.length === 0);
  });
});

describe('the grade', () => {
  test('a curve point is set, dragged, nudged, and taken away', async () => {
    const { driver } = session;
    await fold(driver, 'Curves');
    const curve = await find(driver, By.css('[data-testid=curve]'));
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', curve);
    const { x, y, width, height } = await curve.getRect();
    const at = (u: number, v: number): { x: number; y: number; origin: Origin } => ({
      x: Math.round(x + u * width),
      y: Math.round(y + (1 - v) * height),
      origin: Origin.VIEWPORT,
    });
    await driver.actions().move(at(0.4, 0.4)).press().move(at(0.4, 0.5)).move(at(0.4, 0.6)).release().perform();
    const bent = await keptUntil(driver, (k) => k.recipe.finish.grade.curves.all.length === 3);
    const [px, py] = bent.recipe.finish.grade.curves.all[1];
    expect([px, py].map((v) => Math.round(10 * v) / 10)).toEqual([0.4, 0.6]);
    const point = await find(driver, By.css('[aria-label="Point 2 of the curve"]'));
    await point.sendKeys(Key.ARROW_UP);
    await keptUntil(driver, (k) => k.recipe.finish.grade.curves.all[1][1] > py);
    await (await find(driver, By.css('[aria-label="Point 2 of the curve"]'))).sendKeys(Key.DELETE);
    const straight = await keptUntil(driver, (k) => k.recipe.finish.grade.curves.all.length === 2);
    expect(straight.recipe.finish.grade.curves.red).toEqual([[0, 0], [1, 1]]); // prettier-ignore
  });

  test('a limit is painted for one card, and the whole stays as it is', async () => {
    const { driver } = session;
    await fold(driver, 'Grade');
    await (await find(driver, By.xpath('//select[@aria-label="What is graded"]/option[.="Background"]'))).click();
    await typeNumber(driver, 'Exposure', -0.5);
    const paint = await find(driver, By.xpath('//h3[.="Where it works"]/following-sibling::div//button[.="Paint"]'));
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', paint);
    await paint.click();
    await draw(driver, frame, [[300, 1000], [900, 1050], [1500, 1000]]); // prettier-ignore
    const kept = await keptUntil(driver, (k) => k.recipe.cards.some((c) => c.limit.painted.length === 1));
    const card = kept.recipe.cards.find((c) => c.limit.painted.length === 1)!;
    expect(card.kind).toBe('picture');
    expect(card.grade.exposure).toBe(-0.5);
    expect(kept.recipe.finish.grade.exposure).toBe(0);
  });

  test('a card is brought to the level of what is behind it, and the farthest has nothing behind', async () => {
    const { driver } = session;
    const level = async (card: string): Promise<void> => {
      await (await find(driver, By.xpath(`//select[@aria-label="What is graded"]/option[.="${card}"]`))).click();
      const to = await find(driver, button('To the level of what is behind'));
      await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', to);
      await to.click();
    };
    await level('Subject');
    const kept = await keptUntil(driver, (k) => k.recipe.cards.some((c) => c.kind === 'subject' && c.grade.exposure !== 0));
    // Wool in lamplight against a night street.
    expect(kept.recipe.cards.find((c) => c.kind === 'subject')!.grade.exposure).toBeLessThan(0);
    await level('Background');
    expect(await said(driver, 'Nothing stands behind')).toContain('nearer');
  });

  test('held, a group or the key shows the picture before, and let go, after', async () => {
    const { driver } = session;
    await settled(driver);
    const hold = await find(driver, button('Hold: without the match'));
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', hold);
    await driver.actions().move({ origin: hold }).press().perform();
    await driver.wait(async () => (await shown(driver)).startsWith('Before'), 60_000);
    await driver.actions().release().perform();
    await driver.wait(async () => (await shown(driver)).startsWith('Finished'), 10_000);
    await driver.actions().keyDown('b').perform();
    await driver.wait(async () => (await shown(driver)).startsWith('Before'), 60_000);
    await driver.actions().keyUp('b').perform();
    await driver.wait(async () => (await shown(driver)).startsWith('Finished'), 10_000);
  });

  test('scopes follow, and say what leaves the range', async () => {
    const { driver } = session;
    for (const name of ['Wave', 'Parade', 'Vector', 'Histo']) await press(driver, name);
    const scopes = await find(driver, By.css('section[aria-label=Scopes]'));
    expect(await scopes.getText()).toMatch(/above 1: [\d.]+ %/);
    const canvas = await scopes.findElement(By.css('canvas'));
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', canvas);
    await driver.actions().move({ origin: canvas }).perform();
    await driver.wait(async () => /level \d+: [\d.]+ \/ [\d.]+ %/.test(await scopes.getText()), 10_000);
  });
});
