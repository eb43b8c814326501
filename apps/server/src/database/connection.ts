import { Sequelize } from 'sequelize';
import { Problem } from '../http/problem';
import type { DatabaseAddress } from './mariadb-process';

/** A pool of connections to the database. Nothing is logged: statements hold the artists' work. */
export function connect(address: DatabaseAddress): Sequelize {
  return new Sequelize(address.database, address.user, address.password, {
    dialect: 'mariadb',
    host: address.host,
    port: address.port,
    logging: false,
    define: { timestamps: false, underscored: true, freezeTableName: true },
    pool: { max: 8, min: 0, acquire: 10_000 },
    dialectOptions: { connectTimeout: 2000, bigIntAsNumber: true, insertIdAsNumber: true },
  });
}

/** Names of errors that mean the database is away, not that the request is wrong. */
const AWAY = /ConnectionError|ConnectionRefused|ConnectionAcquireTimeout|HostNotReachable|ConnectionTimedOut/;
/** Driver codes of a connection that broke in the middle. */
const BROKEN =
  /ECONNRESET|ECONNREFUSED|EPIPE|ER_SOCKET|ER_CMD_CONNECTION_CLOSED|ER_CONNECTION|ER_SERVER_SHUTDOWN|socket has unexpectedly been closed|1053|1927/;

/** The problem for an error of the database's, if it says that the database is away. */
export function databaseProblem(error: unknown): Problem | undefined {
  if (!(error instanceof Error)) return undefined;
  const parent = (error as { parent?: { code?: string; message?: string } }).parent;
  const text = `${error.name} ${error.message} ${parent?.code ?? ''} ${parent?.message ?? ''}`;
  if (!AWAY.test(error.name) && !BROKEN.test(text)) return undefined;
  return new Problem(
    'database-away',
    'The database is restarting. Nothing was changed; the same request may be sent again.',
  );
}
