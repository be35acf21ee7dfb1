import { mkdtempSync, readdirSync, readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { By } from 'selenium-webdriver';
import sharp from 'sharp';
import { draw, find, openStep, settled, startSession } from '../e2e/browser';
import { root } from './measure/truth';
const folder = mkdtempSync(join(tmpdir(), 'mem-'));
const session = await startSession({ workingSide: 1800 });
const { driver, address } = session;
const [width, height] = [1800, 1200];
function report(what: string): void {
  const rows: string[] = [];
  let all = 0;
  for (const pid of readdirSync('/proc')) {
    if (!/^\d+$/.test(pid)) continue;
    try {
      const cmd = readFileSync(`/proc/${pid}/cmdline`, 'utf8');
      if (!cmd.includes('chromium') || cmd.includes('tsx')) continue;
      const pss = Number(/^Pss:\s+(\d+)/m.exec(readFileSync(`/proc/${pid}/smaps_rollup`, 'utf8'))?.[1] ?? 0) / 1024;
      all += pss;
      if (pss < 60) continue;
      const type = /--type=([a-z-]+)/.exec(cmd)?.[1] ?? 'browser';
      const sums = new Map<string, number>();
      let name = '', size = 0;
      const big: string[] = [];
      for (const line of readFileSync(`/proc/${pid}/smaps`, 'utf8').split('\n')) {
        const m = /^[0-9a-f]+-[0-9a-f]+ (\S+) \S+ \S+ (\d+)\s*(.*)$/.exec(line);
        if (m) { name = (m[3] || 'anon') + ' ' + m[1]; continue; }
        const s = /^Size:\s+(\d+)/.exec(line); if (s) size = Number(s[1]);
        const r = /^Pss:\s+(\d+)/.exec(line);
        if (r) { const k = name.startsWith('/') && !name.includes('memfd') && !name.includes('shm') ? 'files' : name.replace(/\d{3,}/g, 'N').replace(/\.[A-Za-z0-9]{6}/, '.X'); sums.set(k, (sums.get(k) ?? 0) + Number(r[1]) / 1024); if (Number(r[1]) > 40_000) big.push(`${name.slice(0, 24)} ${Math.round(size / 1024)}:${Math.round(Number(r[1]) / 1024)}`); }
      }
      rows.push(`  ${type} ${pss.toFixed(0)}: ` + [...sums].sort((a, b) => b[1] - a[1]).slice(0, 7).map(([k, v]) => `${k} ${v.toFixed(0)}`).join(' | ') + '\n     big ' + big.join(', '));
    } catch { /* ended */ }
  }
  console.log(what, all.toFixed(0), 'MB\n' + rows.join('\n'));
}
const jobs = Number(process.argv[2] ?? 22);
for (let k = 0; k < jobs; k++) {
  const path = join(folder, `job-${k}.jpg`);
  await sharp(join(root, 'demo/pictures/goat-quay.jpg')).resize(width, height).modulate({ hue: 11 * k }).jpeg().toFile(path);
  await driver.get(address);
  await (await find(driver, By.css('input[type=file]'))).sendKeys(path);
  await find(driver, By.css('nav[aria-label="Work line"]'));
  await settled(driver);
  await draw(driver, [width, height], [[775, 605], [980, 580], [1170, 600]]);
  await settled(driver);
  await openStep(driver, 'lens');
  await settled(driver);
  await driver.sleep(1000);
  if (k % 4 === 0 || k === jobs - 1) report(`job ${k + 1}`);
}
const cdp = (await (driver as never as { createCDPConnection(t: string): Promise<unknown> }).createCDPConnection?.('page').catch(() => undefined)) as never;
const send = (driver as never as { sendDevToolsCommand(c: string, p?: object): Promise<void> }).sendDevToolsCommand.bind(driver);
void cdp;
await send('HeapProfiler.collectGarbage', {});
await driver.sleep(1500); report('after garbage of the page');
await send('Memory.forciblyPurgeJavaScriptMemory', {}).catch((e: Error) => console.log(e.message));
await driver.sleep(1500); report('after purge');
await send('Memory.simulatePressureNotification', { level: 'critical' }).catch((e: Error) => console.log(e.message));
await driver.sleep(3000); report('after pressure');
await driver.get('about:blank'); await driver.sleep(3000); report('blank');
await session.close();
