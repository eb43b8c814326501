import type { Lease } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import type { Sequelize } from 'sequelize';
import { QueryTypes, Transaction } from 'sequelize';
import { select } from '../../database/select';
import { Problem } from '../../http/problem';
import type { RenderStore } from './store';
import { isToBeEncoded } from './store';

/** How long a renderer may take for the frames of one lease before others may have them. */
const LEASE_SECONDS = 60;
/** A frame that could not be made so often ends its render. */
const MOST_ATTEMPTS = 3;

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
    private readonly leaseSeconds: number = LEASE_SECONDS,
  ) {}

  private get leaseMs(): number {
    return Math.round(this.leaseSeconds * 1000);
  }

  /**
   * Gives a renderer up to `count` frames that nobody is making. Renderers that ask at the same time get different ones.
   * No frames means that all are done or leased out.
   */
  async lease(id: string, count: number): Promise<Lease> {
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
      return isToBeEncoded(this.sequelize, id, transaction);
    });
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
}

function leaseLost(index: number): Problem {
  return new Problem('lease-lost', `The lease on frame ${index} has run out; ask for a new one.`, { field: 'lease' });
}
