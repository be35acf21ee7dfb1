/** @jest-environment node */
import { decode } from 'fast-png';
import { By } from 'selenium-webdriver';
import { button, downloaded, find, keptUntil, openJob, openStep, press, settled, startSession, textOf, type Session } from './browser';

let session: Session;
beforeAll(async () => {
  session = await startSession({ workingSide: 450 });
  const { driver } = session;
  await driver.get(session.address);
  await openJob(driver, 'Goat by the canal');
  await openStep(driver, 'proof');
  await settled(driver);
});
afterAll(() => session.close());

const checks = (): Promise<string> => textOf(session.driver, By.css('ul[aria-label="All checks"]'));
const row = (what: string): By => By.xpath(`//li[.//span[.=${JSON.stringify(what)}]]`);
const openRow = async (what: string): Promise<void> => {
  await (await find(session.driver, By.xpath(`//li[.//span[.=${JSON.stringify(what)}]]/button`))).click();
};

test('every check is told, and what is not known is not called good', async () => {
  const text = await checks();
  expect(text.split('\n').filter((line) => /not known/.test(line)).length).toBeGreaterThan(0);
  expect(text).toContain('Warmth of both sides');
  const { driver } = session;
  await openRow('Frames whose neighbours disagree about the subject');
  expect(await (await find(driver, row('Frames whose neighbours disagree about the subject'))).getText()).toMatch(/It is a still/);
});

test('one press walks the places, the picture and the loupe follow', async () => {
  const { driver } = session;
  await press(driver, 'Walk the places');
  const zoom = await find(driver, By.css('button[title="Fit (0)"]'));
  expect(await zoom.getText()).toBe('200 %');
  const which = (): Promise<string> => textOf(driver, By.css('section[aria-label=Loupe]'));
  const first = await which();
  await press(driver, 'Walk the places');
  await driver.wait(async () => (await which()) !== first, 5000);
});

test('a cure is shown before it is kept, kept, and undone', async () => {
  const { driver } = session;
  const what = 'Visible steps in what should be smooth';
  await openRow(what);
  await press(driver, 'Dissolve the steps');
  await find(driver, button('Keep it'));
  await press(driver, 'Leave it');
  await find(driver, button('Dissolve the steps'));
  await press(driver, 'Dissolve the steps');
  // It is still offered to be kept when what it mends has been measured anew, and is good.
  await find(driver, By.xpath(`//li[.//span[.=${JSON.stringify(what)}]]/button/*[@aria-label="good"]`));
  await press(driver, 'Keep it');
  await keptUntil(driver, ({ recipe }) => recipe.finish.dither);
  await settled(driver);
  await driver.wait(async () => !/steps/.test((await checks()).split('\n').slice(0, 6).join()), 30_000);
  await press(driver, 'Undo');
  await keptUntil(driver, ({ recipe }) => !recipe.finish.dither);
  await settled(driver);
});

test('a check is accepted with a word, and taken back', async () => {
  const { driver } = session;
  const what = 'Brightest tones of both sides';
  await openRow(what);
  await (await find(driver, By.css('input[aria-label="Why it is accepted"]'))).sendKeys('lantern light');
  await press(driver, 'Accept');
  const { recipe } = await keptUntil(driver, (k) => k.recipe.accepted.length === 1);
  expect(recipe.accepted[0]).toMatchObject({ check: 'white-gap', word: 'lantern light' });
  await find(driver, By.xpath(`//p[contains(., 'Accepted: lantern light')]`));
  await press(driver, 'Take back');
  await keptUntil(driver, (k) => k.recipe.accepted.length === 0);
});

test('the sheet leaves as a page and as a picture', async () => {
  const { driver } = session;
  await press(driver, 'As a page');
  const page = new TextDecoder().decode((await downloaded(session, '.html')).bytes);
  expect(page).toMatch(/@page\{size:A4 landscape/);
  expect(page).toContain('Old background in the edge');
  expect(page.match(/data:image\/jpeg/g)!.length).toBeGreaterThanOrEqual(4);
  await press(driver, 'As a picture');
  const { width, height } = decode((await downloaded(session, '.png')).bytes);
  expect([width, height]).toEqual([2480, 1754]);
});
