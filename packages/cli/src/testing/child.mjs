// Runs one command after the other, as they are sent, and sends back what each wrote and how it ended.
import { built } from '../../bin/built.mjs';

const { main } = await import(await built('main'));
process.on('message', async (args) => {
  const written = { out: '', err: '' };
  const own = [process.stdout.write, process.stderr.write];
  process.stdout.write = (text) => ((written.out += text), true);
  process.stderr.write = (text) => ((written.err += text), true);
  process.exitCode = 0;
  await main(['node', 'ritaglio', ...args]);
  [process.stdout.write, process.stderr.write] = own;
  process.send({ code: process.exitCode, ...written });
});
process.send('ready');
