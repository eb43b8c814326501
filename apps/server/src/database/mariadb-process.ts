import { createConnection } from 'mariadb';
import type { ChildProcess } from 'node:child_process';
import { execFile, spawn } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, mkdtemp, open, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import { promisify } from 'node:util';
import { writeDurably } from '../files/durable';

const run = promisify(execFile);

/** How long the database may take to come up, and to go down before it is killed: InnoDB recovers from that. */
const START_LIMIT_MS = 60_000;
const STOP_GRACE_MS = 8000;
/** A killed process is gone within this, or never. */
const KILLED_MS = 3000;
const FIRST_PAUSE_MS = 300;
const LONGEST_PAUSE_MS = 10_000;
const RESTARTS_IN_A_ROW = 8;
/** A database that stayed up this long is not in a crash loop. */
const STEADY_MS = 30_000;
/** Longest path of a Unix socket, bytes with the closing zero (Linux, unix(7)). */
const SOCKET_PATH_LIMIT = 108;
/** Shortest password that is taken, characters: one that was cut off when it was written is none. */
const SHORTEST_SECRET = 32;
/** As much of the end of the log is looked through for a reason, bytes. */
const LOG_END_BYTES = 16_384;

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
    // One that never came up is told by who started it.
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

/** What the log of a database that did not come up says, as a sentence with the way out. */
const REASONS: readonly (readonly [RegExp, string])[] = [
  [
    /No space left on device|Errcode: 28|error: 28\b|Disk is full/i,
    'the disk is full. Make room on it and start again',
  ],
  [/Unable to lock|Can't lock|error: 11\b|another mariadbd process/i, 'another process has its files. Stop that one'],
  [/Permission denied|Errcode: 13/i, 'its files cannot be read or written by this user. Give them to this user'],
  [
    /Table 'mysql\.|mysql\.(?:user|db|plugin).*(?:doesn't exist|not found)|Fatal error: Can't open and lock privilege/i,
    'its own tables are missing. Restore the data directory from a copy',
  ],
  [
    /redo log|ib_logfile|Missing FILE_CHECKPOINT|checkpoint/i,
    'a log file of it is missing or damaged. Restore the data directory from a copy',
  ],
  [
    /corrupt|Checksum mismatch|Cannot open.*ibdata|ibdata1.*(?:size|missing)/i,
    'its files are damaged. Restore the data directory from a copy',
  ],
  [/Address already in use|Bind on TCP/i, 'its port was taken meanwhile. Start again'],
];

async function whyNot(log: string, begun: number, said: string): Promise<string> {
  const handle = await open(log, 'r').catch(() => undefined);
  let text = '';
  if (handle) {
    const { size } = await handle.stat();
    const from = Math.max(begun, size - LOG_END_BYTES);
    const { buffer, bytesRead } = await handle.read(Buffer.alloc(Math.max(1, size - from)), 0, size - from, from);
    text = buffer.toString('utf8', 0, bytesRead);
    await handle.close();
  }
  const known = REASONS.find(([what]) => what.test(text))?.[1];
  const denied =
    said === 'ER_ACCESS_DENIED_ERROR'
      ? 'it does not take the secret. Delete the file "secret" beside its log'
      : undefined;
  const why = known ?? denied ?? 'it says why in its log';
  return `The database did not come up: ${why}. Its log is ${log}.`;
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

/** Makes the data directory beside its place and renames it when it is whole, so that a killed install leaves no half. */
async function install(directory: string): Promise<void> {
  await mkdir(join(directory, 'tmp'), { recursive: true, mode: 0o700 });
  const data = join(directory, 'data');
  if (existsSync(data)) {
    if ((await readdir(data)).length > 0) return;
    throw new Error(`The database's directory ${data} is empty. Restore it from a copy, or delete it to begin anew.`);
  }
  await rm(`${data}.new`, { recursive: true, force: true });
  const rootLogin = process.getuid?.() === 0 ? ['--auth-root-authentication-method=socket'] : [];
  // Its path is given from within: the install script splits paths at white space.
  const options = ['--no-defaults', ...userArguments(), ...rootLogin, '--skip-test-db', '--datadir=./data.new'];
  try {
    await run('mariadb-install-db', options, { maxBuffer: 1 << 24, cwd: directory });
  } catch (error) {
    await rm(`${data}.new`, { recursive: true, force: true });
    const said = (error as { stderr?: string; stdout?: string }).stderr ?? '';
    const full = /No space left|Errcode: 28|error: 28\b/.test(`${said}${(error as { stdout?: string }).stdout ?? ''}`);
    const why = full ? 'the disk is full. Make room on it' : ((error as Error).message.split('\n')[0] ?? '');
    throw new Error(`The database could not be set up: ${why}.`, { cause: error });
  }
  await rename(`${data}.new`, data);
}

/** The password of the database's user. It is set anew at each start: one that was cut off is made anew. */
async function secretIn(directory: string): Promise<string> {
  const path = join(directory, 'secret');
  const kept = (await readFile(path, 'utf8').catch(() => '')).trim();
  if (kept.length >= SHORTEST_SECRET && /^[0-9a-f]+$/.test(kept)) return kept;
  const secret = randomBytes(24).toString('hex');
  await writeDurably(path, secret);
  return secret;
}

/** Stops a database that a killed server left running in this directory, however far it had come. */
async function stopLeftOver(directory: string): Promise<void> {
  for (const pid of await processesOn(join(directory, 'data'))) {
    for (const [signal, grace] of [
      ['SIGTERM', STOP_GRACE_MS],
      ['SIGKILL', KILLED_MS],
    ] as const) {
      if (!(await isOn(pid, join(directory, 'data')))) break;
      process.kill(pid, signal);
      const deadline = Date.now() + grace;
      while ((await isOn(pid, join(directory, 'data'))) && Date.now() < deadline) await sleep(50);
    }
    if (await isOn(pid, join(directory, 'data'))) {
      throw new Error(`The database process ${pid} of an earlier start does not end. Restart this machine.`);
    }
  }
}

/** Databases that have a data directory, by what the system says of their processes: no file of theirs has to be there. */
async function processesOn(data: string): Promise<number[]> {
  const pids = (await readdir('/proc')).filter((name) => /^\d+$/.test(name)).map(Number);
  const ours = await Promise.all(pids.map((pid) => isOn(pid, data)));
  return pids.filter((_, i) => ours[i]);
}

async function isOn(pid: number, data: string): Promise<boolean> {
  const command = await readFile(`/proc/${pid}/cmdline`, 'utf8').catch(() => '');
  return command.split('\0').includes(`--datadir=${data}`);
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
