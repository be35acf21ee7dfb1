/** @jest-environment node */
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { parametersPage } from './table';

test('docs/parameters.md says what the table says; npm run parameters writes it anew', () => {
  expect(readFileSync(join(__dirname, '../../docs/parameters.md'), 'utf8')).toBe(parametersPage());
});
