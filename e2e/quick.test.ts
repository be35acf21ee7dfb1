/** @jest-environment node */
import { fileURLToPath } from 'node:url';
import { By, Key } from 'selenium-webdriver';
import { button, downloaded, draw, find, press, settled, startSession, type Session } from './browser';

const photo = fileURLToPath(new URL('../demo/pictures/weathervane.jpg', import.meta.url));
let session: Session;
let actions = 0;
const act = async (what: Promise<unknown>): Promise<void> => {
  actions++;
  await what;
};

beforeAll(async () => {
  session = await startSession();
  await session.driver.get(session.address);
});
afterAll(() => session.close());

/** On to the step that is proposed. */
const on = (name: string): Promise<void> =>
  find(session.driver, By.xpath(`//aside//a[normalize-space()=${JSON.stringify(`${name} ›`)}]`)).then((a) => a.click());
// In one go: between two questions the page may have been drawn anew.
const parts = (): Promise<string[]> =>
  session.driver.executeScript<string[]>(
    `return [...document.querySelectorAll('aside[aria-label^=Controls] section h2')].map((title) => title.textContent.trim());`,
  );

test('from a photo to an exported picture with soft ground behind in at most twelve actions, each proposed', async () => {
  const { driver } = session;
  await act((await find(driver, By.xpath(`//ul[@aria-label='Common jobs']//button[contains(., 'Blur what is behind')]`))).click());
  await act((await find(driver, By.css('input[type=file]'))).sendKeys(photo));
  await settled(driver);
  expect(await parts()).toEqual(['Draw']);
  await find(driver, By.xpath(`//p[contains(., 'Draw one stroke')]`));
  await act(draw(driver, [1500, 1000], [[700, 260], [760, 420], [745, 640]])); // prettier-ignore
  await act(draw(driver, [1500, 1000], [[120, 80], [160, 500]], Key.SHIFT)); // prettier-ignore
  await find(driver, By.xpath(`//p[contains(., 'There is a cut')]`));
  await act(on('Lens'));
  await settled(driver);
  expect(await parts()).toEqual(['Amount', 'Focus', 'Lamps']);
  await act(on('Proof'));
  await find(driver, button('Walk the places'));
  await act(on('Export'));
  await act(press(driver, 'Export picture'));
  expect((await downloaded(session, '.png')).bytes.length).toBeGreaterThan(100_000);
  expect(actions).toBeLessThanOrEqual(12);
});

test('all controls are one press away, and stay', async () => {
  const { driver } = session;
  await press(driver, 'All controls');
  await driver.wait(async () => (await driver.findElements(button('All controls'))).length === 0, 10_000);
  // It is written beside what is seen.
  await driver.sleep(500);
  await driver.navigate().refresh();
  await settled(driver);
  await driver.findElement(By.css('nav[aria-label="Work line"] a[href$="/lens"]')).click();
  await driver.wait(async () => (await parts()).includes('Distances'), 20_000);
});

test('a second job of the same photo has a name of its own', async () => {
  const { driver } = session;
  await driver.get(session.address);
  await (await find(driver, By.css('input[type=file]'))).sendKeys(photo);
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await driver.wait(async () => /weathervane 2/.test(await driver.getTitle()), 20_000);
});
