import { newProject } from '@arvex/core';
import type { FastifyInstance } from 'fastify';
import { randomUUID } from 'node:crypto';
import { mkdir } from 'node:fs/promises';
import { createServer, Socket } from 'node:net';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { databaseProblem, withoutWork } from './database/connection';
import { MariadbProcess } from './database/mariadb-process';
import { keepBeforeUpgrade, noteForm } from './database/migrate';
import { measureInThread } from './features/geometry/measure-geometry';
import { loadDemo } from './features/projects/load-demo';
import { mixInThread } from './features/renders/mix-frame';
import { RenderNodes } from './features/renders/render-nodes';
import { buildApp } from './house/app';
import type { Ground } from './ground/ground';
import { lockDirectory } from './lock-directory';
import type { House } from './house/open-house';
import { openHouse } from './house/open-house';
import type { StartOptions } from './options';
import { HELP, readOptions } from './options';
import { endIfItHangs } from './watchdog';

/** Root of the repository, seen from the built file in `apps/server/dist`. */
const ROOT = join(import.meta.dirname, '../../..');
const HOST = '127.0.0.1';

/** Everything is stopped within this, whatever hangs, milliseconds. */
const STOPPED_WITHIN_MS = 14_000;
/** Requests that are under way have so long to end, milliseconds. */
const REQUESTS_END_MS = 2500;

/** Exit codes: asked to stop, could not start, and died after it was up (`./start` starts it again then). */
const [ENDED, NOT_STARTED, DIED] = [0, 1, 70] as const;

/** Starts database and server, and stops both again at Ctrl+C. */
async function main(): Promise<void> {
  const options = readOptions(process.argv.slice(2), process.env);
  if (options === 'help') {
    console.log(HELP);
    return;
  }
  await mustBeFree(options.port);
  await mkdir(options.dataDirectory, { recursive: true, mode: 0o700 });
  await lockDirectory(options.dataDirectory, process.env);
  endIfItHangs();
  const running: Running = {};
  const starting = new AbortController();
  let stopping: Promise<void> | undefined;
  const stop = (code: number): Promise<void> => {
    starting.abort(new Error('It was asked to stop.'));
    return (stopping ??= stopAll(running).finally(() => process.exit(code)));
  };
  // From here on, before anything is started: whoever asks meanwhile leaves nothing behind.
  goWith(process.env['ARVEX_HELD_BY'], () => void stop(DIED));
  for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) process.on(signal, () => void stop(ENDED));
  for (const kind of ['uncaughtException', 'unhandledRejection'] as const) {
    process.on(kind, (error: unknown) => {
      console.error(kind, withoutWork(error));
      void stop(DIED);
    });
  }
  const directory = join(options.dataDirectory, 'database');
  try {
    running.starting = MariadbProcess.start(directory, {
      onGivenUp: (reason) => {
        console.error(reason);
        void stop(DIED);
      },
      beforeOpening: keepBeforeUpgrade,
      signal: starting.signal,
    });
    running.database = await running.starting;
    running.house = await openHouse({
      address: running.database.address,
      dataDirectory: options.dataDirectory,
      outputDirectory: options.outputDirectory,
      measure: measureInThread,
      mix: mixInThread,
      processName: `server-${options.port}`,
    });
    await noteForm(directory);
    await firstStart(options, running.house.ground);
    running.app = await buildApp(running.house, join(ROOT, 'apps/web/dist/browser'));
    starting.signal.throwIfAborted();
    await running.app.listen({ host: HOST, port: options.port });
    running.nodes = new RenderNodes();
    running.nodes.start(options.renderers, `http://${HOST}:${options.port}`, (reason) => console.error(reason));
  } catch (error) {
    if (!stopping) console.error(inASentence(error));
    await stop(NOT_STARTED);
  }
  console.log(`Arvex is at http://${HOST}:${options.port}/`);
}

/** Stops when `./start` is gone, by whatever, which holds the other end of this pipe. */
function goWith(descriptor: string | undefined, stop: () => void): void {
  if (descriptor === undefined) return;
  const holder = new Socket({ fd: Number(descriptor), readable: true, writable: false });
  holder.on('close', stop).on('error', () => undefined);
  holder.resume().unref();
}

/** What has been started so far. */
interface Running {
  starting?: Promise<MariadbProcess>;
  database?: MariadbProcess;
  house?: House;
  app?: FastifyInstance;
  nodes?: RenderNodes;
}

/** Stops what runs, the database last; what hangs is left behind after a while, and the database then killed. */
async function stopAll({ app, house, starting, nodes }: Running): Promise<void> {
  const late = setTimeout(() => process.exit(DIED), STOPPED_WITHIN_MS);
  const within = (work: Promise<unknown> | undefined) =>
    Promise.race([work?.catch(() => undefined), sleep(REQUESTS_END_MS, undefined, { ref: false })]);
  await within(nodes?.close());
  await within(app?.close());
  await within(house?.close());
  const database = await starting?.catch(() => undefined);
  await database?.stop();
  clearTimeout(late);
}

/** An error of the start as one sentence with a way out. */
function inASentence(error: unknown): string {
  const { code, message } = error as NodeJS.ErrnoException;
  const full = databaseProblem(error)?.code === 'disk-full' || code === 'ENOSPC';
  return full ? 'The disk is full. Make room on it and start again.' : message;
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

async function firstStart({ first }: StartOptions, ground: Ground): Promise<void> {
  const { total } = await ground.projects.list(0, 1);
  if (total > 0 || first === 'nothing') return;
  if (first === 'demo') await loadDemo(join(ROOT, 'demo/made'), ground);
  else {
    const lightGroups = { outside: randomUUID(), lamps: randomUUID() };
    const ids = { project: randomUUID(), set: randomUUID(), sequence: randomUUID(), lightGroups };
    await ground.projects.create(newProject(ids, 'Untitled'));
  }
}

main().catch((error: unknown) => {
  console.error(inASentence(error));
  process.exit(NOT_STARTED);
});
