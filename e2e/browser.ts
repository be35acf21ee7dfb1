import { mkdtempSync, rmSync } from 'node:fs';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { listen, makeServer, type ServerOptions } from '@ritaglio/server';
import { Builder, By, error, until, type WebDriver, type WebElement } from 'selenium-webdriver';
import { Options, ServiceBuilder } from 'selenium-webdriver/chrome';

/** A running application and a browser that looks at it. */
export interface Session {
  driver: WebDriver;
  address: string;
  /** Where downloads arrive. */
  downloads: string;
  close: () => Promise<void>;
}

/** Starts the server on a free port and a fresh headless browser, 1280 × 800. */
export async function startSession(options: ServerOptions = {}): Promise<Session> {
  const server: Server = await listen(makeServer(options), 0);
  const address = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  const profile = mkdtempSync(join(tmpdir(), 'ritaglio-profile-'));
  const downloads = mkdtempSync(join(tmpdir(), 'ritaglio-downloads-'));
  const chrome = new Options();
  chrome.setBinaryPath('/usr/bin/chromium');
  chrome.addArguments(
    '--headless',
    '--no-sandbox',
    '--disable-gpu',
    '--disable-quic',
    '--no-first-run',
    '--disable-background-networking',
    '--disable-component-update',
    '--disable-sync',
    '--window-size=1280,800',
    '--force-device-scale-factor=1',
    `--user-data-dir=${profile}`,
  );
  chrome.setUserPreferences({ 'download.default_directory': downloads, 'download.prompt_for_download': false });
  const driver = await new Builder()
    .forBrowser('chrome')
    .setChromeOptions(chrome)
    .setChromeService(new ServiceBuilder('/usr/bin/chromedriver'))
    .build();
  // The window's inside, whatever the browser takes for its own bars.
  const [w, h] = (await driver.executeScript('return [outerWidth - innerWidth, outerHeight - innerHeight]')) as [number, number];
  await driver
    .manage()
    .window()
    .setRect({ width: 1280 + w, height: 800 + h });
  return {
    driver,
    address,
    downloads,
    close: async () => {
      await driver.quit().catch(() => undefined);
      await new Promise((resolve) => server.close(resolve));
      rmSync(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 200 });
      rmSync(downloads, { recursive: true, force: true });
    },
  };
}

/** Longest wait for anything the application computes; a guard against hanging, not a measure of speed. */
export const patience = 240_000;

export function button(name: string): By {
  return By.xpath(`//button[normalize-space()=${JSON.stringify(name)} or @aria-label=${JSON.stringify(name)}]`);
}

export async function find(driver: WebDriver, by: By): Promise<WebElement> {
  return driver.wait(until.elementLocated(by), patience, `nothing found for ${by.toString()}`);
}

/** Clicks what is found, once more when the page has just drawn it anew. */
export async function click(driver: WebDriver, by: By): Promise<void> {
  for (let tries = 0; ; tries++) {
    try {
      await (await find(driver, by)).click();
      return;
    } catch (e) {
      if (!(e instanceof error.StaleElementReferenceError) || tries > 5) throw e;
    }
  }
}

export async function press(driver: WebDriver, name: string): Promise<void> {
  await click(driver, button(name));
}

/** Opens a job, or a demo job, from the shelf. */
export async function openJob(driver: WebDriver, name: string): Promise<void> {
  await click(driver, By.xpath(`//button[starts-with(@aria-label, "Open ") and contains(@aria-label, "${name}")]`));
  await find(driver, By.css('nav[aria-label="Work line"]'));
}

/** Goes to a step of the open job by its work line. */
export async function openStep(driver: WebDriver, step: string): Promise<void> {
  await click(driver, By.css(`nav[aria-label="Work line"] a[href$="/${step}"]`));
  await find(driver, By.css(`a[aria-current=step][href$="/${step}"]`));
}

/** Waits until the line has been worked out for the current recipe. */
export async function settled(driver: WebDriver): Promise<void> {
  await find(driver, By.css('main[data-settled=true]'));
}
