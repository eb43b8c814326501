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

export default defineConfig({
  test: {
    projects: [
      { test: { name: 'house', include: ['test/**/*.test.ts'], testTimeout: 60_000 } },
      {
        resolve: { alias },
        test: { name: 'core', testTimeout: UNHURRIED_MS, include: ['packages/core/test/**/*.test.ts'] },
      },
      {
        resolve: { alias },
        test: { name: 'stage', testTimeout: UNHURRIED_MS, include: ['packages/stage/test/**/*.test.ts'] },
      },
      {
        resolve: { alias },
        test: {
          name: 'interchange',
          testTimeout: UNHURRIED_MS,
          environment: 'jsdom',
          include: ['packages/interchange/test/**/*.test.ts'],
        },
      },
      {
        resolve: { alias },
        test: { name: 'renderer', testTimeout: UNHURRIED_MS, include: ['packages/renderer/test/**/*.test.ts'] },
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
          include: ['apps/server/test/**/*.test.ts'],
          globalSetup: ['apps/server/test/start-database.ts'],
          testTimeout: 120_000,
          hookTimeout: 120_000,
        },
      },
    ],
  },
});
