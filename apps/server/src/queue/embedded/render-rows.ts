import type { RenderState } from '@arvex/core';
import type { Sequelize, Transaction } from 'sequelize';
import { select, write } from '../../database/select';
import { rowOf, tablesOf } from '../../database/tables';
import { Problem } from '../../problem/problem';
import type { AskedWork } from '../work-queue';
import { freeIn } from './frame-rows';

/** A render whose renderer was not heard of for so long may be gone on with by one with other graphics, seconds. */
const STAYS_S = 45;
/** So many renders are looked at for free frames. */
const MOST_TRIED = 8;

/** What the queue knows of a render. */
interface RenderRow {
  readonly state: RenderState;
  readonly mixOf: string | null;
  readonly projectId: string;
}

/**
 * Rows of renders: in which state they are, how far, and where in line. Those that have free frames are found by the rows of two tables, and
 * a state is written only where it is the one that is expected: both are statements.
 */
export class RenderRows {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly leaseMs: number,
  ) {}

  /** @throws Problem `not-found`. */
  async of(renderId: string, transaction?: Transaction): Promise<RenderRow> {
    const attributes = ['state', 'mixOf', 'projectId'];
    const options = { where: { id: renderId }, attributes };
    const row = await rowOf(tablesOf(this.sequelize).renders, transaction ? { ...options, transaction } : options);
    if (!row) throw new Problem('not-found', 'There is no such render.', { field: 'render' });
    return row;
  }

  /** The state of a render, which nobody changes until the transaction is over. */
  async locked(renderId: string, transaction: Transaction): Promise<RenderState | undefined> {
    const lock = transaction.LOCK.UPDATE;
    const options = { where: { id: renderId }, attributes: ['state'], lock, transaction };
    return (await rowOf(tablesOf(this.sequelize).renders, options))?.state;
  }

  /** Renders that have free frames of the kinds that are asked for, the first in line first. */
  async inLine({ kinds, graphics }: AskedWork): Promise<string[]> {
    const wanted = [
      ...(kinds.includes('draw') ? ['r.mix_of IS NULL'] : []),
      ...(kinds.includes('mix') ? ['r.mix_of IS NOT NULL'] : []),
    ];
    if (wanted.length === 0) return [];
    const rows = await select<{ id: string }>(
      this.sequelize,
      `SELECT r.id FROM renders r WHERE r.state = 'rendering' AND (${wanted.join(' OR ')})
           AND (r.graphics IS NULL OR r.graphics = :graphics OR r.graphics_at < NOW(3) - INTERVAL ${STAYS_S} SECOND)
           AND EXISTS (SELECT 1 FROM frames f WHERE f.render_id = r.id AND ${freeIn('f')})
         ORDER BY r.priority DESC, r.created_at, r.place LIMIT ${MOST_TRIED}`,
      { ms: this.leaseMs, graphics: graphics ?? '' },
    );
    return rows.map(({ id }) => id);
  }

  /** Puts one before whatever is in line. */
  async first(renderId: string): Promise<void> {
    const [highest] = await select<{ priority: number }>(
      this.sequelize,
      `SELECT COALESCE(MAX(priority), 0) AS priority FROM renders WHERE state IN ('rendering', 'paused') AND id <> :renderId`,
      { renderId },
    );
    await this.set(renderId, 'priority = :priority', { priority: Number(highest?.priority ?? 0) + 1 });
  }

  /**
   * Ends the drawing of a render whose frames are all there, or could not be made: then it has failed, and says how many.
   * @returns whether it is to be finished now.
   */
  async endIfAllTried(renderId: string, transaction: Transaction): Promise<boolean> {
    await this.set(
      renderId,
      `state = IF(frames_failed > 0, 'failed', 'encoding'),
         error = IF(frames_failed > 1, CONCAT(frames_failed, ' frames could not be made. ', COALESCE(error, '')), error)`,
      {},
      { transaction, where: `state IN ('rendering', 'paused') AND frames_done + frames_failed >= frame_count` },
    );
    return (await this.of(renderId, transaction)).state === 'encoding';
  }

  /** Sets columns of a render, where something is so. @returns whether it was. */
  async set(
    renderId: string,
    columns: string,
    values: Record<string, unknown> = {},
    { where = 'TRUE', transaction }: { readonly where?: string; readonly transaction?: Transaction } = {},
  ): Promise<boolean> {
    const statement = `UPDATE renders SET ${columns} WHERE id = :renderId AND ${where}`;
    return (await write(this.sequelize, statement, { ...values, renderId }, transaction)) > 0;
  }
}
