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
/** Frames of one render, at most: more than an hour at 24 a second. */
const MOST_RENDER_FRAMES = 100_000;
/** A frame that could not be made so often ends its render. */
const MOST_ATTEMPTS = 3;

/**
 * Whether a lease still holds. One that ends later than any that is given now was given before the clock was set back: it holds no
 * more than one that has run out.
 */
const HOLDS = `leased_until >= NOW(3) AND leased_until <= NOW(3) + INTERVAL :ms * 2000 MICROSECOND`;

const COLUMNS = `r.id, r.project_id AS projectId, r.sequence_id AS sequenceId, r.name, r.width_px AS widthPx,
  r.height_px AS heightPx, r.rate, r.first_frame AS firstFrame, r.frame_count AS frameCount, r.state, r.error,
  r.movie_hash AS movieHash, r.movie_bytes AS movieBytes, r.created_at AS createdAt, r.frames_done AS framesDone`;

/** Renders and their frames in the database. */
export class RenderStore {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly leaseSeconds: number = LEASE_SECONDS,
  ) {}

  private get leaseMs(): number {
    return Math.round(this.leaseSeconds * 1000);
  }

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
           AND (state = 'waiting' OR (state = 'leased' AND NOT (${HOLDS})))
           ORDER BY frame_index LIMIT :count FOR UPDATE SKIP LOCKED`,
        { id, count, ms: this.leaseMs },
        transaction,
      );
      const frames = free.map((row) => Number(row.frame_index));
      if (frames.length > 0) {
        await this.sequelize.query(
          `UPDATE frames SET state = 'leased', lease_id = :leaseId, leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND
             WHERE render_id = :id AND frame_index IN (:frames)`,
          { replacements: { id, leaseId, frames, ms: this.leaseMs }, transaction },
        );
      }
      return { leaseId, frames, seconds: this.leaseSeconds };
    });
  }

  /** Whether this lease still holds this frame. @throws Problem `lease-lost`, `render-over`, `not-found`. */
  async mustHold(id: string, index: number, leaseId: string): Promise<void> {
    const [row] = await select<{ holds: number | null; render_state: string }>(
      this.sequelize,
      `SELECT (f.lease_id = :leaseId AND f.state = 'leased' AND ${HOLDS}) AS holds,
         r.state AS render_state FROM frames f JOIN renders r ON r.id = f.render_id
         WHERE f.render_id = :id AND f.frame_index = :index`,
      { id, index, leaseId, ms: this.leaseMs },
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
           WHERE render_id = :id AND frame_index = :index AND lease_id = :leaseId AND ${HOLDS}`,
        { type: QueryTypes.UPDATE, replacements: { id, leaseId, ms: this.leaseMs, ...frame }, transaction },
      );
      if (kept === 0) throw leaseLost(frame.index);
      const [, ended] = await this.sequelize.query(
        `UPDATE renders SET frames_done = frames_done + 1,
           state = IF(frames_done >= frame_count, 'encoding', state) WHERE id = :id AND state = 'rendering'`,
        { type: QueryTypes.UPDATE, replacements: { id }, transaction },
      );
      if (ended === 0) throw new Problem('render-over', 'This render is over.');
      const [now] = await select<{ state: RenderState }>(
        this.sequelize,
        'SELECT state FROM renders WHERE id = :id',
        { id },
        transaction,
      );
      return now?.state === 'encoding';
    });
  }

  /**
   * Lets a lease go on for as long as a new one, so that a frame may take its time while its renderer lives.
   * @throws Problem `lease-lost` when none of its frames is held any more; `not-found`.
   */
  async extend(id: string, leaseId: string): Promise<number> {
    await this.get(id);
    const [, held] = await this.sequelize.query(
      `UPDATE frames SET leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND
         WHERE render_id = :id AND lease_id = :leaseId AND state = 'leased'`,
      { type: QueryTypes.UPDATE, replacements: { id, leaseId, ms: this.leaseMs } },
    );
    if (held === 0) throw new Problem('lease-lost', 'This lease holds no frame any more; ask for a new one.');
    return this.leaseSeconds;
  }

  /** Gives frames back that a renderer does not get to. */
  async release(id: string, leaseId: string): Promise<void> {
    await this.sequelize.query(
      `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL
         WHERE render_id = :id AND lease_id = :leaseId AND state = 'leased'`,
      { replacements: { id, leaseId } },
    );
  }

  /**
   * Notes that a frame could not be made. Others may try; after three times its render ends with the reason.
   * @returns whether it has ended.
   */
  async frameFailed(id: string, index: number, leaseId: string, why: string): Promise<boolean> {
    await this.mustHold(id, index, leaseId);
    return this.sequelize.transaction(async (transaction) => {
      const replacements = { id, index, leaseId };
      await this.sequelize.query(
        `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL, attempts = attempts + 1
           WHERE render_id = :id AND frame_index = :index AND lease_id = :leaseId`,
        { replacements, transaction },
      );
      const [frame] = await select<{ attempts: number; file_name: string }>(
        this.sequelize,
        'SELECT attempts, file_name FROM frames WHERE render_id = :id AND frame_index = :index',
        replacements,
        transaction,
      );
      if (Number(frame?.attempts ?? 0) < MOST_ATTEMPTS) return false;
      const error = `Frame ${frame?.file_name ?? index} could not be made: ${why}`;
      await this.sequelize.query(
        `UPDATE renders SET state = 'failed', error = :error WHERE id = :id AND state = 'rendering'`,
        { replacements: { id, error }, transaction },
      );
      return true;
    });
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
      const [now] = await select<{ state: RenderState }>(
        this.sequelize,
        'SELECT state FROM renders WHERE id = :id',
        { id },
        transaction,
      );
      return now?.state === 'encoding';
    });
  }

  /** Takes a render away with its frames and its movie. @throws Problem `not-found`. */
  async delete(id: string): Promise<void> {
    await this.get(id);
    await this.sequelize.query('DELETE FROM renders WHERE id = :id', { replacements: { id } });
  }

  /** Makes what an earlier start left unfinished in this way or that count rightly: frames that are done, by counting them. */
  async recount(id: string): Promise<void> {
    await this.sequelize.query(
      `UPDATE renders r SET frames_done = (SELECT COUNT(*) FROM frames f WHERE f.render_id = r.id AND f.state = 'done')
         WHERE r.id = :id`,
      { replacements: { id } },
    );
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
