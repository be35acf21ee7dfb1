import { boundsOf, parameters, defaultContext, type Context, type WorkerPool, type Parameter, type ParameterKey } from '@ritaglio/core';
import { Command, InvalidArgumentError } from 'commander';
import { collectLarge } from './collecting';
import { mostThreads, nodePool } from './pool';
import { verdict } from './files';

export interface Common {
  scale: number;
  seed?: number;
  json?: boolean;
  threads?: number;
}

/** The helpers of the running command, called up when it begins, so that they are there when they are needed; kept for the next one. */
let pool: WorkerPool | undefined;

function calledUp(helpers: number): WorkerPool | undefined {
  return pool && pool.size === helpers ? pool : nodePool(helpers);
}

export type Figures = Record<string, unknown>;

function number(text: string): number {
  const n = Number(text);
  if (text.trim() === '' || !Number.isFinite(n)) throw new InvalidArgumentError('it must be a number.');
  return n;
}

export function positive(text: string): number {
  const n = number(text);
  if (n <= 0) throw new InvalidArgumentError('it must be above 0.');
  return n;
}

function wholeNumber(text: string): number {
  const n = positive(text);
  if (!Number.isInteger(n)) throw new InvalidArgumentError('it must be a whole number.');
  return n;
}

/** More threads than any machine has cores only cost. */
const mostAsked = 256;

function threadsOf(text: string): number {
  const n = wholeNumber(text);
  if (n > mostAsked) throw new InvalidArgumentError(`it must be at most ${mostAsked}.`);
  return n;
}

function seedOf(text: string): number {
  const n = number(text);
  if (!Number.isInteger(n) || n < 0) throw new InvalidArgumentError('it must be a whole number from 0 on.');
  return n;
}

function scaleOf(text: string): number {
  const n = positive(text);
  if (n > 1) throw new InvalidArgumentError('it must be at most 1.');
  return n;
}

/** How a command works: with helpers where there are cores for them. */
export function contextOf(options: Pick<Common, 'scale' | 'seed'>): Context {
  const { scale, seed = 1 } = options;
  let last = '';
  const progress = (what: string): void => {
    collectLarge(what !== last);
    last = what;
  };
  return defaultContext({ scale, seed, progress, ...(pool && { pool }) });
}

/** Runs a command, prints its figures if asked, and says in one line what went wrong. */
export function run<O extends Common>(work: (options: O, ...names: string[]) => Promise<Figures>): (...args: unknown[]) => Promise<void> {
  return async (...args) => {
    // A command may take a list of names at its end.
    const names = args.flat().filter((a): a is string => typeof a === 'string');
    const options = args.find((a): a is O => typeof a === 'object' && a !== null && 'scale' in a)!;
    const start = performance.now();
    pool = calledUp((options.threads ?? mostThreads()) - 1);
    try {
      const figures = await work(options, ...names);
      const peakMB = Math.round(process.resourceUsage().maxRSS / 1024);
      if (options.json) process.stdout.write(JSON.stringify({ ...figures, ms: Math.round(performance.now() - start), peakMB }) + '\n');
    } catch (error) {
      const { line, code } = verdict(error);
      process.stderr.write(line + '\n');
      process.exitCode = code;
    }
  };
}

export const program = new Command('ritaglio')
  .description('Cut out, clean plate, lens blur, match: the same line of products from a terminal.')
  .version('0.1.0')
  .exitOverride()
  .configureOutput({ writeErr: (text) => process.stderr.write(text.replace(/^error: /, '')) });

export function command(usage: string, description: string): Command {
  return program
    .command(usage)
    .description(description)
    .exitOverride()
    .option('--scale <n>', 'size of the result per full size, up to 1', scaleOf, 1)
    .option('--threads <n>', 'how many threads work, all cores up to four unless said; the result is the same', threadsOf)
    .option('--seed <n>', 'seed of every random choice; 1, or the recipe’s own', seedOf)
    .option('--json', 'print figures as one JSON line');
}

/** An option for a parameter: its bounds, its default and what is said of it are those of the table. */
export function parameterOption(c: Command, flag: string, key: ParameterKey, kind: 'needed' | 'usual' | 'free', more = ''): Command {
  const p: Parameter = parameters[key];
  const { least, most } = boundsOf(key);
  const range = p.above ? `above ${least}, at most ${most}` : `from ${least} to ${most}`;
  const whole = Number.isInteger(p.step) && p.unit === '' && !p.times;
  const read = (text: string): number => {
    const n = number(text);
    if ((p.above ? n <= least : n < least) || n > most || (whole && !Number.isInteger(n)))
      throw new InvalidArgumentError(`it must be ${whole ? 'a whole number ' : ''}${range}.`);
    return n;
  };
  const says = `${p.label.toLowerCase()}: ${p.help.replace(/\.$/, '').replace(/^./, (l) => l.toLowerCase())}; ${range}${more}`;
  if (kind === 'needed') return c.requiredOption(flag, says, read);
  return kind === 'usual' ? c.option(flag, says, read, p.default) : c.option(flag, says, read);
}
