import { newProject } from '@arvex/core';
import type { FastifyInstance } from 'fastify';
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { createServer } from 'node:net';
import { join } from 'node:path';
import { MariadbProcess } from './database/mariadb-process';
import { measureInThread } from './features/geometry/measure-geometry';
import { loadDemo } from './features/projects/load-demo';
import { buildApp } from './http/app';
import { openServices } from './open-services';
import type { StartOptions } from './options';
import { HELP, readOptions } from './options';
import type { Services } from './services';

/** Root of the repository, seen from the built file in `apps/server/dist`. */
const ROOT = join(import.meta.dirname, '../../..');
const HOST = '127.0.0.1';

/** Starts database and server, and stops both again at Ctrl+C. */
async function main(): Promise<void> {
  const options = readOptions(process.argv.slice(2), process.env);
  if (options === 'help') {
    console.log(HELP);
    return;
  }
  await mustBeFree(options.port);
  await mkdir(options.dataDirectory, { recursive: true, mode: 0o700 });
  let stop: (code: number) => Promise<void> = async () => undefined;
  const database = await MariadbProcess.start(join(options.dataDirectory, 'database'), (reason) => {
    console.error(reason);
    void stop(1);
  });
  let services: Awaited<ReturnType<typeof openServices>> | undefined;
  let app: FastifyInstance | undefined;
  let stopping = false;
  stop = async (code) => {
    if (stopping) return;
    stopping = true;
    await app?.close();
    await services?.close();
    await database.stop();
    process.exit(code);
  };
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop(0));
  try {
    services = await openServices({
      address: database.address,
      dataDirectory: options.dataDirectory,
      measure: measureInThread,
    });
    await firstStart(options, services);
    app = await buildApp(services, join(ROOT, 'apps/web/dist/browser'));
    await app.listen({ host: HOST, port: options.port });
  } catch (error) {
    console.error((error as Error).message);
    await stop(1);
  }
  console.log(`Arvex is at http://${HOST}:${options.port}/`);
}

/** Said before anything is started, so that nothing is half started. */
function mustBeFree(port: number): Promise<void> {
  return new Promise((resolve, reject) => {
    const probe = createServer();
    probe.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        new Error(
          error.code === 'EADDRINUSE'
            ? `Port ${port} is taken by another program. Choose another one with --port.`
            : `Port ${port} cannot be used: ${error.message}.`,
        ),
      ),
    );
    probe.listen(port, HOST, () => probe.close(() => resolve()));
  });
}

async function firstStart({ first }: StartOptions, services: Services): Promise<void> {
  const { total } = await services.projects.list(0, 1);
  if (total > 0 || first === 'nothing') return;
  if (first === 'demo') await loadDemo(join(ROOT, 'demo/made'), services);
  else {
    const ids = { project: randomUUID(), set: randomUUID(), sequence: randomUUID() };
    await services.projects.create(newProject(ids, 'Untitled'));
  }
}

main().catch((error: unknown) => {
  console.error((error as Error).message);
  process.exit(1);
});
