// npm run measure: all stages against the truth pictures, or with a word after it only that table.
const tables: Record<string, () => Promise<unknown>> = {
  stages: () => import('./index'),
  default: () => import('./byDefault'),
  cuts: () => import('./cuts/index'),
  clips: () => import('./clips/index'),
  checks: () => import('./checks'),
};
const word = process.argv[2] as string | undefined;
if (word !== undefined && !(word in tables)) {
  console.error(`There is no table “${word}”; there are ${Object.keys(tables).join(', ')}.`);
  process.exit(2);
}
for (const table of word === undefined ? ['stages', 'default'] : [word]) await tables[table]();

export {};
