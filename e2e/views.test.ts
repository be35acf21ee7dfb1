import { By, Key } from 'selenium-webdriver';
import { barriers, barriersInTheDark } from './barriers';
import { button, choose, find, keptUntil, openJob, openStep, press, settled, startSession, type Session } from './browser';

let session: Session;

beforeAll(async () => {
  session = await startSession({ libraryFaults: 1 });
});
afterAll(() => session.close());

describe('what can be seen', () => {
  test('the shelf, and a library that fails once and is asked again', async () => {
    const { driver, address } = session;
    await driver.get(address);
    await find(driver, By.xpath('//button[starts-with(@aria-label, "Open the demo job Lantern")]'));
    expect(await barriers(driver)).toEqual([]);
    expect(await barriersInTheDark(driver)).toEqual([]);
    await press(driver, 'Picture library');
    const alert = await find(driver, By.css('[role=dialog] [role=alert]'));
    expect(await alert.getText()).toContain('does not answer');
    await press(driver, 'Try again');
    await find(driver, By.css('[role=dialog] li'));
    expect(await barriers(driver)).toEqual([]);
    await press(driver, 'Further');
    await find(driver, By.xpath('//*[@role="dialog"]//span[contains(., "2 of 2")]'));
    await press(driver, 'Close');
  });

  test('what is a barrier is told', async () => {
    const { driver } = session;
    await driver.executeScript('document.querySelector("main").insertAdjacentHTML("beforeend", `<img id="dumb" src="data:,">`)');
    expect(await barriers(driver)).toEqual([expect.stringMatching(/^image-alt: <img id="dumb"/)]);
    await driver.executeScript('document.getElementById("dumb").remove()');
  });

  test('what others made that is part of it is told, typefaces too', async () => {
    const page = await (await fetch(`${session.address}/notices.html`)).text();
    for (const name of ['react-dom', 'comlink', '@fontsource/caveat', 'konva']) expect(page).toContain(`<h2>${name} `);
    expect(page).toMatch(/SIL OPEN FONT LICENSE/i);
  });

  test.each(['matte', 'plate', 'lens', 'match', 'export', 'pictures', 'stage', 'proof'])(
    'the step %s is free of barriers',
    async (step) => {
      const { driver, address } = session;
      if (!(await driver.getCurrentUrl()).includes('/job/')) {
        await driver.get(address);
        await openJob(driver, 'Lantern at dusk');
      }
      await openStep(driver, step);
      await settled(driver);
      expect(await barriers(driver)).toEqual([]);
      expect(await barriersInTheDark(driver)).toEqual([]);
    },
  );

  test('a control is found by a word, and has the focus where it is', async () => {
    const { driver } = session;
    await (await find(driver, By.css('body'))).sendKeys(Key.chord(Key.CONTROL, 'k'));
    const field = await find(driver, By.css('input[aria-label="Words of the control"]'));
    await field.sendKeys('dissolve');
    await find(driver, By.xpath('//*[@role="option"][contains(., "Dissolve steps")]'));
    expect(await barriers(driver)).toEqual([]);
    await field.sendKeys(Key.ENTER);
    await find(driver, By.css('a[aria-current=step][href$="/match"]'));
    await driver.wait(
      async () => /Dissolve/.test(await driver.executeScript<string>('return document.activeElement.closest("label")?.textContent ?? ""')),
      10_000,
    );
  });

  test('a mark is drawn by keys alone: the tip is moved, a stroke begun and ended', async () => {
    const { driver } = session;
    await openStep(driver, 'matte');
    await settled(driver);
    const before = (await keptUntil(driver, () => true)).recipe.subjects[0].marks.length;
    await driver.executeScript(`document.querySelector('[aria-label="Product shown"] button').focus()`);
    // From the bar below, backwards over what is before it, as somebody would who has no pointer.
    const here = (): Promise<string> => driver.executeScript('return document.activeElement.dataset.testid ?? ""');
    for (let i = 0; i < 12 && (await here()) !== 'picture'; i++) await driver.actions().keyDown(Key.SHIFT).sendKeys(Key.TAB).keyUp(Key.SHIFT).perform(); // prettier-ignore
    expect(await here()).toBe('picture');
    const keys = driver.actions();
    for (const key of [Key.ARROW_UP, Key.ARROW_UP, ' ', Key.ARROW_RIGHT, Key.ARROW_RIGHT, Key.ARROW_DOWN, ' ']) keys.sendKeys(key);
    await keys.perform();
    const { recipe } = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === before + 1);
    const mark = recipe.subjects[0].marks[before];
    expect(mark.kind).toBe('inside');
    expect(mark.points.length).toBe(4);
    const [[x0, y0], , [x2], [, y3]] = mark.points;
    expect(x2).toBeGreaterThan(x0);
    expect(y3).toBeGreaterThan(y0);
    await driver.actions().keyDown(Key.CONTROL).sendKeys('z').keyUp(Key.CONTROL).perform();
    await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === before);
    await driver.executeScript('document.activeElement.blur()');
  });

  test('keys: wipe, before, steps, tip, fit, the list of keys', async () => {
    const { driver } = session;
    const body = await find(driver, By.css('body'));
    const state = (label: string, value: string) =>
      find(driver, By.xpath(`//*[@aria-label="${label}"]//button[@data-state="checked"][.="${value}"]`));
    await body.sendKeys('2');
    await find(driver, By.css('a[aria-current=step][href$="/matte"]'));
    await body.sendKeys('w');
    await state('Compare', 'Wipe');
    await body.sendKeys('w');
    await state('Compare', 'Whole');
    const tip = await find(driver, By.css('input[aria-label="Tip, typed"]'));
    const before = Number.parseFloat((await tip.getAttribute('value'))!);
    await body.sendKeys('..');
    await driver.wait(async () => Number.parseFloat((await tip.getAttribute('value'))!) > before, 5000);
    await body.sendKeys('9');
    await find(driver, button('100 %'));
    await body.sendKeys('0');
    await driver.wait(async () => (await driver.findElements(button('100 %'))).length === 0, 5000);
    await body.sendKeys('?');
    await find(driver, By.xpath('//*[@role="dialog"]//h2[.="Keys, working size, light, language"]'));
    await choose(driver, 'Interface light or dark', 'dark');
    await driver.wait(async () => (await driver.executeScript('return getComputedStyle(document.body).backgroundColor')) === 'rgb(38, 38, 38)', 5000); // prettier-ignore
    await choose(driver, 'Interface light or dark', 'as the system');
    await body.sendKeys(Key.ESCAPE);
  });
});
