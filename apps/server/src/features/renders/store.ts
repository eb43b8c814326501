import type { Page, Project, Rate, Render, RenderState } from '@arvex/core';
import { cutOf, frameName, projectFrom } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize, Transaction } from 'sequelize';
import { QueryTypes } from 'sequelize';
import { parsed, select } from '../../database/select';
import { Problem } from '../../http/problem';

export interface FinishedFrame {
  readonly index: number;
  readonly fileName: string;
  readonly hash: string;
  readonly bytes: number;
}

const FRAMES_INSERTED_AT_ONCE = 500;
/** Frames of one render, at most: more than an hour at 24 a second. */
const MOST_RENDER_FRAMES = 100_000;
const COLUMNS = `r.id, r.project_id AS projectId, r.sequence_id AS sequenceId, r.name, r.width_px AS widthPx,
  r.height_px AS heightPx, r.rate, r.first_frame AS firstFrame, r.frame_count AS frameCount, r.state, r.error,
  r.movie_hash AS movieHash, r.movie_bytes AS movieBytes, r.created_at AS createdAt, r.frames_done AS framesDone`;

/** Renders and their frames in the database. */
export class RenderStore {
  constructor(private readonly sequelize: Sequelize) {}

  /**
   * Plans a render of a cut at `share` of its delivery size, as the next version of its project. Later edits to the project do not
   * touch it.
   * @throws Problem `not-ready` when it has more frames than one render takes.
   */
  async create(project: Project, sequenceId: string, share: number): Promise<string> {
    const { head } = project;
    const cut = cutOf(project, sequenceId);
    if (cut.frameCount > MOST_RENDER_FRAMES) {
      const most = `One render takes up to ${MOST_RENDER_FRAMES} frames; this cut has ${cut.frameCount}.`;
      throw new Problem('not-ready', `${most} Shorten its shots, or render it in parts.`, { field: 'sequenceId' });
    }
    const id = randomUUID();
    await this.sequelize.transaction(async (transaction) => {
      const name = await this.nextVersion(head.id, transaction);
      await this.sequelize.query(
        `INSERT INTO renders (id, project_id, sequence_id, name, snapshot, width_px, height_px, rate, first_frame,
           frame_count, state) VALUES (:id, :projectId, :sequenceId, :name, :snapshot, :width, :height, :rate, :first,
           :count, 'rendering')`,
        {
          transaction,
          replacements: {
            id,
            projectId: head.id,
            sequenceId,
            name,
            snapshot: JSON.stringify(project),
            width: evenPixels(head.delivery.widthPx * share),
            height: evenPixels(head.delivery.heightPx * share),
            rate: JSON.stringify(head.rate),
            first: head.firstFrame,
            count: cut.frameCount,
          },
        },
      );
      for (let from = 0; from < cut.frameCount; from += FRAMES_INSERTED_AT_ONCE) {
        const count = Math.min(FRAMES_INSERTED_AT_ONCE, cut.frameCount - from);
        const some = Array.from({ length: count }, (_, i) => [
          head.id,
          id,
          from + i,
          frameName(project, sequenceId, from + i),
        ]);
        const values = some.map(() => "(?, ?, ?, ?, 'waiting')").join(', ');
        await this.sequelize.query(
          `INSERT INTO frames (project_id, render_id, frame_index, file_name, state) VALUES ${values}`,
          {
            replacements: some.flat(),
            transaction,
          },
        );
      }
    });
    return id;
  }

  /** `v001`, `v002` …: one more than the highest that there is; whoever asks meanwhile waits, and gets another. */
  private async nextVersion(projectId: string, transaction: Transaction): Promise<string> {
    const replacements = { projectId };
    await select(this.sequelize, 'SELECT id FROM projects WHERE id = :projectId FOR UPDATE', replacements, transaction);
    const [row] = await select<{ highest: number | null }>(
      this.sequelize,
      `SELECT MAX(CAST(SUBSTRING(name, 2) AS UNSIGNED)) AS highest FROM renders WHERE project_id = :projectId`,
      replacements,
      transaction,
    );
    return `v${String(Number(row?.highest ?? 0) + 1).padStart(3, '0')}`;
  }

  /** Renders of a project from the newest. */
  async list(projectId: string, offset: number, limit: number): Promise<Page<Render>> {
    const replacements = { projectId, offset, limit };
    const rows = await select<Record<string, unknown>>(
      this.sequelize,
      `SELECT ${COLUMNS} FROM renders r WHERE r.project_id = :projectId ORDER BY r.created_at DESC, r.id
         LIMIT :limit OFFSET :offset`,
      replacements,
    );
    const [count] = await select<{ total: number }>(
      this.sequelize,
      'SELECT COUNT(*) AS total FROM renders WHERE project_id = :projectId',
      replacements,
    );
    return { items: rows.map(renderOf), total: Number(count?.total ?? 0) };
  }

  /** @throws Problem `not-found`. */
  async get(id: string): Promise<Render> {
    const [row] = await select<Record<string, unknown>>(
      this.sequelize,
      `SELECT ${COLUMNS} FROM renders r WHERE r.id = :id`,
      { id },
    );
    if (!row) throw new Problem('not-found', 'There is no such render.', { field: 'render' });
    return renderOf(row);
  }

  /** Ids of renders in a state, oldest first. */
  async inState(state: RenderState): Promise<string[]> {
    const rows = await select<{ id: string }>(
      this.sequelize,
      'SELECT id FROM renders WHERE state = :state ORDER BY created_at',
      { state },
    );
    return rows.map((row) => row.id);
  }

  /** The project as it was when the render was asked for, in the present form. */
  async snapshot(id: string): Promise<Project> {
    const [row] = await select<{ snapshot: unknown }>(this.sequelize, 'SELECT snapshot FROM renders WHERE id = :id', {
      id,
    });
    if (!row) throw new Problem('not-found', 'There is no such render.', { field: 'render' });
    return projectFrom(parsed(row.snapshot));
  }

  /**
   * Takes up a render again that has failed: what is missing of its frames is made, then its movie.
   * @returns whether all frames are there, so that the movie is to be made.
   * @throws Problem `render-over` when it has not failed.
   */
  async again(id: string): Promise<boolean> {
    await this.get(id);
    return this.sequelize.transaction(async (transaction) => {
      const [, changed] = await this.sequelize.query(
        `UPDATE renders SET error = NULL, state = IF(frames_done >= frame_count, 'encoding', 'rendering')
           WHERE id = :id AND state = 'failed'`,
        { type: QueryTypes.UPDATE, replacements: { id }, transaction },
      );
      if (changed === 0) throw new Problem('render-over', 'Only a render that failed can be taken up again.');
      await this.sequelize.query('UPDATE frames SET attempts = 0 WHERE render_id = :id', {
        replacements: { id },
        transaction,
      });
      return isToBeEncoded(this.sequelize, id, transaction);
    });
  }

  /** Takes a render away with its frames and its movie. @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    await this.get(id);
    await this.sequelize.query('DELETE FROM renders WHERE id = :id', { replacements: { id } });
  }

  async finishedFrames(id: string): Promise<FinishedFrame[]> {
    const rows = await select<FinishedFrame>(
      this.sequelize,
      `SELECT frame_index AS \`index\`, file_name AS fileName, hash, bytes FROM frames
         WHERE render_id = :id AND state = 'done' ORDER BY frame_index`,
      { id },
    );
    return rows.map((row) => ({ ...row, index: Number(row.index), bytes: Number(row.bytes) }));
  }

  async cancel(id: string): Promise<void> {
    await this.get(id);
    const [, changed] = await this.sequelize.query(
      `UPDATE renders SET state = 'cancelled' WHERE id = :id AND state IN ('rendering', 'encoding')`,
      { type: QueryTypes.UPDATE, replacements: { id } },
    );
    if (changed === 0) throw new Problem('render-over', 'This render is over already; there is nothing to cancel.');
  }

  async encoded(id: string, movie: { hash: string; bytes: number }): Promise<void> {
    await this.sequelize.query(
      `UPDATE renders SET state = 'done', movie_hash = :hash, movie_bytes = :bytes WHERE id = :id AND state = 'encoding'`,
      { replacements: { id, ...movie } },
    );
  }

  async failed(id: string, error: string): Promise<void> {
    await this.sequelize.query(
      `UPDATE renders SET state = 'failed', error = :error WHERE id = :id AND state = 'encoding'`,
      {
        replacements: { id, error },
      },
    );
  }
}

/** Whether all frames of a render are there, so that its movie is to be made, within what just changed it. */
export async function isToBeEncoded(sequelize: Sequelize, id: string, transaction: Transaction): Promise<boolean> {
  const query = 'SELECT state FROM renders WHERE id = :id';
  const [now] = await select<{ state: RenderState }>(sequelize, query, { id }, transaction);
  return now?.state === 'encoding';
}

/** H.264 with 4:2:0 chroma wants even sizes. */
function evenPixels(px: number): number {
  return Math.max(2, 2 * Math.round(px / 2));
}

function renderOf(row: Record<string, unknown>): Render {
  const rate = row['rate'];
  return {
    ...(row as unknown as Render),
    rate: parsed(rate) as Rate,
    framesDone: Number(row['framesDone']),
    movieBytes: row['movieBytes'] === null ? null : Number(row['movieBytes']),
    createdAt: new Date(row['createdAt'] as string).toISOString(),
  };
}
