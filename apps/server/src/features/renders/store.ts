import type { Page, Render, RenderFile } from '@arvex/core';
import { anyOrderSchema, chosenFormats } from '@arvex/core';
import type { Sequelize } from 'sequelize';
import { parsed, select } from '../../database/select';
import { rowsOf, tablesOf } from '../../database/tables';
import { Problem } from '../../problem/problem';

/** A render beside what its order says, in the order of their orders: two tables in one question. */
const COLUMNS = `r.id, r.order_id AS orderId, r.project_id AS projectId, r.name, r.title, r.width_px AS widthPx,
  r.height_px AS heightPx, r.rate, r.first_frame AS firstFrame, r.frame_count AS frameCount, r.state, r.error,
  r.frames_done AS framesDone, r.frames_failed AS framesFailed, r.frames_kept AS framesKept, r.graphics, r.priority, r.delivered_to AS folder, r.mix_of AS mixOf,
  r.created_at AS createdAt, o.author, o.what`;
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
    const total = await tablesOf(this.sequelize).renders.count({ where: { projectId } });
    return { items: await this.withFiles(rows), total };
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

  /** Takes a render away with its frames and its movies, and its order once it has no other. @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    const { orderId } = await this.get(id);
    await this.sequelize.transaction(async (transaction) => {
      await tablesOf(this.sequelize).renders.destroy({ where: { id }, transaction });
      // One statement, so that no part of it comes between: a model deletes by its own columns only.
      await this.sequelize.query(
        `DELETE FROM render_orders WHERE id = :orderId AND NOT EXISTS (SELECT 1 FROM renders WHERE order_id = :orderId)`,
        { replacements: { orderId }, transaction },
      );
    });
  }

  /** Keeps a file that was made; one of the same path before it is forgotten. */
  async keep(render: Pick<Render, 'id' | 'projectId'>, { path, kind, hash, bytes }: MadeFile): Promise<void> {
    const row = { projectId: render.projectId, renderId: render.id, path, kind, hash, bytes };
    await tablesOf(this.sequelize).renderFiles.upsert(row);
  }

  /** Files that were made, by path. */
  async made(id: string): Promise<MadeFile[]> {
    const rows = await rowsOf(tablesOf(this.sequelize).renderFiles, { where: { renderId: id }, order: ['path'] });
    return rows.map(({ path, kind, hash, bytes }) => ({
      path,
      kind: kind as MadeFile['kind'],
      hash,
      bytes: Number(bytes),
    }));
  }

  private async withFiles(rows: readonly Record<string, unknown>[]): Promise<Render[]> {
    if (rows.length === 0) return [];
    const files = await rowsOf(tablesOf(this.sequelize).renderFiles, {
      where: { renderId: rows.map((row) => row['id'] as string) },
      order: ['path'],
    });
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
          .filter((file) => file.renderId === row['id'])
          .map(({ path, kind, bytes }) => ({ path, kind: kind as RenderFile['kind'], bytes: Number(bytes) })),
        createdAt: new Date(createdAt as string).toISOString(),
      };
    });
  }
}
