import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { TestProject } from 'vitest/node';
import type { DatabaseAddress } from '../src/database/mariadb-process';
import { MariadbProcess } from '../src/database/mariadb-process';

declare module 'vitest' {
  interface ProvidedContext {
    address: DatabaseAddress;
  }
}

/** One real database for all server tests, on loopback, in a directory of its own. */
export default async function setup(project: TestProject): Promise<() => Promise<void>> {
  const directory = await mkdtemp(join(tmpdir(), 'arvex-test-'));
  const database = await MariadbProcess.start(join(directory, 'database'), { alsoDatabases: ['test\\_%'] });
  project.provide('address', database.address);
  return async () => {
    await database.stop();
    await rm(directory, { recursive: true, force: true });
  };
}
