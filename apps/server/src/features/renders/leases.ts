import type { Lease } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { QueryTypes, Transaction } from 'sequelize';
import { select } from '../../database/select';
import { Problem } from '../../http/problem';
import type { FinishedFile, FrameStore } from './frame-store';
import { endIfAllTried } from './frame-store';
import type { RenderStore } from './store';

/** How long a renderer may take for the frames of one lease before others may have them. */
const LEASE_SECONDS = 60;
/** A frame that could not be made so often is left, and the rest goes on. */
const MOST_ATTEMPTS = 3;
/** A render whose renderer was not heard of for so long may be gone on with by one with other graphics, seconds. */
const STAYS_S = 45;
/** So many renders are looked at for free frames. */
const MOST_TRIED = 8;

/**
 * Whether a lease still holds. One that ends later than any that is given now was given before the clock was set back: it holds no
 * more than one that has run out.
 */
const HOLDS = `leased_until >= NOW(3) AND leased_until <= NOW(3) + INTERVAL :ms * 2000 MICROSECOND`;

/** Who makes which frames of a render just now, and what became of them. */
export class Leases {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly renders: RenderStore,
    private readonly frames: FrameStore,
    private readonly leaseSeconds: number = LEASE_SECONDS,
  ) {}

  private get leaseMs(): number {
    return Math.round(this.leaseSeconds * 1000);
  }

  /** A renderer begins anew: what it held before, it does not make any more. @returns how many frames that frees. */
  async begin(renderer: string): Promise<number> {
    const [, freed] = await this.sequelize.query(
      `UPDATE frames SET state = 'waiting', lease_id = NULL, leased_until = NULL, leased_by = NULL
         WHERE leased_by = :renderer AND state = 'leased'`,
      { type: QueryTypes.UPDATE, replacements: { renderer } },
    );
    return freed;
  }

  /**
   * Gives a renderer up to `count` frames of whatever is first in line; no render where nothing is to be made just now.
   * What one kind of graphics has begun stays with it while such a renderer lives: others draw a code value beside it.
   * @param renderer by which it is known when it begins anew; what a nameless one holds is free when its time is up.
   * @param graphics that it draws with, where it says so.
   */
  async leaseNext(count: number, renderer?: string, graphics?: string): Promise<Lease> {
    const waiting = await select<{ id: string }>(
      this.sequelize,
      `SELECT r.id FROM renders r WHERE r.state = 'rendering' AND r.mix_of IS NULL
           AND (r.graphics IS NULL OR r.graphics = :graphics OR r.graphics_at < NOW(3) - INTERVAL ${STAYS_S} SECOND) AND EXISTS (SELECT 1 FROM frames f
           WHERE f.render_id = r.id AND (f.state = 'waiting' OR (f.state = 'leased' AND NOT (${HOLDS}))))
         ORDER BY r.priority DESC, r.created_at, r.place LIMIT ${MOST_TRIED}`,
      { ms: this.leaseMs, graphics: graphics ?? '' },
    );
    // Others ask at the same time: where they have taken all of one, the next may have some.
    for (const { id } of waiting) {
      const lease = await this.lease(id, count, renderer, graphics).catch((error: unknown) => {
        if (error instanceof Problem && (error.code === 'render-over' || error.code === 'not-found')) return undefined;
        throw error;
      });
      if (lease && lease.frames.length > 0) return lease;
    }
    return { leaseId: randomUUID(), renderId: null, frames: [], seconds: this.leaseSeconds };
  }

  /**
   * Gives a renderer up to `count` frames that nobody is making. Renderers that ask at the same time get different ones.
   * No frames means that all are done or leased out.
   */
  async lease(id: string, count: number, renderer?: string, graphics?: string): Promise<Lease> {
    const render = await this.renders.get(id);
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
          `UPDATE frames SET state = 'leased', lease_id = :leaseId, leased_by = :by, graphics = :graphics,
             leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND WHERE render_id = :id AND frame_index IN (:frames)`,
          {
            replacements: { id, leaseId, by: renderer ?? null, graphics: graphics ?? null, frames, ms: this.leaseMs },
            transaction,
          },
        );
        if (graphics !== undefined) {
          await this.sequelize.query('UPDATE renders SET graphics = :graphics, graphics_at = NOW(3) WHERE id = :id', {
            replacements: { id, graphics },
            transaction,
          });
        }
      }
      return { leaseId, renderId: id, frames, seconds: this.leaseSeconds };
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
    if (row.render_state !== 'rendering' && row.render_state !== 'paused')
      throw new Problem('render-over', `This render is ${row.render_state}.`);
    if (!row.holds) throw leaseLost(index);
  }

  /**
   * Keeps a file of a frame; with the last of the roles that it has the frame is done.
   * @returns whether it was the render's last frame, so that it now is to be encoded: true for exactly one caller.
   * @throws Problem `lease-lost`, `render-over`.
   */
  async keep(
    render: { readonly id: string; readonly projectId: string },
    file: FinishedFile,
    wanted: readonly string[],
    leaseId: string,
  ): Promise<boolean> {
    const holds = { condition: `lease_id = :leaseId AND ${HOLDS}`, replacements: { leaseId, ms: this.leaseMs } };
    const kept = await this.frames.keep(render, file, wanted, holds);
    if (kept === 'lease-lost') throw leaseLost(file.index);
    if (kept === 'render-over') throw new Problem('render-over', 'This render is over.');
    return kept.last;
  }

  /**
   * Lets a lease go on for as long as a new one, so that a frame may take its time while its renderer lives.
   * @throws Problem `lease-lost` when none of its frames is held any more; `not-found`.
   */
  async extend(id: string, leaseId: string): Promise<number> {
    await this.renders.get(id);
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

  /** Notes that a frame could not be made. Others may try; after three times it is left with the reason, and the rest goes on. */
  async frameFailed(id: string, index: number, leaseId: string, why: string): Promise<void> {
    await this.mustHold(id, index, leaseId);
    await this.sequelize.transaction(async (transaction) => {
      const replacements = { id, index, leaseId, why };
      await select(this.sequelize, 'SELECT id FROM renders WHERE id = :id FOR UPDATE', { id }, transaction);
      const [, noted] = await this.sequelize.query(
        `UPDATE frames SET state = IF(attempts + 1 >= ${MOST_ATTEMPTS}, 'failed', 'waiting'), lease_id = NULL, leased_until = NULL,
           error = :why, attempts = attempts + 1 WHERE render_id = :id AND frame_index = :index AND lease_id = :leaseId`,
        { type: QueryTypes.UPDATE, replacements, transaction },
      );
      if (noted === 0) return;
      const [frame] = await select<{ state: string; file_name: string }>(
        this.sequelize,
        'SELECT state, file_name FROM frames WHERE render_id = :id AND frame_index = :index',
        replacements,
        transaction,
      );
      if (frame?.state !== 'failed') return;
      await this.sequelize.query(
        'UPDATE renders SET frames_failed = frames_failed + 1, error = :error WHERE id = :id',
        { replacements: { id, error: `Frame ${frame.file_name} could not be made: ${why}` }, transaction },
      );
      await endIfAllTried(this.sequelize, id, transaction);
    });
  }
}

function leaseLost(index: number): Problem {
  return new Problem('lease-lost', `The lease on frame ${index} has run out; ask for a new one.`, { field: 'lease' });
}
