import { existsSync, readdirSync } from 'node:fs';
import eslintVue from 'eslint-plugin-vue';
import * as regexp from 'eslint-plugin-regexp';
import jsdoc from 'eslint-plugin-jsdoc';
import globals from 'globals';
import tseslint from 'typescript-eslint';

/** Folders of code that reads what strangers send. One that is not there would make the rule check nothing. */
const LINEAR = [
  ...['rights', 'text', 'coverage', 'face', 'product', 'drawn', 'webkit'].map((f) => `packages/core/src/${f}`),
  'packages/node/src',
  'apps/server/src/platform',
  ...readdirSync(new URL('apps/server/src/features', import.meta.url)).map((f) => `apps/server/src/features/${f}`),
  'apps/cli/src',
];
for (const folder of LINEAR)
  if (!existsSync(new URL(folder, import.meta.url))) throw new Error(`eslint.config.mjs names ${folder}, which is not there.`);

export default tseslint.config(
  {
    ignores: [
      'packages/core/src/unicode/data/languages.ts',
      'packages/core/src/face/data/kind-model.ts',
      'packages/core/src/rights/data/harmless-words.ts',
      'packages/core/src/match/data/alike-model.ts',
      '**/dist/**',
      '**/node_modules/**',
      '.data/**',
      '.test/**',
      'test-results/**',
    ],
  },
  ...tseslint.configs.recommended,
  ...eslintVue.configs['flat/recommended'],
  {
    rules: {
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-explicit-any': 'error',
      eqeqeq: 'error',
      'no-console': ['error', { allow: ['error', 'log'] }],
      'prefer-const': 'error',
    },
  },
  {
    // The core is a computation: no page, no network, no clock, no process.
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    rules: {
      'no-console': 'error',
      'no-restricted-globals': [
        'error',
        'window',
        'document',
        'navigator',
        'fetch',
        'XMLHttpRequest',
        'localStorage',
        'process',
        'Buffer',
        'setTimeout',
        'setInterval',
        'require',
        '__dirname',
        'Date',
      ],
    },
  },
  {
    // What the core gives away says what goes in and comes out; what is told by the types is not said again.
    files: ['packages/core/src/**/*.ts'],
    ignores: ['**/*.test.ts'],
    plugins: { jsdoc },
    settings: { jsdoc: { mode: 'typescript' } },
    rules: {
      'jsdoc/require-jsdoc': [
        'error',
        {
          publicOnly: true,
          enableFixer: false,
          require: { FunctionDeclaration: true, ClassDeclaration: true, ArrowFunctionExpression: false, MethodDefinition: false },
          contexts: ['ExportNamedDeclaration > VariableDeclaration > VariableDeclarator > ArrowFunctionExpression'],
        },
      ],
      // Only what throws by itself is seen; what it calls is a matter of reading.
      'jsdoc/require-throws': 'error',
      'jsdoc/require-description': ['error', { contexts: ['FunctionDeclaration', 'ClassDeclaration'] }],
    },
  },
  {
    // Code that reads what strangers send: no regular expression may take more than linear time.
    files: LINEAR.map((folder) => `${folder}/**/*.ts`),
    ignores: ['**/*.test.ts'],
    plugins: { regexp },
    rules: { 'regexp/no-super-linear-backtracking': ['error', { report: 'certain' }] },
  },
  {
    files: ['**/*.vue'],
    languageOptions: { parserOptions: { parser: tseslint.parser }, globals: globals.browser },
    rules: {
      // Prettier decides on line breaks.
      'vue/max-attributes-per-line': 'off',
      'vue/singleline-html-element-content-newline': 'off',
      'vue/multiline-html-element-content-newline': 'off',
      'vue/html-indent': 'off',
      'vue/html-self-closing': 'off',
      'vue/html-closing-bracket-newline': 'off',
      'vue/first-attribute-linebreak': 'off',
      'vue/require-default-prop': 'off',
    },
  },
  { files: ['**/*.mjs', '**/*.js', '**/*.cjs'], languageOptions: { globals: { ...globals.node, ...globals.browser } } },
);
