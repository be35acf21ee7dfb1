import { join } from '@ritaglio/core';
import * as Comlink from 'comlink';

Comlink.expose({ join });
