const compile = (module) => [
  '@swc/jest',
  {
    jsc: {
      target: 'es2022',
      parser: { syntax: 'typescript', tsx: true },
      transform: { react: { runtime: 'automatic' }, optimizer: { globals: { vars: { Infinity: '1/0', NaN: '0/0' } } } },
    },
    module: { type: module },
  },
];

/** What inner loops reach for: looked up through the sandbox each time it would take a hundred times as long. */
const reachedFor = [
  'Math',
  'Number',
  'Array',
  'Uint8Array',
  'Uint8ClampedArray',
  'Int8Array',
  'Uint16Array',
  'Int16Array',
  'Uint32Array',
  'Int32Array',
  'Float32Array',
  'Float64Array',
];

export default {
  testTimeout: 300_000,
  projects: [
    {
      displayName: 'unit',
      // The packed core has a package.json of the same name.
      modulePathIgnorePatterns: ['<rootDir>/packages/core/dist'],
      setupFilesAfterEnv: ['<rootDir>/scripts/jestEquality.js'],
      testMatch: ['<rootDir>/packages/*/src/**/*.test.ts', '<rootDir>/scripts/**/*.test.ts', '<rootDir>/packages/*/src/**/*.test.tsx'],
      sandboxInjectedGlobals: reachedFor,
      transform: { '^.+\\.m?[jt]sx?$': compile('commonjs') },
      // Packages that are ES modules only.
      transformIgnorePatterns: ['/node_modules/(?!(fast-png|iobuffer|culori|tiff|pdfjs-dist)/)'],
    },
    {
      displayName: 'browser',
      modulePathIgnorePatterns: ['<rootDir>/packages/core/dist'],
      testMatch: ['<rootDir>/e2e/**/*.test.ts'],
      sandboxInjectedGlobals: reachedFor,
      transform: { '^.+\\.m?[jt]sx?$': compile('commonjs') },
      transformIgnorePatterns: ['/node_modules/(?!(fast-png|iobuffer|culori|tiff|pdfjs-dist|mediabunny)/)'],
    },
  ],
};
