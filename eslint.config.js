import eslint from '@eslint/js';
import angular from 'angular-eslint';
import { defineConfig } from 'eslint/config';
import typescript from 'typescript-eslint';

/** Which of our own rooms a room may not open, as patterns of import paths. */
const doors = (message, ...patterns) => ({
  'no-restricted-imports': ['error', { patterns: [{ group: patterns, message }] }],
});

const typed = [
  eslint.configs.recommended,
  ...typescript.configs.recommendedTypeChecked,
  ...typescript.configs.stylisticTypeChecked,
];

export default defineConfig(
  {
    ignores: [
      '**/dist/**',
      '**/.angular/**',
      '**/node_modules/**',
      'demo/made/**',
      'test-results/**',
      'playwright-report/**',
    ],
  },
  {
    files: ['**/*.js', '**/*.mjs'],
    extends: [eslint.configs.recommended],
    languageOptions: { globals: { console: 'readonly', process: 'readonly', URL: 'readonly' } },
  },
  {
    files: ['**/*.ts'],
    extends: typed,
    languageOptions: {
      parserOptions: {
        project: [
          'tsconfig.json',
          'packages/core/tsconfig.json',
          'apps/web/tsconfig.app.json',
          'apps/web/tsconfig.worker.json',
          'apps/web/tsconfig.test.json',
        ],
        tsconfigRootDir: import.meta.dirname,
      },
    },
    rules: {
      '@typescript-eslint/consistent-type-imports': 'error',
      '@typescript-eslint/no-non-null-assertion': 'error',
      '@typescript-eslint/no-unused-vars': ['error', { argsIgnorePattern: '^_', varsIgnorePattern: '^_' }],
      '@typescript-eslint/restrict-template-expressions': ['error', { allowNumber: true }],
      '@typescript-eslint/prefer-nullish-coalescing': ['error', { ignorePrimitives: { string: true } }],
      '@typescript-eslint/non-nullable-type-assertion-style': 'off',
      '@typescript-eslint/unbound-method': 'off',
      '@typescript-eslint/require-await': 'off',
      'no-console': ['error', { allow: ['error'] }],
    },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    rules: {
      ...doors(
        'The core imports nothing of ours, no interface, no input or output.',
        '@arvex/*',
        '@angular/*',
        'rxjs',
        'node:*',
        'fastify',
      ),
      'no-restricted-globals': ['error', 'window', 'document', 'fetch', 'process', 'performance', 'crypto'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness comes from a seed.' },
        { object: 'Date', property: 'now', message: 'The core has no clock.' },
      ],
    },
  },
  {
    files: ['packages/stage/src/**/*.ts'],
    rules: doors(
      'The stage imports the core and no other room.',
      '@arvex/server',
      '@arvex/web',
      '@angular/*',
      'rxjs',
      'node:*',
    ),
  },
  {
    files: ['apps/server/src/**/*.ts'],
    rules: doors('The server imports the core and no other room.', '@arvex/stage', '@arvex/web', '@angular/*', 'three'),
  },
  {
    files: ['apps/web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      ...doors(
        'The web imports the core and the stage only through their front doors.',
        '@arvex/server',
        'node:*',
        'fastify',
        '**/packages/**',
      ),
      '@angular-eslint/directive-selector': ['error', { type: 'attribute', prefix: 'arvex', style: 'camelCase' }],
      '@angular-eslint/component-selector': ['error', { type: 'element', prefix: 'arvex', style: 'kebab-case' }],
    },
  },
  {
    files: ['apps/web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
  },
  {
    files: ['**/test/**/*.ts', 'e2e/**/*.ts', 'bench/**/*.ts', 'demo/**/*.ts', 'apps/server/src/main.ts'],
    rules: {
      'no-console': 'off',
      '@typescript-eslint/no-non-null-assertion': 'off', // what is not there fails the test by itself
      '@typescript-eslint/no-unsafe-assignment': 'off',
      '@typescript-eslint/no-unsafe-member-access': 'off',
    },
  },
);
