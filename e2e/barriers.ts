import { AxeBuilder } from '@axe-core/webdriverjs';
import type { WebDriver } from 'selenium-webdriver';

/** In the dark only colours are others: what depends on them. */
const ofColours = ['color-contrast', 'link-in-text-block'];

/** Barriers on what is shown, each with where it is; of some rules only when they are named. */
export async function barriers(driver: WebDriver, rules?: string[]): Promise<string[]> {
  // All is of one origin, so no window of its own is needed to put results together; what passes is not told piece by piece.
  const axe = new AxeBuilder(driver).options({ resultTypes: ['violations'] }).setLegacyMode(true);
  const { violations } = await (rules ? axe.withRules(rules) : axe).analyze();
  return violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.html.slice(0, 120)).join(' | ')}`);
}

/** The same in the dark, of what depends on colours. */
export async function barriersInTheDark(driver: WebDriver): Promise<string[]> {
  const lit = (how: string): Promise<unknown> => driver.executeScript('document.documentElement.dataset.lighting = arguments[0]', how);
  await lit('dark');
  const found = await barriers(driver, ofColours);
  await lit('light');
  return found;
}
