import { writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { afterAll, expect } from 'vitest';

/** Places that the tests of a file come by, while that is recorded (`mutate.config.ts`). */
const comeBy = new Set<number>();
const since = performance.now();

if (process.env['ARVEX_MUTANT'] === 'record') {
  Object.assign(globalThis, { comeBy });
  afterAll(() => {
    const path = expect.getState().testPath ?? '';
    const said = { path, ms: performance.now() - since, hits: [...comeBy] };
    writeFileSync(join(dirname(process.env['ARVEX_MUTANTS'] ?? ''), `${basename(path)}.hits`), JSON.stringify(said));
  });
}
