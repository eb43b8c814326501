import type { Sequelize, Transaction } from 'sequelize';
import { QueryTypes } from 'sequelize';
import { select } from '../../database/select';
import { isToBeEncoded } from './store';

/** A file of a finished frame. */
export interface FinishedFile {
  readonly index: number;
  readonly role: string;
  /** Folder and name as it leaves; `null` where only movies are made from it. */
  readonly path: string | null;
  readonly hash: string;
  readonly bytes: number;
  /** What the frame shares only with frames that are the same, where that is known. */
  readonly key?: string | undefined;
}

/** Files of frames in the database. */
export class FrameStore {
  constructor(private readonly sequelize: Sequelize) {}

  /** Files of finished frames in their order: of one role, or all that leave; of all frames, or one. */
  async files(renderId: string, role?: string, index?: number): Promise<FinishedFile[]> {
    const which = `${role === undefined ? 'g.path IS NOT NULL' : 'g.role = :role'} ${index === undefined ? '' : 'AND g.frame_index = :index'}`;
    return this.filesWhere(renderId, which, { role, index });
  }

  /** What drew the finished frames of a render, where that is known: of most frames first. */
  async graphics(renderId: string): Promise<string[]> {
    const rows = await select<{ graphics: string }>(
      this.sequelize,
      `SELECT graphics FROM frames WHERE render_id = :renderId AND state = 'done' AND graphics IS NOT NULL
         GROUP BY graphics ORDER BY COUNT(*) DESC, graphics`,
      { renderId },
    );
    return rows.map(({ graphics }) => graphics);
  }

  /** Counts frames that were taken as they were kept. */
  async countKept(renderId: string, count: number): Promise<void> {
    await this.sequelize.query('UPDATE renders SET frames_kept = frames_kept + :count WHERE id = :renderId', {
      replacements: { renderId, count },
    });
  }

  /** All files of finished frames, whether they leave or not. */
  allFiles(renderId: string): Promise<FinishedFile[]> {
    return this.filesWhere(renderId, 'TRUE', {});
  }

  private async filesWhere(
    renderId: string,
    which: string,
    replacements: { readonly role?: string | undefined; readonly index?: number | undefined },
  ): Promise<FinishedFile[]> {
    const rows = await select<FinishedFile>(
      this.sequelize,
      `SELECT g.frame_index AS \`index\`, g.role, g.path, g.hash, g.bytes
         FROM frame_files g JOIN frames f ON f.project_id = g.project_id AND f.render_id = g.render_id AND f.frame_index = g.frame_index
         WHERE g.render_id = :renderId AND f.state = 'done' AND ${which} ORDER BY g.frame_index, g.role`,
      { renderId, ...replacements },
    );
    return rows.map((row) => ({ ...row, index: Number(row.index), bytes: Number(row.bytes) }));
  }

  /** Files of a finished frame of any render of a project that is the same as one would be: of the newest. */
  async madeAs(projectId: string, key: string): Promise<FinishedFile[]> {
    return select<FinishedFile>(
      this.sequelize,
      `SELECT g.frame_index AS \`index\`, g.role, g.path, g.hash, g.bytes FROM frame_files g JOIN
         (SELECT f.project_id, f.render_id, f.frame_index FROM frames f JOIN renders r ON r.id = f.render_id
            WHERE f.project_id = :projectId AND f.made_as = :key AND f.state = 'done' AND r.state <> 'cancelled'
            ORDER BY r.created_at DESC, f.frame_index LIMIT 1) AS one
         ON g.project_id = one.project_id AND g.render_id = one.render_id AND g.frame_index = one.frame_index`,
      { projectId, key },
    );
  }

  /** The file of a finished frame that lies at a path. */
  async at(renderId: string, path: string): Promise<FinishedFile | undefined> {
    const [row] = await select<FinishedFile>(
      this.sequelize,
      `SELECT frame_index AS \`index\`, role, path, hash, bytes FROM frame_files WHERE render_id = :renderId AND path = :path`,
      { renderId, path },
    );
    return row;
  }

  /** Lets frames that count as done be made anew, as their files are gone. The render goes on. */
  async makeAnew(renderId: string, indexes: readonly number[]): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      const replacements = { renderId, indexes };
      await select(this.sequelize, 'SELECT id FROM renders WHERE id = :renderId FOR UPDATE', replacements, transaction);
      const [, freed] = await this.sequelize.query(
        `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL, made_as = NULL
           WHERE render_id = :renderId AND frame_index IN (:indexes) AND state = 'done'`,
        { type: QueryTypes.UPDATE, replacements, transaction },
      );
      await this.sequelize.query('DELETE FROM frame_files WHERE render_id = :renderId AND frame_index IN (:indexes)', {
        replacements,
        transaction,
      });
      await this.sequelize.query(
        `UPDATE renders SET frames_done = frames_done - :freed, state = IF(state = 'encoding', 'rendering', state)
           WHERE id = :renderId`,
        { replacements: { ...replacements, freed }, transaction },
      );
    });
  }

  /** A picture of a render that shows how it goes: of its newest frame, or one of its own. */
  async picture(renderId: string, index?: number): Promise<FinishedFile | undefined> {
    const which = index === undefined ? '' : 'AND frame_index = :index';
    const [row] = await select<FinishedFile>(
      this.sequelize,
      `SELECT frame_index AS \`index\`, role, path, hash, bytes FROM frame_files
         WHERE render_id = :renderId AND (role LIKE '%png' OR role LIKE '%jpg') ${which} ORDER BY frame_index DESC, role LIMIT 1`,
      { renderId, index },
    );
    return row;
  }

  /**
   * Keeps a file of a frame that is leased.
   * @param wanted roles that the frame has in all: with the last of them the frame is done.
   * @param holds what of SQL says that a lease still holds, with what it needs.
   * @returns whether the frame was the render's last one, so that it now is to be encoded (true for exactly one caller); nothing when
   *   the lease is lost, or the render is over.
   */
  async keep(
    render: { readonly id: string; readonly projectId: string },
    file: FinishedFile,
    wanted: readonly string[],
    holds: { readonly condition: string; readonly replacements: Record<string, unknown> },
  ): Promise<{ readonly last: boolean } | 'lease-lost' | 'render-over'> {
    const key = file.key ?? null;
    const replacements = { ...holds.replacements, ...file, key, id: render.id, projectId: render.projectId };
    return this.sequelize.transaction(async (transaction) => {
      const [locked] = await select<{ state: string }>(
        this.sequelize,
        'SELECT state FROM renders WHERE id = :id FOR UPDATE',
        replacements,
        transaction,
      );
      if (locked?.state !== 'rendering' && locked?.state !== 'paused') return 'render-over';
      const [held] = await select<{ held: number }>(
        this.sequelize,
        `SELECT 1 AS held FROM frames WHERE render_id = :id AND frame_index = :index AND state = 'leased' AND ${holds.condition}`,
        replacements,
        transaction,
      );
      if (!held) return 'lease-lost';
      await this.sequelize.query(
        `REPLACE INTO frame_files (project_id, render_id, frame_index, role, path, hash, bytes)
           VALUES (:projectId, :id, :index, :role, :path, :hash, :bytes)`,
        { replacements, transaction },
      );
      return { last: await this.finished(replacements, wanted, transaction) };
    });
  }

  private async finished(
    replacements: Record<string, unknown> & { id: string },
    wanted: readonly string[],
    transaction: Transaction,
  ): Promise<boolean> {
    if (wanted.length > 1) {
      const [there] = await select<{ count: number }>(
        this.sequelize,
        'SELECT COUNT(*) AS count FROM frame_files WHERE render_id = :id AND frame_index = :index AND role IN (:wanted)',
        { ...replacements, wanted },
        transaction,
      );
      if (Number(there?.count) < wanted.length) return false;
    }
    await this.sequelize.query(
      `UPDATE frames SET state = 'done', lease_id = NULL, leased_until = NULL, error = NULL, made_as = :key
         WHERE render_id = :id AND frame_index = :index`,
      { type: QueryTypes.UPDATE, replacements, transaction },
    );
    await this.sequelize.query('UPDATE renders SET frames_done = frames_done + 1 WHERE id = :id', {
      replacements,
      transaction,
    });
    await endIfAllTried(this.sequelize, replacements.id, transaction);
    return isToBeEncoded(this.sequelize, replacements.id, transaction);
  }
}

/** Ends the drawing of a render whose frames are all there, or could not be made: then it has failed, and says how many. */
export async function endIfAllTried(sequelize: Sequelize, id: string, transaction: Transaction): Promise<void> {
  await sequelize.query(
    `UPDATE renders SET state = IF(frames_failed > 0, 'failed', 'encoding'),
       error = IF(frames_failed > 1, CONCAT(frames_failed, ' frames could not be made. ', COALESCE(error, '')), error)
       WHERE id = :id AND state IN ('rendering', 'paused') AND frames_done + frames_failed >= frame_count`,
    { replacements: { id }, transaction },
  );
}
