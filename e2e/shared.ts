import { test as base } from '@playwright/test';
import { Arvex } from './arvex';

/**
 * Tests of a file that stops and kills nothing. One server serves all such files of a process, each in a project of its own; after a
 * failure the next file has a new one.
 */
export const test = base.extend<object, { served: Arvex }>({
  served: [
    // eslint-disable-next-line no-empty-pattern -- the runner reads from the pattern what a fixture wants: nothing here
    async ({}, use) => {
      const arvex = await Arvex.start();
      await use(arvex);
      await arvex.down();
    },
    { scope: 'worker', timeout: 120_000 },
  ],
});
