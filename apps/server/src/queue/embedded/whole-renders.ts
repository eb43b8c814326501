import { randomUUID } from 'node:crypto';
import type { Sequelize, Transaction } from 'sequelize';
import { select, write } from '../../database/select';
import type { HeldWork, LeaseOn } from '../work-queue';
import { freeIn, HOLDS } from './frame-rows';

/**
 * Renders that are to be finished as a whole, each by one worker: rows of `jobs`. Statements of their own, as leasing passes over rows that
 * others hold.
 */
export class WholeRenders {
  constructor(
    private readonly sequelize: Sequelize,
    private readonly leaseMs: number,
  ) {}

  /** Puts a render in, once. */
  async give(renderId: string, transaction: Transaction): Promise<void> {
    await this.write(
      `INSERT IGNORE INTO jobs (id, kind, project_id, render_id, state)
         SELECT :id, 'finish', project_id, id, 'waiting' FROM renders WHERE id = :renderId`,
      { id: randomUUID(), renderId },
      transaction,
    );
  }

  /** Takes the first render that nobody finishes. */
  async lease(
    leaseId: string,
    worker: string | undefined,
    transaction: Transaction,
  ): Promise<Pick<HeldWork, 'projectId' | 'renderId'> | undefined> {
    const [free] = await select<{ id: string; projectId: string; renderId: string }>(
      this.sequelize,
      `SELECT j.id, j.project_id AS projectId, j.render_id AS renderId FROM jobs j JOIN renders r ON r.id = j.render_id
         WHERE j.kind = 'finish' AND r.state = 'encoding' AND ${freeIn('j')}
           AND (j.not_before IS NULL OR j.not_before <= NOW(3) OR j.not_before > NOW(3) + INTERVAL 1 HOUR)
         ORDER BY r.priority DESC, j.created_at, r.place LIMIT 1 FOR UPDATE SKIP LOCKED`,
      { ms: this.leaseMs },
      transaction,
    );
    if (!free) return undefined;
    await this.write(
      `UPDATE jobs SET state = 'leased', lease_id = :leaseId, leased_by = :worker, not_before = NULL,
         leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND WHERE id = :id`,
      { id: free.id, leaseId, worker: worker ?? null },
      transaction,
    );
    return { projectId: free.projectId, renderId: free.renderId };
  }

  /** Whether a lease holds a render, which then nobody else takes or ends until the transaction is over. */
  async isHeld({ leaseId, renderId }: LeaseOn, transaction: Transaction): Promise<boolean> {
    const [row] = await select<{ held: number }>(
      this.sequelize,
      `SELECT 1 AS held FROM jobs WHERE render_id = :renderId AND lease_id = :leaseId AND state = 'leased' AND ${HOLDS} FOR UPDATE`,
      { renderId, leaseId, ms: this.leaseMs },
      transaction,
    );
    return row !== undefined;
  }

  /** @returns how many it still holds; none where the render is not to be finished any more. */
  extend({ leaseId, renderId }: LeaseOn): Promise<number> {
    return this.write(
      `UPDATE jobs j JOIN renders r ON r.id = j.render_id SET j.leased_until = NOW(3) + INTERVAL :ms * 1000 MICROSECOND
         WHERE j.render_id = :renderId AND j.lease_id = :leaseId AND j.state = 'leased' AND r.state = 'encoding'`,
      { renderId, leaseId },
    );
  }

  release({ leaseId, renderId }: LeaseOn, pauseS: number): Promise<number> {
    return this.write(
      `UPDATE jobs SET state = 'waiting', lease_id = NULL, leased_until = NULL, not_before = NOW(3) + INTERVAL :pauseMs * 1000 MICROSECOND
         WHERE render_id = :renderId AND lease_id = :leaseId AND state = 'leased'`,
      { renderId, leaseId, pauseMs: Math.round(pauseS * 1000) },
    );
  }

  free(worker: string): Promise<number> {
    return this.write(
      `UPDATE jobs SET state = 'waiting', lease_id = NULL, leased_until = NULL WHERE leased_by = :worker AND state = 'leased'`,
      { worker },
    );
  }

  /** It is over, however it ended. */
  async over(renderId: string, transaction: Transaction): Promise<void> {
    await this.write('DELETE FROM jobs WHERE render_id = :renderId', { renderId }, transaction);
  }

  /** @returns how many rows it met. */
  private write(statement: string, values: Record<string, unknown>, transaction?: Transaction): Promise<number> {
    return write(this.sequelize, statement, { ...values, ms: this.leaseMs }, transaction);
  }
}
