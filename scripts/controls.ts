import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { button, controlsOf, openJob, openStep, press, settled, startSession } from '../e2e/browser';

/** Walks all steps in the real interface and writes down every control by its part and name, for the search over all of them. */
const steps = ['pictures', 'matte', 'plate', 'stage', 'lens', 'match', 'proof', 'export'];
/** Presses that show further controls, by step. */
const further: Record<string, string[]> = {
  matte: ['By hand', 'Shapes', 'Mark'],
  lens: ['Peg', 'Paint', 'Set a lamp'],
  plate: ['Clone', 'Paint', 'Borrow'],
};
/** One without time and one with it. */
const jobs = ['Goat on the quay', 'Goat rolling by'];

const session = await startSession();
const { driver } = session;
const found = new Map<string, { step: string; part: string; name: string }>();
try {
  for (const job of jobs) {
    await driver.get(session.address);
    await openJob(driver, job);
    for (const step of steps) {
      await openStep(driver, step);
      await settled(driver);
      const collect = async (): Promise<void> => {
        for (const { part, name } of await controlsOf(driver)) {
          const one = { step, part, name };
          const key = Object.values(one).join('\n');
          if (!found.has(key)) found.set(key, one);
        }
      };
      await collect();
      for (const name of further[step] ?? []) {
        if ((await driver.findElements(button(name))).length === 0) continue;
        await press(driver, name);
        await driver.sleep(200);
        await collect();
      }
    }
  }
} finally {
  await session.close();
}
const order = [...found.values()].sort((a, b) => steps.indexOf(a.step) - steps.indexOf(b.step));
const to = join(fileURLToPath(new URL('.', import.meta.url)), '../packages/app/src/job/find/catalogue.json');
writeFileSync(to, `[\n${order.map((one) => `  ${JSON.stringify(one).replace(/":"/g, '": "').replace(/","/g, '", "').replace('{', '{ ').replace(/}$/, ' }')}`).join(',\n')}\n]\n`); // prettier-ignore
console.log(`${order.length} controls in ${new Set(order.map((o) => o.part)).size} parts`);
