import { gzipSync } from 'node:zlib';
import { By } from 'selenium-webdriver';
import { find, keptUntil, openJob, openStep, settled, startSession, typeNumber, type Session } from './browser';

let session: Session;
beforeAll(async () => {
  session = await startSession();
});
afterAll(() => session.close());

test('the shelf needs little before it is there: scripts and styles of at most 200 KB, packed', async () => {
  const page = await (await fetch(session.address)).text();
  const files = [...page.matchAll(/(?:src|href)="([^"]+\.(?:js|css))"/g)].map(([, file]) => file);
  expect(files.length).toBeGreaterThan(2);
  const bytes = async (file: string): Promise<number> =>
    gzipSync(Buffer.from(await (await fetch(new URL(file, session.address))).arrayBuffer())).length;
  const sizes = await Promise.all(files.map(bytes));
  expect(sizes.reduce((a, b) => a + b, 0)).toBeLessThan(200_000);
});

test('after the first visit all opens and works without the server', async () => {
  const { driver, address } = session;
  await driver.get(address);
  // Everything is there once what keeps it has taken charge.
  const kept = await driver.executeAsyncScript<number>(`
    const done = arguments[arguments.length - 1];
    navigator.serviceWorker.ready.then(async () => {
      const names = await caches.keys();
      const counts = await Promise.all(names.map(async (n) => (await (await caches.open(n)).keys()).length));
      done(counts.reduce((a, b) => a + b, 0));
    });`);
  expect(kept).toBeGreaterThan(20);
  await openJob(driver, 'Lantern at dusk');
  await settled(driver);
  await session.stopServer();
  await driver.get(address);
  expect(await driver.executeScript('return crossOriginIsolated')).toBe(true);
  await openJob(driver, 'Lantern at dusk');
  await openStep(driver, 'lens');
  await typeNumber(driver, 'Aperture', 1.8);
  await keptUntil(driver, ({ recipe }) => recipe.lens.fNumber === 1.8);
  await settled(driver);
  // A job's address by itself, as after a reload.
  await driver.navigate().refresh();
  await find(driver, By.css('a[aria-current=step][href$="/lens"]'));
  await settled(driver);
});

test('what installs it names the application, its marks and the files it opens', async () => {
  const { driver } = session;
  const manifest = await driver.executeAsyncScript<{ name: string; icons: { sizes: string }[]; file_handlers: { accept: object }[] }>(`
    const done = arguments[arguments.length - 1];
    fetch(document.querySelector('link[rel=manifest]').href).then((r) => r.json()).then(done);`);
  expect(manifest.name).toBe('Ritaglio');
  expect(manifest.icons.map((i) => i.sizes)).toEqual(expect.arrayContaining(['192x192', '512x512']));
  expect(Object.keys(manifest.file_handlers[0].accept)).toContain('image/jpeg');
});
