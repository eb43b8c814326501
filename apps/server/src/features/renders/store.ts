import type { Lease, Page, Project, Rate, Render, RenderState } from '@arvex/core';
import { cutOf, frameName, projectFrom } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { QueryTypes, Transaction } from 'sequelize';
import { parsed, select } from '../../database/select';
import { Problem } from '../../http/problem';

export interface FinishedFrame {
  readonly index: number;
  readonly fileName: string;
  readonly hash: string;
  readonly bytes: number;
}

/** How long a renderer may take for the frames of one lease before others may have them. */
const LEASE_SECONDS = 60;
const FRAMES_INSERTED_AT_ONCE = 500;

const COLUMNS = `r.id, r.project_id AS projectId, r.sequence_id AS sequenceId, r.name, r.width_px AS widthPx,
  r.height_px AS heightPx, r.rate, r.first_frame AS firstFrame, r.frame_count AS frameCount, r.state, r.error,
  r.movie_hash AS movieHash, r.movie_bytes AS movieBytes, r.created_at AS createdAt,
  (SELECT COUNT(*) FROM frames f WHERE f.render_id = r.id AND f.state = 'done') AS framesDone`;

/** Renders and their frames in the database. */
export class RenderStore {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly leaseSeconds: number = LEASE_SECONDS,
  ) {}

  /** Plans a render of a cut at `share` of its delivery size. Later edits to the project do not touch it. */
  async create(project: Project, sequenceId: string, share: number, name: string): Promise<string> {
    const { head } = project;
    const cut = cutOf(project, sequenceId);
    const id = randomUUID();
    await this.sequelize.transaction(async (transaction) => {
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
      const rows = Array.from({ length: cut.frameCount }, (_, index) => [
        head.id,
        id,
        index,
        frameName(project, sequenceId, index),
      ]);
      for (let from = 0; from < rows.length; from += FRAMES_INSERTED_AT_ONCE) {
        const some = rows.slice(from, from + FRAMES_INSERTED_AT_ONCE);
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
   * Gives a renderer up to `count` frames that nobody is making. Renderers that ask at the same time get different ones.
   * No frames means that all are done or leased out.
   */
  async lease(id: string, count: number): Promise<Lease> {
    const render = await this.get(id);
    if (render.state !== 'rendering') throw new Problem('render-over', `This render is ${render.state}.`);
    const leaseId = randomUUID();
    const isolationLevel = Transaction.ISOLATION_LEVELS.READ_COMMITTED;
    return this.sequelize.transaction({ isolationLevel }, async (transaction) => {
      const free = await select<{ frame_index: number }>(
        this.sequelize,
        `SELECT frame_index FROM frames WHERE render_id = :id
           AND (state = 'waiting' OR (state = 'leased' AND leased_until < NOW(3)))
           ORDER BY frame_index LIMIT :count FOR UPDATE SKIP LOCKED`,
        { id, count },
        transaction,
      );
      const frames = free.map((row) => Number(row.frame_index));
      if (frames.length > 0) {
        await this.sequelize.query(
          `UPDATE frames SET state = 'leased', lease_id = :leaseId, leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND
             WHERE render_id = :id AND frame_index IN (:frames)`,
          { replacements: { id, leaseId, frames, ms: Math.round(this.leaseSeconds * 1000) }, transaction },
        );
      }
      return { leaseId, frames, seconds: this.leaseSeconds };
    });
  }

  /** Whether this lease still holds this frame. @throws Problem `lease-lost`, `render-over`, `not-found`. */
  async mustHold(id: string, index: number, leaseId: string): Promise<void> {
    const [row] = await select<{ holds: number | null; render_state: string }>(
      this.sequelize,
      `SELECT (f.lease_id = :leaseId AND f.state = 'leased' AND f.leased_until >= NOW(3)) AS holds,
         r.state AS render_state FROM frames f JOIN renders r ON r.id = f.render_id
         WHERE f.render_id = :id AND f.frame_index = :index`,
      { id, index, leaseId },
    );
    if (!row) throw new Problem('not-found', `This render has no frame ${index}.`, { field: 'index' });
    if (row.render_state !== 'rendering') throw new Problem('render-over', `This render is ${row.render_state}.`);
    if (!row.holds) throw leaseLost(index);
  }

  /**
   * Keeps a finished frame.
   * @returns whether it was the last one, so that the render now is to be encoded: true for exactly one caller.
   */
  async finish(id: string, frame: { index: number; hash: string; bytes: number }, leaseId: string): Promise<boolean> {
    return this.sequelize.transaction(async (transaction) => {
      await select(this.sequelize, 'SELECT id FROM renders WHERE id = :id FOR UPDATE', { id }, transaction);
      const [, kept] = await this.sequelize.query(
        `UPDATE frames SET state = 'done', hash = :hash, bytes = :bytes, lease_id = NULL, leased_until = NULL
           WHERE render_id = :id AND frame_index = :index AND lease_id = :leaseId AND leased_until >= NOW(3)`,
        { type: QueryTypes.UPDATE, replacements: { id, leaseId, ...frame }, transaction },
      );
      if (kept === 0) throw leaseLost(frame.index);
      const [, ended] = await this.sequelize.query(
        `UPDATE renders SET state = 'encoding' WHERE id = :id AND state = 'rendering'
           AND NOT EXISTS (SELECT 1 FROM frames WHERE render_id = :id AND state <> 'done')`,
        { type: QueryTypes.UPDATE, replacements: { id }, transaction },
      );
      return ended > 0;
    });
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

/** H.264 with 4:2:0 chroma wants even sizes. */
function evenPixels(px: number): number {
  return Math.max(2, 2 * Math.round(px / 2));
}

function leaseLost(index: number): Problem {
  return new Problem('lease-lost', `The lease on frame ${index} has run out; ask for a new one.`, { field: 'lease' });
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
