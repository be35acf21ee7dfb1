import { By, Key } from 'selenium-webdriver';
import { barriers, barriersInTheDark } from './barriers';
import { button, find, keptUntil, press, settled, startSession, type Session } from './browser';

let session: Session;
beforeAll(async () => {
  session = await startSession();
});
afterAll(() => session.close());

const steps = ['matte', 'plate', 'stage', 'lens', 'match', 'proof', 'export', 'pictures'];

/** What is written, and what is cut off where it is written. */
async function written(): Promise<{ texts: string[]; cut: string[] }> {
  return session.driver.executeScript(`
    const leaves = [...document.querySelectorAll('aside *, header *, main > * *')].filter((e) => e.children.length === 0 && e.textContent.trim());
    const cut = leaves.filter((e) => e.matches('button, label, h1, h2, th, td') && e.scrollWidth > e.clientWidth + 2 && getComputedStyle(e).overflow === 'hidden');
    return { texts: leaves.map((e) => e.textContent.trim()), cut: cut.map((e) => e.textContent.trim()) };`);
}

test('the language is chosen on the shelf, at once, and stays', async () => {
  const { driver, address } = session;
  await driver.get(address);
  await (await find(driver, By.css('select[aria-label="Language"]'))).sendKeys('Italiano');
  await find(driver, By.xpath('//strong[.="Lascia cadere qui una foto"]'));
  expect(await driver.executeScript('return document.documentElement.lang')).toBe('it');
  await driver.navigate().refresh();
  await find(driver, By.xpath('//button[.="Scegli un file"]'));
  await press(driver, 'Apri il lavoro di esempio Goat on the quay');
  await find(driver, By.css('nav[aria-label="Linea di lavoro"]'));
});

test.each(steps)('the step %s speaks it, without barriers, and nothing is cut off', async (step) => {
  const { driver } = session;
  await (await find(driver, By.css(`nav a[href$="/${step}"]`))).click();
  await find(driver, By.css(`a[aria-current=step][href$="/${step}"]`));
  await settled(driver);
  const { texts, cut } = await written();
  expect(cut).toEqual([]);
  // English has words that Italian has not.
  expect(texts.filter((t) => /\b(the|of|with|and|is|are|from|not|by)\b/i.test(t) && !/Goat on the quay/.test(t))).toEqual([]);
  expect(await barriers(driver)).toEqual([]);
  expect(await barriersInTheDark(driver)).toEqual([]);
});

test('a number is set, a control is found by its word, and what is done is undone', async () => {
  const { driver } = session;
  await (await find(driver, By.css('nav a[href$="/lens"]'))).click();
  await (await find(driver, By.css('body'))).sendKeys(Key.chord(Key.CONTROL, 'k'));
  const field = await find(driver, By.css('input[aria-label="Parole del comando"]'));
  await field.sendKeys('aper', Key.ENTER);
  await driver.wait(
    () => driver.executeScript<boolean>('return document.activeElement?.getAttribute("aria-label") === "Apertura"'),
    10_000,
  );
  const typed = await find(driver, By.css('input[data-name="Apertura"]'));
  await typed.click();
  await typed.sendKeys(Key.chord(Key.CONTROL, 'a'), '2', Key.ENTER);
  await keptUntil(driver, ({ recipe }) => recipe.lens.fNumber === 2);
  await (await find(driver, button('Annulla'))).click();
  await keptUntil(driver, ({ recipe }) => recipe.lens.fNumber !== 2);
});
