import { fork, spawnSync, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { join } from 'node:path';

const root = join(__dirname, '../../../..');

/** What a command wrote, and the code it ended with. */
export interface Ended {
  code: number | null;
  out: string;
  err: string;
}

/** A command in a process of its own, as it is called from a terminal. */
export function spawned(...args: string[]): Ended {
  const r = spawnSync(process.execPath, [join(root, 'packages/cli/bin/ritaglio.mjs'), ...args], { cwd: root, encoding: 'utf8' });
  return { code: r.status, out: r.stdout, err: r.stderr };
}

/** Runs commands one after the other in one process, so that a suite begins it once. */
export class Terminal {
  private child: Promise<ChildProcess> | undefined;

  /** Begins the process, or gives the one that runs. */
  private begun(): Promise<ChildProcess> {
    this.child ??= (async () => {
      const child = fork(join(root, 'packages/cli/src/testing/child.mjs'), { cwd: root, execArgv: [] });
      await once(child, 'message');
      return child;
    })();
    return this.child;
  }

  async run(...args: string[]): Promise<Ended> {
    const child = await this.begun();
    const ended = once(child, 'message');
    const gone = once(child, 'exit').then(([code]) =>
      Promise.reject(new Error(`the process ended with ${String(code)} at: ${args.join(' ')}`)),
    );
    child.send(args);
    const [answer] = (await Promise.race([ended, gone])) as [Ended];
    gone.catch(() => undefined);
    return answer;
  }

  async close(): Promise<void> {
    (await this.child)?.kill();
  }
}
