import { mkdirSync, writeFileSync } from 'node:fs';
import { By, Key } from 'selenium-webdriver';
import { button, choose, find, openJob, openStep, press, settled, startSession } from '../e2e/browser';

/** One current picture of each main view, from the demo jobs. Arguments choose some by name. */
const wanted = process.argv.slice(2);
const folder = process.env.SHOTS ?? 'docs/screenshots';
mkdirSync(folder, { recursive: true });
const session = await startSession({ workingSide: 1800 });
const { driver, address } = session;

async function shoot(name: string): Promise<void> {
  // Where a job is open, what it shows has been worked out.
  const working = await driver.findElements(By.css('main[data-settled]'));
  if (working.length > 0) await settled(driver);
  await driver.sleep(400);
  writeFileSync(`${folder}/${name}.png`, Buffer.from(await driver.takeScreenshot(), 'base64'));
  console.log(name);
}

async function openDemo(name: string): Promise<void> {
  await driver.get(address);
  await openJob(driver, name);
  await settled(driver);
}

const views: Record<string, () => Promise<void>> = {
  matte: async () => {
    await openDemo('Goat on the quay');
  },
  screen: async () => {
    await openDemo('Lantern at dusk');
    await press(driver, 'Shapes');
    await choose(driver, 'Removed as', 'what is behind');
  },
  plate: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'plate');
  },
  showing: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'plate');
    await (await find(driver, By.xpath('//label[contains(., "Dim what")]'))).click();
  },
  lens: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'lens');
    await press(driver, 'Wipe');
  },
  distances: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'lens');
    await press(driver, 'Ground line');
  },
  stage: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'stage');
    await press(driver, 'Lettering');
    await settled(driver);
  },
  match: async () => {
    await openDemo('Goat by the canal');
    await openStep(driver, 'match');
    await press(driver, 'Match all');
    await settled(driver);
  },
  grade: async () => {
    await openDemo('Goat by the canal');
    await openStep(driver, 'match');
    await (await find(driver, By.xpath('//section[@aria-label="Curves"]//button[contains(., "Curves")]'))).click();
    const curve = await find(driver, By.css('[data-testid=curve]'));
    await driver.executeScript('arguments[0].scrollIntoView({ block: "center" })', curve);
    const { x, y, width, height } = await curve.getRect();
    const at = (v: number) => ({ x: Math.round(x + 0.35 * width), y: Math.round(y + (1 - v) * height) });
    await driver.actions().move(at(0.35)).press().move(at(0.45)).release().perform();
    await press(driver, 'Parade');
    await settled(driver);
  },
  takes: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'lens');
    await (await find(driver, By.css('body'))).sendKeys('t');
    await (await find(driver, By.xpath('//button[contains(., "1 take")]'))).click();
    await find(driver, By.css('[role=dialog] img'));
  },
  clip: async () => {
    await openDemo('Goat rolling by');
    await press(driver, 'Follow through the clip');
    // Two seconds a frame, and the machine may be busy.
    const told = By.xpath(`//p[contains(., 'Followed from marks')]`);
    await driver.wait(async () => (await driver.findElements(told)).length > 0, 300_000);
  },
  glide: async () => {
    await openDemo('Glide along the quay');
    await openStep(driver, 'lens');
    await driver.executeScript('document.activeElement?.blur()');
    await driver.actions().sendKeys(Key.END, Key.chord(Key.SHIFT, Key.ARROW_LEFT)).perform();
    await settled(driver);
  },
  proof: async () => {
    await openDemo('Goat by the canal');
    await openStep(driver, 'proof');
    await settled(driver);
    await press(driver, 'Walk the places');
    await (await find(driver, By.xpath('//button[contains(., "Visible steps")]'))).click();
  },
  finished: async () => {
    await openDemo('Lantern at dusk');
    await openStep(driver, 'export');
    await settled(driver);
  },
  pictures: async () => {
    await openDemo('Goat by the canal');
    await openStep(driver, 'pictures');
  },
  library: async () => {
    await driver.get(address);
    await press(driver, 'Picture library');
    await find(driver, By.css('[role=dialog] li'));
    await find(driver, button('Further'));
  },
  dark: async () => {
    await openDemo('Goat by the canal');
    await openStep(driver, 'match');
    // In the other language as well; the next picture finds the first one again.
    await driver.executeScript('localStorage.setItem("ritaglio.language", "it")');
    await driver.navigate().refresh();
    await settled(driver);
    await driver.executeScript(`document.documentElement.dataset.lighting = 'dark'; localStorage.setItem('ritaglio.language', 'en')`);
  },
  shelf: async () => {
    await driver.get(address);
    await find(driver, By.xpath('//button[starts-with(@aria-label, "Open ")]'));
    await driver.sleep(600);
  },
  // The last one: the size of the window stays so.
  narrow: async () => {
    await openDemo('Goat on the quay');
    await openStep(driver, 'lens');
    const { sendDevToolsCommand } = driver as typeof driver & { sendDevToolsCommand(name: string, params: object): Promise<void> };
    await sendDevToolsCommand.call(driver, 'Emulation.setDeviceMetricsOverride', { width: 390, height: 844, deviceScaleFactor: 1, mobile: true }); // prettier-ignore
    await press(driver, 'Controls');
  },
};

try {
  for (const [name, show] of Object.entries(views)) {
    if (wanted.length > 0 && !wanted.includes(name)) continue;
    await show();
    await shoot(name);
  }
} finally {
  await session.close();
}
