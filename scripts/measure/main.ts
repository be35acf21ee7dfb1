// npm run measure: all stages against the truth pictures, or with a word after it only that table.
const table = process.argv[2];
await import(table === 'cuts' ? './cuts/index' : './index');

export {};
