import { runTask } from '@ritaglio/core';
import * as Comlink from 'comlink';

Comlink.expose({ runTask });
