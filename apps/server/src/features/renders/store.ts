import type { Page, Render, RenderFile, RenderState } from '@arvex/core';
import { anyOrderSchema, chosenFormats } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { QueryTypes } from 'sequelize';
import { parsed, select } from '../../database/select';
import { Problem } from '../../http/problem';

const COLUMNS = `r.id, r.order_id AS orderId, r.project_id AS projectId, r.name, r.title, r.width_px AS widthPx,
  r.height_px AS heightPx, r.rate, r.first_frame AS firstFrame, r.frame_count AS frameCount, r.state, r.error,
  r.frames_done AS framesDone, r.frames_failed AS framesFailed, r.frames_kept AS framesKept, r.graphics, r.priority, r.delivered_to AS folder, r.mix_of AS mixOf,
  r.created_at AS createdAt, o.what`;
const FROM = 'FROM renders r JOIN render_orders o ON o.project_id = r.project_id AND o.id = r.order_id';

/** A file that is made when all frames are there, as it is kept. */
export interface MadeFile extends RenderFile {
  readonly hash: string;
}

/** Renders in the database: the parts of orders, and what has been made of them. */
export class RenderStore {
  constructor(private readonly sequelize: Sequelize) {}

  /** Renders of a project from the newest order, each order's in the order of its parts. */
  async list(projectId: string, offset: number, limit: number): Promise<Page<Render>> {
    const rows = await select<Record<string, unknown>>(
      this.sequelize,
      `SELECT ${COLUMNS} ${FROM} WHERE r.project_id = :projectId ORDER BY o.created_at DESC, o.id, r.place
         LIMIT :limit OFFSET :offset`,
      { projectId, offset, limit },
    );
    const [count] = await select<{ total: number }>(
      this.sequelize,
      'SELECT COUNT(*) AS total FROM renders WHERE project_id = :projectId',
      { projectId },
    );
    return { items: await this.withFiles(rows), total: Number(count?.total ?? 0) };
  }

  /** @throws Problem `not-found`. */
  async get(id: string): Promise<Render> {
    const rows = await select<Record<string, unknown>>(this.sequelize, `SELECT ${COLUMNS} ${FROM} WHERE r.id = :id`, {
      id,
    });
    const [render] = await this.withFiles(rows);
    if (!render) throw new Problem('not-found', 'There is no such render.', { field: 'render' });
    return render;
  }

  /** Ids of renders in a state, oldest first. */
  async inState(state: RenderState): Promise<string[]> {
    const rows = await select<{ id: string }>(
      this.sequelize,
      'SELECT id FROM renders WHERE state = :state ORDER BY created_at, place',
      { state },
    );
    return rows.map((row) => row.id);
  }

  /**
   * Takes up a render again that has failed: what is missing of its frames is made, then its movies.
   * @returns whether all frames are there, so that the movies are to be made.
   * @throws Problem `render-over` when it has not failed.
   */
  async again(id: string): Promise<boolean> {
    await this.get(id);
    return this.sequelize.transaction(async (transaction) => {
      const [, changed] = await this.sequelize.query(
        `UPDATE renders SET error = NULL, frames_failed = 0, state = IF(frames_done >= frame_count, 'encoding', 'rendering')
           WHERE id = :id AND state = 'failed'`,
        { type: QueryTypes.UPDATE, replacements: { id }, transaction },
      );
      if (changed === 0) throw new Problem('render-over', 'Only a render that failed can be taken up again.');
      await this.sequelize.query(
        `UPDATE frames SET attempts = 0, error = NULL, state = IF(state = 'failed', 'waiting', state) WHERE render_id = :id`,
        { replacements: { id }, transaction },
      );
      return isToBeEncoded(this.sequelize, id, transaction);
    });
  }

  /** Takes a render away with its frames and its movies, and its order once it has no other. @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    const { orderId } = await this.get(id);
    await this.sequelize.transaction(async (transaction) => {
      await this.sequelize.query('DELETE FROM renders WHERE id = :id', { replacements: { id }, transaction });
      await this.sequelize.query(
        `DELETE FROM render_orders WHERE id = :orderId AND NOT EXISTS (SELECT 1 FROM renders WHERE order_id = :orderId)`,
        { replacements: { orderId }, transaction },
      );
    });
  }

  /** Lets a render wait, or go on. @throws Problem `render-over` when it does neither. */
  async pause(id: string, paused: boolean): Promise<void> {
    await this.get(id);
    const [from, to] = paused ? ['rendering', 'paused'] : ['paused', 'rendering'];
    const [, changed] = await this.sequelize.query(
      'UPDATE renders SET state = :to WHERE id = :id AND state IN (:from, :to)',
      { type: QueryTypes.UPDATE, replacements: { id, from, to } },
    );
    if (changed > 0) return;
    const { state } = await this.get(id);
    if (state !== to)
      throw new Problem('render-over', `This render is ${state}; it cannot be ${paused ? 'paused' : 'gone on with'}.`);
  }

  /** Puts a render first in line, before whatever is. */
  async first(id: string): Promise<void> {
    await this.get(id);
    const [highest] = await select<{ priority: number }>(
      this.sequelize,
      `SELECT COALESCE(MAX(priority), 0) AS priority FROM renders WHERE state IN ('rendering', 'paused') AND id <> :id`,
      { id },
    );
    await this.sequelize.query('UPDATE renders SET priority = :priority WHERE id = :id', {
      replacements: { id, priority: Number(highest?.priority ?? 0) + 1 },
    });
  }

  async cancel(id: string): Promise<void> {
    await this.get(id);
    const [, changed] = await this.sequelize.query(
      `UPDATE renders SET state = 'cancelled' WHERE id = :id AND state IN ('rendering', 'paused', 'encoding')`,
      { type: QueryTypes.UPDATE, replacements: { id } },
    );
    if (changed === 0) throw new Problem('render-over', 'This render is over already; there is nothing to cancel.');
  }

  /** Keeps a file that was made; one of the same path before it is forgotten. */
  async keep(render: Pick<Render, 'id' | 'projectId'>, { path, kind, hash, bytes }: MadeFile): Promise<void> {
    await this.sequelize.query(
      `REPLACE INTO render_files (project_id, render_id, path, kind, hash, bytes)
         VALUES (:projectId, :id, :path, :kind, :hash, :bytes)`,
      { replacements: { projectId: render.projectId, id: render.id, path, kind, hash, bytes } },
    );
  }

  /** Files that were made, by path. */
  async made(id: string): Promise<MadeFile[]> {
    const rows = await select<MadeFile>(
      this.sequelize,
      'SELECT path, kind, hash, bytes FROM render_files WHERE render_id = :id ORDER BY path',
      { id },
    );
    return rows.map((row) => ({ ...row, bytes: Number(row.bytes) }));
  }

  /** Everything is made, and lies in a folder if one was asked for. */
  async done(id: string, deliveredTo: string | null): Promise<void> {
    await this.sequelize.query(
      `UPDATE renders SET state = 'done', delivered_to = :deliveredTo WHERE id = :id AND state = 'encoding'`,
      { replacements: { id, deliveredTo } },
    );
  }

  async failed(id: string, error: string): Promise<void> {
    await this.sequelize.query(
      `UPDATE renders SET state = 'failed', error = :error WHERE id = :id AND state = 'encoding'`,
      { replacements: { id, error } },
    );
  }

  private async withFiles(rows: readonly Record<string, unknown>[]): Promise<Render[]> {
    if (rows.length === 0) return [];
    const files = await select<RenderFile & { render_id: string }>(
      this.sequelize,
      'SELECT render_id, path, kind, bytes FROM render_files WHERE render_id IN (:ids) ORDER BY path',
      { ids: rows.map((row) => row['id']) },
    );
    return rows.map((row) => {
      const { priority, rate, what, createdAt, ...rest } = row;
      const { formats } = anyOrderSchema.parse(parsed(what));
      return {
        ...(rest as unknown as Render),
        rate: parsed(rate) as Render['rate'],
        framesDone: Number(row['framesDone']),
        framesFailed: Number(row['framesFailed']),
        framesKept: Number(row['framesKept']),
        isFirst: Number(priority) > 0,
        hasFrames: chosenFormats(formats.pictures).length > 0,
        isSeen: formats.movies.length > 0 || chosenFormats(formats.pictures).some(({ format }) => format.inBrowsers),
        isApart: formats.layers.lightGroups,
        files: files
          .filter((file) => file.render_id === row['id'])
          .map(({ path, kind, bytes }) => ({ path, kind, bytes: Number(bytes) })),
        createdAt: new Date(createdAt as string).toISOString(),
      };
    });
  }
}

/** Whether all frames of a render are there, so that its movies are to be made, within what just changed it. */
export async function isToBeEncoded(sequelize: Sequelize, id: string, transaction: Transaction): Promise<boolean> {
  const query = 'SELECT state FROM renders WHERE id = :id';
  const [now] = await select<{ state: RenderState }>(sequelize, query, { id }, transaction);
  return now?.state === 'encoding';
}
