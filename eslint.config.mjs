import boundaries from 'eslint-plugin-boundaries';
import hooks from 'eslint-plugin-react-hooks';
import tseslint from 'typescript-eslint';

/** Inside core: which folder may use which. render stands on everything, raster on nothing. */
const low = ['runtime', 'raster', 'colour', 'align', 'testing'];
const stages = ['matte', 'plate', 'lens', 'grade', 'match', 'placement', 'proof'];
const core = (name) => ({
  type: `core-${name}`,
  pattern: `packages/core/src/${name}/**`,
  partialMatch: false,
});

const allow = (from, to) => ({ from: { element: { type: from } }, allow: { to: { element: { type: to } } } });

export default tseslint.config(
  { ignores: ['**/dist/', 'node_modules/', 'demo/', 'coverage/', 'packages/core/assembly/'] },
  ...tseslint.configs.recommended,
  {
    files: ['**/*.ts', '**/*.tsx'],
    plugins: { boundaries, 'react-hooks': hooks },
    settings: {
      'import/resolver': { typescript: { project: './tsconfig.json' } },
      'boundaries/elements': [
        ...[...low, ...stages, 'motion', 'recipe', 'render'].map(core),
        { type: 'core-index', pattern: ['packages/core/src', 'packages/core/src/entries/**'], partialMatch: false },
        { type: 'formats', pattern: 'packages/formats/src/**', partialMatch: false },
        { type: 'app', pattern: 'packages/app/src/**', partialMatch: false },
        { type: 'server', pattern: 'packages/server/src/**', partialMatch: false },
        { type: 'cli', pattern: 'packages/cli/src/**', partialMatch: false },
        { type: 'tools', pattern: '{e2e,scripts}/**', partialMatch: false },
      ],
    },
    rules: {
      ...hooks.configs.recommended.rules,
      '@typescript-eslint/consistent-type-imports': ['error', { fixStyle: 'inline-type-imports' }],
      '@typescript-eslint/no-non-null-assertion': 'off',
      eqeqeq: 'error',
      'no-console': ['error', { allow: ['error', 'log'] }],
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          policies: [
            allow('core-runtime', ['core-runtime', 'core-testing']),
            allow('core-raster', ['core-raster', 'core-runtime', 'core-testing']),
            allow('core-testing', ['core-raster', 'core-runtime']),
            allow('core-colour', ['core-colour', 'core-raster', 'core-runtime', 'core-testing']),
            allow('core-align', ['core-align', 'core-colour', 'core-raster', 'core-runtime', 'core-testing']),
            ...stages.map((s) => allow(`core-${s}`, [`core-${s}`, ...low.map((l) => `core-${l}`)])),
            allow('core-motion', ['core-motion', 'core-proof', 'core-matte', 'core-plate', ...low.map((l) => `core-${l}`)]),
            // What a match finds is a grade.
            allow('core-match', ['core-grade']),
            // Checks judge what the stages measure, and mend the recipe.
            allow('core-proof', ['core-match', 'core-grade', 'core-lens', 'core-plate', 'core-placement', 'core-recipe']),
            // The recipe is made of the stages' own parameters.
            allow('core-recipe', ['core-recipe', 'core-colour', 'core-matte', 'core-lens', 'core-grade', 'core-match', 'core-placement']),
            allow('core-render', ['core-render', 'core-recipe', ...[...low, ...stages, 'motion'].map((l) => `core-${l}`)]),
            allow(
              'core-index',
              [...low, ...stages, 'motion', 'recipe', 'render'].map((n) => `core-${n}`),
            ),
            allow('formats', ['formats', 'core-index']),
            allow('app', ['app', 'formats', 'core-index']),
            allow('cli', ['cli', 'formats', 'core-index']),
            allow('server', ['server']),
            // The made-up faults that checks are tried on are no part of what the core gives.
            allow('tools', ['tools', 'app', 'server', 'cli', 'formats', 'core-index', 'core-proof', 'core-motion']),
          ],
        },
      ],
    },
  },
);
