import * as Comlink from 'comlink';
import { archiveWork } from './archiveWork';

Comlink.expose(archiveWork);
