import { parentPort } from 'node:worker_threads';
import { runTask, type Task } from '@ritaglio/core';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { collectLarge } from './collecting';

/** Who has had nothing to do for so long lets go of what it worked on, ms. */
const rest = 150;
let resting: NodeJS.Timeout | undefined;

expose(
  {
    runTask: async (task: Task): Promise<void> => {
      clearTimeout(resting);
      await runTask(task);
      collectLarge();
      resting = setTimeout(() => collectLarge(true), rest);
    },
  },
  nodeEndpoint(parentPort!),
);
