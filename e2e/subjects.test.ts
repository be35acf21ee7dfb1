import { By } from 'selenium-webdriver';
import { chooseFrom, draw, find, keptUntil, keptWork, openJob, openStep, press, startSession, type Session } from './browser';

/** A second subject is cut from a shot of its own, the first one left as it is. */
let session: Session;

beforeAll(async () => {
  session = await startSession();
  await session.driver.get(session.address);
  await openJob(session.driver, 'Goat by the canal');
  await openStep(session.driver, 'stage');
});

afterAll(() => session?.close());

test('a further subject has a matte and marks of its own', async () => {
  const { driver } = session;
  const before = (await keptWork(driver)).recipe;
  await chooseFrom(driver, 'Add a picture', 'canal-night.jpg, a subject to cut');
  const added = await keptUntil(driver, (k) => k.recipe?.subjects.length === 2);
  expect(added.recipe.cards.filter((c) => c.kind === 'subject')).toHaveLength(2);
  await press(driver, 'Open its matte');
  await find(driver, By.css('a[aria-current=step][href$="/matte"]'));
  const which = await find(driver, By.css('select[aria-label="Which subject"]'));
  expect(await which.getAttribute('value')).toBe('subject-2');
  await draw(driver, [1800, 1200], [[600, 700], [800, 760]]); // prettier-ignore
  const marked = await keptUntil(driver, (k) => k.recipe.subjects[1].marks.length === 1);
  const first = before?.subjects[0].marks ?? marked.recipe.subjects[0].marks;
  expect(marked.recipe.subjects[0].marks).toEqual(first);
  expect(marked.recipe.subjects[0].marks.length).toBeGreaterThan(10);
  await which.findElement(By.css('option[value="subject-1"]')).click();
  await draw(driver, [1800, 1200], [[100, 100], [160, 100]], '\uE008'); // prettier-ignore
  const back = await keptUntil(driver, (k) => k.recipe.subjects[0].marks.length === first.length + 1);
  expect(back.recipe.subjects[1].marks).toHaveLength(1);
});
