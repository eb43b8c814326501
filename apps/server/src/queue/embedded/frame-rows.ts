import type { Sequelize, Transaction } from 'sequelize';
import { PICTURE_FORMATS } from '@arvex/core';
import { select, write } from '../../database/select';
import type { AskedWork, FinishedFile, GivenFrames, LeaseOn } from '../work-queue';

/** A frame that could not be made so often is left, and the rest goes on. */
const MOST_ATTEMPTS = 3;
/** Rows that one statement writes. */
const INSERTED_AT_ONCE = 500;

/**
 * Whether a lease still holds. One that ends later than any that is given now was given before the clock was set back: it holds no
 * more than one that has run out.
 */
export const HOLDS = `leased_until >= NOW(3) AND leased_until <= NOW(3) + INTERVAL :ms * 2000 MICROSECOND`;
/** Whether nobody holds a row of a table, by the name that it has in its statement. */
export const freeIn = (table: string): string =>
  `(${table}.state = 'waiting' OR (${table}.state = 'leased' AND NOT (${HOLDS})))`;

const FILE = 'g.frame_index AS `index`, g.role, g.path, g.hash, g.bytes';
/** Endings of pictures that browsers show. */
const SHOWN = Object.values(PICTURE_FORMATS)
  .filter(({ inBrowsers }) => inBrowsers)
  .map(({ ending }) => `g.role LIKE '%${ending}'`)
  .join(' OR ');

/**
 * Rows of frames and of their files: all that is said of them to the database. Leasing passes over rows that others hold, and keeping
 * writes over what an earlier try has written: neither can be said by a model.
 */
export class FrameRows {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly leaseMs: number,
  ) {}

  async insert({ projectId, renderId, names }: GivenFrames, transaction?: Transaction): Promise<void> {
    for (let from = 0; from < names.length; from += INSERTED_AT_ONCE) {
      const some = names.slice(from, from + INSERTED_AT_ONCE);
      await this.write(
        `INSERT INTO frames (project_id, render_id, frame_index, file_name, state)
           VALUES ${some.map((_, i) => `(:projectId, :renderId, ${from + i}, :n${i}, 'waiting')`).join(', ')}`,
        { projectId, renderId, ...Object.fromEntries(some.map((name, i) => [`n${i}`, name])) },
        transaction,
      );
    }
  }

  /** Takes free frames of a render; others that ask at the same time get the next ones. */
  async lease(
    { leaseId, renderId }: LeaseOn,
    { count, worker, graphics }: AskedWork,
    transaction: Transaction,
  ): Promise<number[]> {
    const free = await this.rows<{ frame_index: number }>(
      `SELECT frame_index FROM frames WHERE render_id = :renderId AND ${freeIn('frames')}
         ORDER BY frame_index LIMIT :count FOR UPDATE SKIP LOCKED`,
      { renderId, count },
      transaction,
    );
    const frames = free.map((row) => Number(row.frame_index));
    if (frames.length === 0) return frames;
    await this.write(
      `UPDATE frames SET state = 'leased', lease_id = :leaseId, leased_by = :by, graphics = :graphics,
         leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND WHERE render_id = :renderId AND frame_index IN (:frames)`,
      { renderId, leaseId, by: worker ?? null, graphics: graphics ?? null, frames },
      transaction,
    );
    return frames;
  }

  /** Whether a lease holds a frame; nothing where there is no such frame. */
  async isHeld({ leaseId, renderId }: LeaseOn, index: number, transaction?: Transaction): Promise<boolean | undefined> {
    const [row] = await this.rows<{ holds: number | null }>(
      `SELECT (lease_id = :leaseId AND state = 'leased' AND ${HOLDS}) AS holds FROM frames
         WHERE render_id = :renderId AND frame_index = :index`,
      { renderId, leaseId, index },
      transaction,
    );
    return row && Boolean(row.holds);
  }

  /** @returns how many frames it still holds. */
  extend({ leaseId, renderId }: LeaseOn): Promise<number> {
    return this.write(
      `UPDATE frames SET leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND
         WHERE render_id = :renderId AND lease_id = :leaseId AND state = 'leased'`,
      { renderId, leaseId },
    );
  }

  release({ leaseId, renderId }: LeaseOn): Promise<number> {
    return this.write(
      `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL
         WHERE render_id = :renderId AND lease_id = :leaseId AND state = 'leased'`,
      { renderId, leaseId },
    );
  }

  /** Frees all that a worker holds. @returns how many frames. */
  free(worker: string): Promise<number> {
    return this.write(
      `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL, leased_by = NULL
         WHERE leased_by = :worker AND state = 'leased'`,
      { worker },
    );
  }

  /** Keeps a file of a frame. @returns whether the frame now has all its roles, and is done. */
  async keep(
    projectId: string,
    renderId: string,
    { index, role, path, hash, bytes, key }: FinishedFile,
    roles: readonly string[],
    transaction: Transaction,
  ): Promise<boolean> {
    await this.write(
      `REPLACE INTO frame_files (project_id, render_id, frame_index, role, path, hash, bytes)
         VALUES (:projectId, :renderId, :index, :role, :path, :hash, :bytes)`,
      { projectId, renderId, index, role, path, hash, bytes },
      transaction,
    );
    if (roles.length > 1) {
      const [there] = await this.rows<{ count: number }>(
        `SELECT COUNT(*) AS count FROM frame_files WHERE render_id = :renderId AND frame_index = :index AND role IN (:roles)`,
        { renderId, index, roles },
        transaction,
      );
      if (Number(there?.count) < roles.length) return false;
    }
    await this.write(
      `UPDATE frames SET state = 'done', lease_id = NULL, leased_until = NULL, error = NULL, made_as = :key
         WHERE render_id = :renderId AND frame_index = :index`,
      { renderId, index, key: key ?? null },
      transaction,
    );
    return true;
  }

  /** Notes that a frame could not be made. @returns its name where it is left for good. */
  async fail(
    { leaseId, renderId }: LeaseOn,
    index: number,
    why: string,
    transaction: Transaction,
  ): Promise<string | undefined> {
    const noted = await this.write(
      `UPDATE frames SET state = IF(attempts + 1 >= ${MOST_ATTEMPTS}, 'failed', 'waiting'), lease_id = NULL, leased_until = NULL,
         error = :why, attempts = attempts + 1 WHERE render_id = :renderId AND frame_index = :index AND lease_id = :leaseId`,
      { renderId, index, leaseId, why },
      transaction,
    );
    if (noted === 0) return undefined;
    const [frame] = await this.rows<{ state: string; file_name: string }>(
      'SELECT state, file_name FROM frames WHERE render_id = :renderId AND frame_index = :index',
      { renderId, index },
      transaction,
    );
    return frame?.state === 'failed' ? frame.file_name : undefined;
  }

  /** Lets frames that could not be made be tried again. */
  tryAgain(renderId: string, transaction: Transaction): Promise<number> {
    return this.write(
      `UPDATE frames SET attempts = 0, error = NULL, state = IF(state = 'failed', 'waiting', state) WHERE render_id = :renderId`,
      { renderId },
      transaction,
    );
  }

  /** Lets frames that are done be made anew. @returns how many. */
  async makeAnew(renderId: string, indexes: readonly number[], transaction: Transaction): Promise<number> {
    const freed = await this.write(
      `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL, made_as = NULL
         WHERE render_id = :renderId AND frame_index IN (:indexes) AND state = 'done'`,
      { renderId, indexes },
      transaction,
    );
    await this.write(
      'DELETE FROM frame_files WHERE render_id = :renderId AND frame_index IN (:indexes)',
      { renderId, indexes },
      transaction,
    );
    return freed;
  }

  /** Files of finished frames in their order: of one role, all that leave (`null`), or all; of all frames, or one. */
  files(renderId: string, role: string | null | undefined, index?: number): Promise<FinishedFile[]> {
    const ofRole = role === undefined ? 'TRUE' : role === null ? 'g.path IS NOT NULL' : 'g.role = :role';
    return this.found(
      `SELECT ${FILE} FROM frame_files g
         JOIN frames f ON f.project_id = g.project_id AND f.render_id = g.render_id AND f.frame_index = g.frame_index
         WHERE g.render_id = :renderId AND f.state = 'done' AND ${ofRole} ${index === undefined ? '' : 'AND g.frame_index = :index'}
         ORDER BY g.frame_index, g.role`,
      { renderId, role, index },
    );
  }

  at(renderId: string, path: string): Promise<FinishedFile[]> {
    return this.found(`SELECT ${FILE} FROM frame_files g WHERE g.render_id = :renderId AND g.path = :path`, {
      renderId,
      path,
    });
  }

  picture(renderId: string, index?: number): Promise<FinishedFile[]> {
    return this.found(
      `SELECT ${FILE} FROM frame_files g WHERE g.render_id = :renderId AND (${SHOWN})
         ${index === undefined ? '' : 'AND g.frame_index = :index'} ORDER BY g.frame_index DESC, g.role LIMIT 1`,
      { renderId, index },
    );
  }

  /** Files of the newest finished frame of a project that was made under a key. */
  madeAs(projectId: string, key: string): Promise<FinishedFile[]> {
    return this.found(
      `SELECT ${FILE} FROM frame_files g JOIN
         (SELECT f.project_id, f.render_id, f.frame_index FROM frames f JOIN renders r ON r.id = f.render_id
            WHERE f.project_id = :projectId AND f.made_as = :key AND f.state = 'done' AND r.state <> 'cancelled'
            ORDER BY r.created_at DESC, f.frame_index LIMIT 1) AS one
         ON g.project_id = one.project_id AND g.render_id = one.render_id AND g.frame_index = one.frame_index`,
      { projectId, key },
    );
  }

  async nameOf(renderId: string, index: number): Promise<string | undefined> {
    const [row] = await this.rows<{ name: string }>(
      'SELECT file_name AS name FROM frames WHERE render_id = :renderId AND frame_index = :index',
      { renderId, index },
    );
    return row?.name;
  }

  async graphics(renderId: string): Promise<string[]> {
    const rows = await this.rows<{ graphics: string }>(
      `SELECT graphics FROM frames WHERE render_id = :renderId AND state = 'done' AND graphics IS NOT NULL
         GROUP BY graphics ORDER BY COUNT(*) DESC, graphics`,
      { renderId },
    );
    return rows.map(({ graphics }) => graphics);
  }

  private async found(statement: string, values: Record<string, unknown>): Promise<FinishedFile[]> {
    const rows = await this.rows<FinishedFile>(statement, values);
    return rows.map((row) => ({ ...row, index: Number(row.index), bytes: Number(row.bytes) }));
  }

  private rows<Row extends object>(
    statement: string,
    values: Record<string, unknown>,
    transaction?: Transaction,
  ): Promise<Row[]> {
    return select<Row>(this.sequelize, statement, { ...values, ms: this.leaseMs }, transaction);
  }

  /** @returns how many rows it met. */
  private write(statement: string, values: Record<string, unknown>, transaction?: Transaction): Promise<number> {
    return write(this.sequelize, statement, { ...values, ms: this.leaseMs }, transaction);
  }
}
