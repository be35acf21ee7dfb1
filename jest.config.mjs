const compile = (module) => [
  '@swc/jest',
  {
    jsc: { target: 'es2022', parser: { syntax: 'typescript', tsx: true }, transform: { react: { runtime: 'automatic' } } },
    module: { type: module },
  },
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
      // The computation reaches for Math in its inner loops; looked up through the sandbox it would be ten times slower.
      sandboxInjectedGlobals: ['Math'],
      transform: { '^.+\\.m?[jt]sx?$': compile('commonjs') },
      // Packages that are ES modules only.
      transformIgnorePatterns: ['/node_modules/(?!(fast-png|iobuffer|culori|tiff|pdfjs-dist)/)'],
    },
    {
      displayName: 'browser',
      modulePathIgnorePatterns: ['<rootDir>/packages/core/dist'],
      testMatch: ['<rootDir>/e2e/**/*.test.ts'],
      sandboxInjectedGlobals: ['Math'],
      transform: { '^.+\\.m?[jt]sx?$': compile('commonjs') },
      transformIgnorePatterns: ['/node_modules/(?!(fast-png|iobuffer|culori|tiff|pdfjs-dist|mediabunny)/)'],
    },
  ],
};
