import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { parametersPage } from './table';

writeFileSync(join(import.meta.dirname, '../../docs/parameters.md'), parametersPage());
