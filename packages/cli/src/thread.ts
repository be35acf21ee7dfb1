import { parentPort } from 'node:worker_threads';
import { runTask, type Task } from '@ritaglio/core';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';
import { collectLarge } from './collecting';

expose(
  {
    runTask: (task: Task): void => {
      runTask(task);
      collectLarge();
    },
  },
  nodeEndpoint(parentPort!),
);
