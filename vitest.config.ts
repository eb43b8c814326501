import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const source = (path: string) => fileURLToPath(new URL(path, import.meta.url));
const alias = [
  { find: /^@arvex\/(core|stage|interchange|renderer)$/, replacement: source('./packages') + '/$1/src/index.ts' },
  {
    find: /^@arvex\/(core|stage|interchange|renderer)\/(.+)$/,
    replacement: source('./packages') + '/$1/src/$2/index.ts',
  },
];

/** Two shared processors stop for seconds now and then; nothing here is about how long it takes. */
const UNHURRIED_MS = 60_000;

/** What keeps nothing between tests needs no modules of its own for each file: bringing them in takes longer than many a file's tests. */
const TOGETHER = { isolate: false };

/** What draws cases draws the same in every run. */
const seed = source('./test/seed.ts');

export default defineConfig({
  test: {
    projects: [
      { test: { ...TOGETHER, name: 'house', include: ['test/**/*.test.ts'], testTimeout: 60_000 } },
      {
        resolve: { alias },
        test: {
          ...TOGETHER,
          name: 'core',
          setupFiles: [seed],
          testTimeout: UNHURRIED_MS,
          include: ['packages/core/test/**/*.test.ts'],
        },
      },
      {
        resolve: { alias },
        test: {
          ...TOGETHER,
          name: 'stage',
          setupFiles: [seed],
          testTimeout: UNHURRIED_MS,
          include: ['packages/stage/test/**/*.test.ts'],
        },
      },
      {
        resolve: { alias },
        test: {
          ...TOGETHER,
          name: 'interchange',
          setupFiles: [seed],
          testTimeout: UNHURRIED_MS,
          environment: 'jsdom',
          include: ['packages/interchange/test/**/*.test.ts'],
        },
      },
      {
        resolve: { alias },
        test: {
          ...TOGETHER,
          name: 'renderer',
          testTimeout: UNHURRIED_MS,
          include: ['packages/renderer/test/**/*.test.ts'],
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'web',
          testTimeout: UNHURRIED_MS,
          environment: 'jsdom',
          setupFiles: ['apps/web/test/setup.ts'],
          include: ['apps/web/test/**/*.test.ts'],
        },
      },
      {
        resolve: { alias },
        test: {
          name: 'server',
          setupFiles: [seed],
          include: ['apps/server/test/**/*.test.ts'],
          globalSetup: ['apps/server/test/start-database.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
