import { createConnection } from 'mariadb';
import type { ChildProcess } from 'node:child_process';
import { execFile, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, open, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';

const run = promisify(execFile);

/** How long the database may take to come up, go down, or to be restarted after a crash. */
const START_LIMIT_MS = 60_000;
const STOP_LIMIT_MS = 60_000;
const RESTART_PAUSE_MS = 300;
const RESTARTS_IN_A_ROW = 5;
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

/** Debian's MariaDB as a child of this process: on loopback only, with its own data directory, durable on every commit. */
export class MariadbProcess {
  private child: ChildProcess | undefined;
  private stopping = false;
  private restarts = 0;

  private constructor(
    private readonly directory: string,
    readonly address: DatabaseAddress,
    private readonly onGivenUp: (reason: string) => void,
  ) {}

  /**
   * Starts the database in `directory`, making it on the first start. A process left over from a killed server is
   * stopped first; one that dies later is started again.
   * @param onGivenUp called when it keeps dying.
   */
  static async start(
    directory: string,
    onGivenUp: (reason: string) => void = () => undefined,
  ): Promise<MariadbProcess> {
    await mkdir(directory, { recursive: true, mode: 0o700 });
    await stopLeftOver(directory);
    await install(directory);
    const password = await secretIn(directory);
    const port = await freePort();
    const address = { host: '127.0.0.1', port, user: 'arvex', password, database: 'arvex' };
    const process = new MariadbProcess(directory, address, onGivenUp);
    await process.launch();
    return process;
  }

  /** Stops the database cleanly. */
  async stop(): Promise<void> {
    this.stopping = true;
    if (this.child) await ended(this.child, 'SIGTERM');
    await rm(join(this.directory, 'pid'), { force: true });
  }

  private async launch(): Promise<void> {
    const initFile = join(this.directory, 'init.sql');
    await writeFile(initFile, initStatements(this.address), { mode: 0o600 });
    const log = await open(join(this.directory, 'log'), 'a', 0o600);
    const child = spawn(daemonPath(), daemonArguments(this.directory, this.address.port, initFile), {
      stdio: ['ignore', log.fd, log.fd],
      detached: true, // a Ctrl+C in the terminal must reach the server first, not the database
    });
    await log.close();
    this.child = child;
    const since = Date.now();
    child.once('exit', () => this.afterExit(child, since));
    child.once('error', () => undefined);
    if (child.pid !== undefined) await writeFile(join(this.directory, 'pid'), String(child.pid));
    await this.untilReady(child);
  }

  private afterExit(child: ChildProcess, since: number): void {
    if (this.stopping || child !== this.child) return;
    this.restarts = Date.now() - since > STEADY_MS ? 1 : this.restarts + 1;
    if (this.restarts > RESTARTS_IN_A_ROW) {
      this.onGivenUp(`The database keeps stopping. Its log is ${join(this.directory, 'log')}.`);
      return;
    }
    setTimeout(() => {
      if (!this.stopping) this.launch().catch(() => undefined);
    }, RESTART_PAUSE_MS);
  }

  private async untilReady(child: ChildProcess): Promise<void> {
    const { host, port, user, password, database } = this.address;
    const deadline = Date.now() + START_LIMIT_MS;
    while (Date.now() < deadline && child.exitCode === null && child.signalCode === null) {
      try {
        const connection = await createConnection({ host, port, user, password, database, connectTimeout: 1000 });
        await connection.end();
        return;
      } catch {
        await sleep(50); // not up yet: asked again until the deadline
      }
    }
    if (!this.stopping) {
      throw new Error(`The database did not come up. Its log is ${join(this.directory, 'log')}.`);
    }
  }
}

function daemonPath(): string {
  const found = ['/usr/sbin/mariadbd', '/usr/bin/mariadbd', '/usr/local/sbin/mariadbd'].find((path) =>
    existsSync(path),
  );
  if (!found) throw new Error('MariaDB is not installed. Run: sudo apt-get install mariadb-server');
  return found;
}

/** MariaDB refuses to run as root unless told so. */
function userArguments(): string[] {
  return process.getuid?.() === 0 ? ['--user=root'] : [];
}

function daemonArguments(directory: string, port: number, initFile: string): string[] {
  const inside = join(directory, 'socket');
  const socket =
    Buffer.byteLength(inside) < SOCKET_PATH_LIMIT ? inside : join(tmpdir(), `arvex-${process.pid}-${port}`);
  return [
    '--no-defaults',
    ...userArguments(),
    `--datadir=${join(directory, 'data')}`,
    `--tmpdir=${join(directory, 'tmp')}`,
    `--socket=${socket}`,
    `--port=${port}`,
    '--bind-address=127.0.0.1',
    '--skip-name-resolve',
    '--skip-log-bin',
    '--innodb-flush-log-at-trx-commit=1',
    '--character-set-server=utf8mb4',
    '--collation-server=utf8mb4_bin',
    '--max-allowed-packet=256M',
    `--init-file=${initFile}`,
  ];
}

function initStatements({ user, password, database }: DatabaseAddress): string {
  return [
    `CREATE DATABASE IF NOT EXISTS ${database};`,
    `CREATE OR REPLACE USER '${user}'@'127.0.0.1' IDENTIFIED BY '${password}';`,
    `GRANT ALL ON *.* TO '${user}'@'127.0.0.1';`,
    '',
  ].join('\n');
}

/** Makes the data directory beside its place and renames it when it is whole, so that a killed install leaves no half. */
async function install(directory: string): Promise<void> {
  await mkdir(join(directory, 'tmp'), { recursive: true, mode: 0o700 });
  const data = join(directory, 'data');
  if (existsSync(data)) return;
  const fresh = `${data}.new`;
  await rm(fresh, { recursive: true, force: true });
  const rootLogin = process.getuid?.() === 0 ? ['--auth-root-authentication-method=socket'] : [];
  const options = ['--no-defaults', ...userArguments(), ...rootLogin, '--skip-test-db', `--datadir=${fresh}`];
  await run('mariadb-install-db', options, { maxBuffer: 1 << 24 });
  await rename(fresh, data);
}

async function secretIn(directory: string): Promise<string> {
  const path = join(directory, 'secret');
  if (!existsSync(path)) await writeFile(path, randomBytes(24).toString('hex'), { mode: 0o600 });
  return (await readFile(path, 'utf8')).trim();
}

/** Stops a database that a killed server left running in this directory. */
async function stopLeftOver(directory: string): Promise<void> {
  const pid = Number(await readFile(join(directory, 'pid'), 'utf8').catch(() => ''));
  if (!pid) return;
  const isOurs = async () => {
    const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
    return command.includes(`--datadir=${join(directory, 'data')}\0`);
  };
  if (!(await isOurs())) return;
  process.kill(pid, 'SIGTERM');
  const deadline = Date.now() + STOP_LIMIT_MS;
  while (await isOurs()) {
    if (Date.now() > deadline) throw new Error(`The database process ${pid} of an earlier start does not stop.`);
    await sleep(50);
  }
}

async function ended(child: ChildProcess, signal: NodeJS.Signals): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return;
  const exit = new Promise((resolve) => child.once('exit', resolve));
  child.kill(signal);
  await Promise.race([exit, sleep(STOP_LIMIT_MS, undefined, { ref: false })]);
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
