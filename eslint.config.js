import eslint from '@eslint/js';
import angular from 'angular-eslint';
import boundaries from 'eslint-plugin-boundaries';
import { defineConfig } from 'eslint/config';
import typescript from 'typescript-eslint';

/**
 * The house: what may import what, from the ground up. A package is entered through its `exports`, a folder through its
 * `index.ts`; nobody imports an app. Each row may use those that it names, and itself.
 */
const CORE_FLOORS = [
  ['time', 'units', 'colour'],
  ['space', 'curve'],
  ['optics', 'exposure', 'light'],
  ['model'],
  ['set'],
  ['camera'],
  ['sequence'],
  ['framing', 'comfort'],
  ['continuity'],
  ['edits'],
  ['checks', 'facts'],
  ['output'],
  ['wire'],
];
const WEB_FLOORS = [
  ['data'],
  ['session'],
  ['drawing', 'ui'],
  ['readiness'],
  ['features/interchange'],
  ['features/set'],
  ['features/cameras'],
  ['features/moves'],
  ['features/sequence'],
  ['features/looks'],
  ['features/review'],
  ['views'],
  ['actions'],
  ['shell'],
];
/** Above them stands only `main.ts`. Features know nothing of each other: `house/` opens them, and its door names none. */
const SERVER_FLOORS = [
  ['problem'],
  ['turns'],
  ['files'],
  ['database'],
  ['events', 'http', 'media', 'queue', 'room'],
  ['projects'],
  ['ground'],
  [
    ...['features/by-name', 'features/events', 'features/frames-tables', 'features/geometry', 'features/luts'],
    ...['features/pictures', 'features/projects', 'features/renders', 'features/room', 'features/sounds'],
  ],
  ['house'],
];
const PACKAGES = {
  core: [],
  stage: ['core'],
  interchange: ['core'],
  renderer: ['core', 'stage', 'interchange'],
  server: ['core', 'interchange'],
  web: ['core', 'stage', 'interchange', 'renderer'],
};
const SOURCES = {
  core: 'packages/core/src',
  stage: 'packages/stage/src',
  interchange: 'packages/interchange/src',
  renderer: 'packages/renderer/src',
  server: 'apps/server/src',
  web: 'apps/web/src/app',
};

/** Imported by name it brings its messages in every language, a tenth of what a page has to fetch first. */
const WHOLE_ZOD = "Write `import * as z from 'zod'`, which brings only what is used.";

const AFTER_A_WAIT = ':matches(:statement:has(AwaitExpression), VariableDeclaration:has(AwaitExpression)) ~ *';
const SETS_A_SIGNAL =
  "CallExpression[callee.property.name=/^(set|update)$/][callee.object.type='MemberExpression'][callee.object.object.type='ThisExpression'][arguments.length=1]";

const EVERYWHERE = [
  {
    selector: "ImportDeclaration[source.value='zod'][importKind='value'] > ImportSpecifier[imported.name='z']",
    message: WHOLE_ZOD,
  },
  {
    selector: 'ObjectExpression > SpreadElement > ObjectExpression',
    message:
      'Write its fields by themselves: a literal that is spread hides those that are too many from the compiler.',
  },
];

/** A room is entered by its index; a room of one file is that file. */
const FACE = '{index.ts,*/index.ts}';
const ANY_FILE = '**';

/** The rooms of a package's floors as elements, and for each which it may use: all on the floors below it. */
function floors(house, rows, face = FACE) {
  const type = (name) => `${house}/${name}`;
  return {
    elements: rows.flat().map((name) => ({ type: type(name), pattern: `${SOURCES[house]}/${name}` })),
    policies: rows.flatMap((row, floor) =>
      row.map((name) => ({
        from: { element: { type: type(name) } },
        allow: { to: { element: { type: rows.slice(0, floor).flat().map(type), fileInternalPath: face } } },
      })),
    ),
  };
}
const FLOORS = {
  core: floors('core', CORE_FLOORS),
  web: floors('web', WEB_FLOORS),
  server: floors('server', SERVER_FLOORS, ANY_FILE),
};

/** Packages of ours that a house may not open, and ways round their doors. */
const strangers = (house, uses) => [
  {
    group: Object.keys(PACKAGES)
      .filter((other) => !uses.includes(other))
      .flatMap((other) => [`@arvex/${other}`, `@arvex/${other}/*`]),
    message: `${house} imports ${uses.join(', ') || 'nothing of ours'}.`,
  },
  { group: ['**/packages/*/src/**', '**/apps/*/src/**'], message: 'A package is entered through its exports.' },
];
const nothingOf = (message, ...group) => [{ group, message }];
const WITHOUT_PLATFORM = nothingOf(
  'It knows no interface, no server and no files.',
  '@angular/*',
  'rxjs',
  'node:*',
  'fastify',
);
/** What of the world outside a house may not use. */
const OUTSIDE = {
  core: WITHOUT_PLATFORM,
  stage: WITHOUT_PLATFORM,
  interchange: WITHOUT_PLATFORM,
  renderer: WITHOUT_PLATFORM,
  server: nothingOf('The server draws nothing.', '@angular/*', 'three', 'rxjs'),
  web: nothingOf('A page has no server and no files.', 'node:*', 'fastify'),
};

/** A project changes in one place of the page; everybody else shows an edit by its preview, or asks for it. */
const WRITING = {
  web: [
    {
      group: ['@arvex/core'],
      importNames: ['applied', 'applyChange'],
      message: 'Only the project store applies changes; ask it to, or show what an edit would do with `previewed`.',
    },
  ],
};

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
    files: ['apps/web/public/*.js'],
    languageOptions: { globals: { document: 'readonly', localStorage: 'readonly', sessionStorage: 'readonly' } },
  },
  {
    files: ['**/*.ts'],
    extends: typed,
    languageOptions: {
      parserOptions: {
        project: 'tsconfig.json',
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
      'no-restricted-syntax': ['error', ...EVERYWHERE],
    },
  },
  {
    // What is set after a wait may be about a project or a camera that was left meanwhile.
    files: ['apps/web/src/app/data/**/*.ts', 'apps/web/src/app/session/**/*.ts'],
    rules: {
      'no-restricted-syntax': [
        'error',
        ...EVERYWHERE,
        {
          selector: `MethodDefinition[value.async=true] ${AFTER_A_WAIT} ${SETS_A_SIGNAL}`,
          message:
            'A signal that is set after an await may be set too late: let a stream carry it (switchMap), or ask first whether it is still wanted.',
        },
      ],
    },
  },
  ...Object.keys(FLOORS).map((house) => ({
    files: [`${SOURCES[house]}/**/*.ts`],
    plugins: { boundaries },
    settings: {
      'boundaries/elements': FLOORS[house].elements,
      'import/resolver': { node: { extensions: ['.ts'] } },
    },
    rules: {
      'boundaries/dependencies': [
        'error',
        {
          default: 'disallow',
          message:
            'From a room one goes only to those below it, and in by their index where they have one. The floors stand in eslint.config.js.',
          policies: FLOORS[house].policies,
        },
      ],
    },
  })),
  ...Object.entries(PACKAGES).map(([house, uses]) => ({
    files: [`${house === 'web' ? 'apps/web/src' : SOURCES[house]}/**/*.ts`],
    rules: {
      'no-restricted-imports': [
        'error',
        { patterns: [...strangers(house, uses), ...OUTSIDE[house], ...(WRITING[house] ?? [])] },
      ],
    },
  })),
  {
    files: ['apps/web/src/app/data/project-store.ts'],
    rules: { 'no-restricted-imports': ['error', { patterns: [...strangers('web', PACKAGES.web), ...OUTSIDE.web] }] },
  },
  {
    files: ['packages/core/src/**/*.ts'],
    rules: {
      'no-restricted-globals': ['error', 'window', 'document', 'fetch', 'process', 'performance', 'crypto'],
      'no-restricted-properties': [
        'error',
        { object: 'Math', property: 'random', message: 'Randomness comes from a seed.' },
        { object: 'Date', property: 'now', message: 'The core has no clock.' },
      ],
    },
  },
  {
    files: ['apps/web/src/**/*.ts'],
    extends: [...angular.configs.tsRecommended],
    processor: angular.processInlineTemplates,
    rules: {
      '@angular-eslint/directive-selector': ['error', { type: 'attribute', prefix: 'arvex', style: 'camelCase' }],
      '@angular-eslint/component-selector': [
        'error',
        [
          { type: 'element', prefix: 'arvex', style: 'kebab-case' },
          { type: 'attribute', prefix: 'arvex', style: 'camelCase' },
        ],
      ],
    },
  },
  {
    files: ['apps/web/src/**/*.html'],
    extends: [...angular.configs.templateRecommended, ...angular.configs.templateAccessibility],
    rules: {
      // An icon button's content is its icon, which it makes itself.
      '@angular-eslint/template/elements-content': ['error', { allowList: ['arvexIconButton'] }],
    },
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
