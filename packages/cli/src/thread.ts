import { parentPort } from 'node:worker_threads';
import { join } from '@ritaglio/core';
import { expose } from 'comlink';
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs';

expose({ join }, nodeEndpoint(parentPort!));
