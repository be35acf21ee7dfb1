import { parentPort } from 'node:worker_threads';
import { runTask } from '@ritaglio/core';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';

expose({ runTask }, nodeEndpoint(parentPort!));
