import { parentPort } from 'node:worker_threads';
import { runTask, type Task } from '@ritaglio/core';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { collectLarge } from './collecting';

expose(
  {
    runTask: async (task: Task): Promise<void> => {
      await runTask(task);
      collectLarge();
    },
  },
  nodeEndpoint(parentPort!),
);
