import { mkdir, readFile, rename, rm, cp, statfs, readdir, stat } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { Sequelize } from 'sequelize';
import { SequelizeStorage, Umzug } from 'umzug';
import { writeDurably } from '../files/durable';
import { firstTables } from './migrations/0001-first-tables';
import { theSet } from './migrations/0002-the-set';
import { theBench } from './migrations/0003-the-bench';
import { theMoves } from './migrations/0004-the-moves';
import { formTwo } from './migrations/0005-form-two';
import { inHand } from './migrations/0006-in-hand';
import { theSequence } from './migrations/0007-the-sequence';
import { output } from './migrations/0008-output';
import { keptFrames } from './migrations/0009-kept-frames';
import { theLooks } from './migrations/0010-looks';
import { inCompany } from './migrations/0011-in-company';
import { largeCuts } from './migrations/0012-large-cuts';
import { select } from './select';
import { theJobs } from './migrations/0013-jobs';
import { theAuthors } from './migrations/0014-authors';
import { surfaces } from './migrations/0015-surfaces';
import type { Migration } from './migrations/migration';

/** All of them, oldest first. */
export const MIGRATIONS: readonly Migration[] = [
  firstTables,
  theSet,
  theBench,
  theMoves,
  formTwo,
  inHand,
  theSequence,
  output,
  keptFrames,
  theLooks,
  inCompany,
  largeCuts,
  theJobs,
  theAuthors,
  surfaces,
];

/** Another process that brings a large table up is waited for so long, seconds. */
const LOCKED_AT_MOST_S = 3600;

/** The newest step that there is: a database that has it is of this form. */
const NEWEST = MIGRATIONS.at(-1)?.name ?? '';

/** A migration's statements, each run and noted by itself: a start that was killed goes on at the one that was not noted. */
export function stepsOf({ name, statements }: Migration): { readonly name: string; readonly statement: string }[] {
  return statements.map((statement, i) => ({ name: `${name}/${String(i + 1).padStart(2, '0')}`, statement }));
}

/**
 * Numbers of errors of a statement that has been run already, when the process was killed before that was noted: a table, column,
 * key or index is there, or is gone. Statements that change rows can be run twice as they are.
 */
const DONE_BEFORE: ReadonlySet<number> = new Set([1050, 1054, 1060, 1061, 1068, 1091, 1826, 1005]);

/**
 * Brings the database to the newest form, from wherever an earlier start has left it.
 * @param sequelize with one connection.
 */
export async function migrate(sequelize: Sequelize): Promise<void> {
  const notes = new SequelizeStorage({ sequelize, tableName: 'migrations', modelName: 'migration' });
  const umzug = new Umzug({
    migrations: MIGRATIONS.flatMap(stepsOf).map(({ name, statement }) => ({
      name,
      up: () => runOnce(sequelize, statement),
    })),
    storage: {
      logMigration: (step) => notes.logMigration(step),
      unlogMigration: (step) => notes.unlogMigration(step),
      executed: async () => {
        const noted = await notes.executed();
        mustBeKnown(noted);
        return noted.flatMap(withSteps);
      },
    },
    logger: undefined,
  });
  // Of several processes that start together one brings it up, and the others wait. The lock goes with its connection, the only one here.
  await select(sequelize, `SELECT GET_LOCK(CONCAT(DATABASE(), '.migrations'), ${LOCKED_AT_MOST_S})`, {});
  try {
    await umzug.up();
  } finally {
    await select(sequelize, `SELECT RELEASE_LOCK(CONCAT(DATABASE(), '.migrations'))`, {});
  }
}

/**
 * Refuses what an application newer than this one has written: its columns would be passed over, and its note be written over.
 * @throws Error with the way out.
 */
function mustBeKnown(noted: readonly string[]): void {
  const known = new Set(MIGRATIONS.map(({ name }) => name));
  const newer = noted.find((name) => !known.has(name.split('/')[0] ?? ''));
  if (newer === undefined) return;
  throw new Error(
    `The data directory was written by a newer Arvex (${newer}). Start that one, or take the copy that was kept before the upgrade.`,
  );
}

/** Migrations were once noted whole: all their steps have been run then. */
function withSteps(noted: string): string[] {
  const whole = MIGRATIONS.find(({ name }) => name === noted);
  return [noted, ...(whole ? stepsOf(whole).map(({ name }) => name) : [])];
}

async function runOnce(sequelize: Sequelize, statement: string): Promise<void> {
  try {
    await sequelize.query(statement);
  } catch (error) {
    const { errno } = (error as { parent?: { errno?: number } }).parent ?? {};
    if (errno === undefined || !DONE_BEFORE.has(errno)) throw error;
  }
}

/**
 * Keeps a copy of a data directory of an older form before it is brought up, beside it; one that is there goes. It says of which
 * form the directory is, in the file `form`, so that no database has to be running for it.
 * @throws Error when there is no room for the copy.
 */
export async function keepBeforeUpgrade(data: string): Promise<void> {
  const note = join(dirname(data), 'form');
  const form = await readFile(note, 'utf8').catch(() => '');
  mustBeKnown(form === '' ? [] : [form]);
  if (form === NEWEST || !(await hasProjects(data))) return;
  const copy = `${data}.before-${NEWEST}`;
  if (await stat(copy).catch(() => undefined)) return;
  const { bavail, bsize } = await statfs(dirname(data));
  const needed = await bytesOf(data);
  if (needed > bavail * bsize) {
    const megabytes = Math.ceil(needed / 1e6);
    throw new Error(
      `Before an upgrade the data is copied, which takes ${megabytes} MB. Make room on the disk and start again.`,
    );
  }
  for (const old of await readdir(dirname(data))) {
    if (old.startsWith('data.before-')) await rm(join(dirname(data), old), { recursive: true, force: true });
  }
  await mkdir(`${copy}.new`, { recursive: true, mode: 0o700 });
  await cp(data, `${copy}.new`, { recursive: true, mode: 2 });
  await rename(`${copy}.new`, copy);
}

/** Notes that a data directory is of the present form. */
export async function noteForm(directory: string): Promise<void> {
  await writeDurably(join(directory, 'form'), NEWEST);
}

const hasProjects = async (data: string) =>
  (await stat(join(data, 'arvex', 'projects.ibd')).catch(() => undefined)) !== undefined;

async function bytesOf(directory: string): Promise<number> {
  let bytes = 0;
  for (const entry of await readdir(directory, { withFileTypes: true, recursive: true })) {
    if (entry.isFile()) bytes += (await stat(join(entry.parentPath, entry.name))).size;
  }
  return bytes;
}
