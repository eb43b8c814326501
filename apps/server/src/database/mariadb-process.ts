import { createConnection } from 'mysql2/promise';
import type { ChildProcess } from 'node:child_process';
import { spawn } from 'node:child_process';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, open, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { install, secretIn, userArguments } from './database-directory';
import { KILLED_MS, STOP_GRACE_MS, stopLeftOver } from './left-over';
import { whyNot } from './why-not';

/** How long the database may take to come up. */
const START_LIMIT_MS = 60_000;
const FIRST_PAUSE_MS = 300;
const LONGEST_PAUSE_MS = 10_000;
const RESTARTS_IN_A_ROW = 8;
/** A database that stayed up this long is not in a crash loop. */
const STEADY_MS = 30_000;
/** Longest path of a Unix socket, bytes with the closing zero (Linux, unix(7)). */
const SOCKET_PATH_LIMIT = 108;
export interface DatabaseAddress {
  readonly host: string;
  readonly port: number;
  readonly user: string;
  readonly password: string;
  readonly database: string;
}

export interface MariadbOptions {
  /** Called when it keeps dying. */
  readonly onGivenUp?: (reason: string) => void;
  /** Done once no other process has the data, before it is opened. `data` is where it is. */
  readonly beforeOpening?: (data: string) => Promise<void>;
  /** Other databases that the user may do everything with, as patterns of GRANT; none where it is left out. */
  readonly alsoDatabases?: readonly string[];
  /** Ends a start that is under way. */
  readonly signal?: AbortSignal;
}

/** Debian's MariaDB as a child of this process: on loopback only, with its own data directory, durable on every commit. */
export class MariadbProcess {
  private child: ChildProcess | undefined;
  private ready = false;
  private stopping = false;
  private restarts = 0;

  private constructor(
    private readonly directory: string,
    readonly address: DatabaseAddress,
    private readonly options: MariadbOptions,
  ) {}

  /**
   * Starts the database in `directory`, making it on the first start. A process left over from a killed server is
   * stopped first; one that dies later is started again.
   * @throws Error with one sentence that says what is wrong and what to do.
   */
  static async start(directory: string, options: MariadbOptions = {}): Promise<MariadbProcess> {
    await mkdir(directory, { recursive: true, mode: 0o700 });
    await stopLeftOver(directory);
    await install(directory);
    await options.beforeOpening?.(join(directory, 'data'));
    const password = await secretIn(directory);
    const port = await freePort();
    const address = { host: '127.0.0.1', port, user: 'arvex', password, database: 'arvex' };
    const database = new MariadbProcess(directory, address, options);
    options.signal?.throwIfAborted();
    try {
      await database.launch();
      options.signal?.throwIfAborted();
    } catch (error) {
      await database.stop();
      throw error;
    }
    return database;
  }

  /** Stops the database: cleanly where it can, within some 10 seconds in any case. */
  async stop(): Promise<void> {
    this.stopping = true;
    const { child } = this;
    if (!child || hasEnded(child)) return;
    // Asked to end while it starts, it would wait for ever in its own start: it is asked once it is ready, or killed.
    const deadline = Date.now() + STOP_GRACE_MS;
    while (!this.ready && !hasEnded(child) && Date.now() < deadline) await sleep(50);
    if (this.ready) await ended(child, 'SIGTERM', deadline - Date.now());
    await ended(child, 'SIGKILL', KILLED_MS);
  }

  private async launch(): Promise<void> {
    const initFile = join(this.directory, 'init.sql');
    await writeFile(initFile, initStatements(this.address, this.options.alsoDatabases ?? []), { mode: 0o600 });
    const log = await open(join(this.directory, 'log'), 'a', 0o600);
    const { size: begun } = await log.stat();
    const socket = await socketPath(this.directory);
    const child = spawn(daemonPath(), daemonArguments(this.directory, this.address.port, initFile, socket), {
      stdio: ['ignore', log.fd, log.fd],
      detached: true, // a Ctrl+C in the terminal must reach the server first, not the database
    });
    await log.close();
    this.ready = false;
    this.child = child;
    const since = Date.now();
    child.once('exit', () => this.afterExit(child, since));
    // A program that cannot be run never exits: that is the same to whoever waits for it.
    child.once('error', () => this.afterExit(child, since));
    await this.untilReady(child, begun);
  }

  private afterExit(child: ChildProcess, since: number): void {
    if (child !== this.child) return;
    const wasReady = this.ready;
    this.ready = false;
    // A process that dies before it was ready is reported by `start`, which waits for it.
    if (!this.stopping && wasReady) this.again(Date.now() - since > STEADY_MS);
  }

  /** Starts it again, after a pause that grows while it keeps dying. */
  private again(steady: boolean): void {
    this.restarts = steady ? 1 : this.restarts + 1;
    if (this.restarts > RESTARTS_IN_A_ROW) {
      this.options.onGivenUp?.(`The database keeps stopping. Its log is ${join(this.directory, 'log')}.`);
      return;
    }
    const pause = Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (this.restarts - 1));
    setTimeout(() => {
      if (this.stopping) return;
      this.launch().catch((error: unknown) => {
        console.error((error as Error).message);
        if (this.child) void ended(this.child, 'SIGKILL', KILLED_MS);
        this.again(false);
      });
    }, pause);
  }

  private async untilReady(child: ChildProcess, logBegun: number): Promise<void> {
    const { host, port, user, password, database } = this.address;
    const deadline = Date.now() + START_LIMIT_MS;
    let said = '';
    while (Date.now() < deadline && !hasEnded(child) && !this.options.signal?.aborted) {
      try {
        const connection = await createConnection({ host, port, user, password, database, connectTimeout: 1000 });
        await connection.end();
        this.ready = true;
        return;
      } catch (error) {
        said = (error as { code?: string }).code ?? '';
        await sleep(50); // not up yet: asked again until the deadline
      }
    }
    if (this.stopping || this.options.signal?.aborted) return;
    throw new Error(await whyNot(join(this.directory, 'log'), logBegun, said));
  }
}

const hasEnded = (child: ChildProcess) =>
  child.exitCode !== null || child.signalCode !== null || child.pid === undefined;

function daemonPath(): string {
  const found = ['/usr/sbin/mariadbd', '/usr/bin/mariadbd', '/usr/local/sbin/mariadbd'].find((path) =>
    existsSync(path),
  );
  if (!found) throw new Error('MariaDB is not installed. Run: sudo apt-get install mariadb-server');
  return found;
}

/** In the directory, or where its path is too long for a socket, in a private one made for it. */
async function socketPath(directory: string): Promise<string> {
  const inside = join(directory, 'socket');
  if (Buffer.byteLength(inside) < SOCKET_PATH_LIMIT) return inside;
  return join(await mkdtemp(join(tmpdir(), 'arvex-')), 'socket');
}

function daemonArguments(directory: string, port: number, initFile: string, socket: string): string[] {
  return [
    '--no-defaults',
    ...userArguments(),
    `--datadir=${join(directory, 'data')}`,
    `--tmpdir=${join(directory, 'tmp')}`,
    `--socket=${socket}`,
    `--pid-file=${join(directory, 'pid')}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    '--skip-name-resolve',
    '--skip-log-bin',
    '--skip-symbolic-links',
    '--local-infile=0',
    '--innodb-flush-log-at-trx-commit=1',
    '--character-set-server=utf8mb4',
    '--collation-server=utf8mb4_bin',
    '--max-allowed-packet=256M',
    `--init-file=${initFile}`,
  ];
}

/** The user has its own database and nothing else. */
function initStatements({ user, password, database }: DatabaseAddress, more: readonly string[]): string {
  const account = `'${user}'@'127.0.0.1'`;
  return [
    `CREATE DATABASE IF NOT EXISTS ${database};`,
    `CREATE OR REPLACE USER ${account} IDENTIFIED BY '${password}';`,
    ...[database, ...more].map((name) => `GRANT ALL ON \`${name}\`.* TO ${account};`),
    '',
  ].join('\n');
}

/** Ends a process by a signal, and waits for it; not longer than it is given. */
async function ended(child: ChildProcess, signal: NodeJS.Signals, withinMs: number): Promise<void> {
  if (hasEnded(child)) return;
  const exit = new Promise((resolve) => child.once('exit', resolve));
  child.kill(signal);
  await Promise.race([exit, sleep(Math.max(0, withinMs), undefined, { ref: false })]);
}

function freePort(): Promise<number> {
  return new Promise((resolve, reject) => {
    const server = createServer();
    server.once('error', reject);
    server.listen(0, '127.0.0.1', () => {
      const address = server.address();
      server.close(() => resolve(typeof address === 'object' && address ? address.port : 0));
    });
  });
}
