import type { Socket } from 'node:net';
import { Sequelize } from 'sequelize';
import { Problem } from '../problem/problem';
import type { DatabaseAddress } from './mariadb-process';

/** A statement that gives no answer for so long has none: the database hangs. Milliseconds. */
const HANGS_MS = 30_000;

export interface ConnectOptions {
  /** Connections at once; 8 where it is left out. */
  readonly connections?: number;
  /** After how long without an answer a statement is given up; for statements that may take long, 0 is never. */
  readonly answerWithinMs?: number;
}

/** A pool of connections to the database. Nothing is logged: statements hold the artists' work. */
export function connect(address: DatabaseAddress, options: ConnectOptions = {}): Sequelize {
  const { connections = 8, answerWithinMs = HANGS_MS } = options;
  const sequelize = new Sequelize(address.database, address.user, address.password, {
    dialect: 'mysql',
    host: address.host,
    port: address.port,
    logging: false,
    define: { timestamps: false, underscored: true, freezeTableName: true },
    pool: { max: connections, min: 0, acquire: 10_000 },
    // An update says how many rows it met, whether they were so before or not.
    dialectOptions: { connectTimeout: 2000, flags: 'FOUND_ROWS' },
  });
  sequelize.addHook('afterConnect', (connection) =>
    endIfItHangs((connection as { stream: Socket }).stream, answerWithinMs),
  );
  return sequelize;
}

/** Ends a connection on which nothing has come for so long, milliseconds: never for 0. */
function endIfItHangs(stream: Socket, ms: number): void {
  if (ms === 0) return;
  stream.setTimeout(ms, () =>
    stream.destroy(Object.assign(new Error('The database gives no answer.'), { code: 'ETIMEDOUT' })),
  );
}

/** Names of errors that mean the database is away, not that the request is wrong. */
const AWAY = /ConnectionError|ConnectionRefused|HostNotReachable|ConnectionTimedOut/;
/** Driver codes of a connection that broke in the middle, or of a statement that got no answer. */
const BROKEN = /^(?:ECONNRESET|ECONNREFUSED|EPIPE|ETIMEDOUT|PROTOCOL_\w+|ER_CONNECTION\w*|ER_SERVER_SHUTDOWN)$/;

/** Numbers of the database's errors: it shuts down (1053), the connection was killed (1927); it has to be asked again (1205, 1213). */
const AWAY_NUMBERS: ReadonlySet<number> = new Set([1053, 1927]);
const AGAIN_NUMBERS: ReadonlySet<number> = new Set([1205, 1213, 1020]);

/** The disk is full: in general (1021, 3), of a table (1114), when writing (1026). */
const FULL_NUMBERS: ReadonlySet<number> = new Set([1021, 1114, 1026]);

interface DriverError {
  readonly code?: string;
  readonly errno?: number;
}

/** The problem for an error of the database's or of the disk, if it is one that passes. */
export function databaseProblem(error: unknown): Problem | undefined {
  if (!(error instanceof Error)) return undefined;
  const { parent = error as DriverError } = error as { parent?: DriverError };
  const { code = '', errno = 0 } = parent;
  if (code === 'ENOSPC' || FULL_NUMBERS.has(errno)) {
    return new Problem('disk-full', 'The disk is full. Nothing was kept. Make room on it and try again.');
  }
  if (AGAIN_NUMBERS.has(errno)) {
    return new Problem('busy', 'Others write to this just now. Nothing was changed; send the request again.');
  }
  if (error.name.includes('ConnectionAcquireTimeout')) {
    return new Problem(
      'busy',
      'The database is busy with other requests. Nothing was changed; send the request again.',
    );
  }
  if (!AWAY.test(error.name) && !BROKEN.test(code) && !AWAY_NUMBERS.has(errno)) return undefined;
  return new Problem(
    'database-away',
    'The database does not answer just now. Send the same request again: a change that was made already is not made twice.',
  );
}

/** What may be logged of an error: neither statements nor what they hold. */
export function withoutWork(error: unknown): Readonly<Record<string, unknown>> {
  if (!(error instanceof Error)) return { type: typeof error };
  const { code, errno } = ((error as { parent?: DriverError }).parent ?? error) as DriverError;
  const hides = error.name.startsWith('Sequelize') || 'sql' in error;
  const stack = (error.stack ?? '')
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .slice(0, 12);
  return {
    type: error.name,
    ...(!hides && { message: error.message.slice(0, 300) }),
    ...(code !== undefined && { code }),
    ...(errno !== undefined && { errno }),
    stack: stack.join('\n'),
  };
}
