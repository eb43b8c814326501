import type { RenderState } from '@arvex/core';
import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Sequelize } from 'sequelize';
import { QueryTypes, Transaction } from 'sequelize';
import { select } from '../../database/select';
import { Problem } from '../../problem/problem';
import type { AskedWork, FinishedFile, GivenFrames, Gone, HeldWork, LeaseOn, WorkQueue } from '../work-queue';
import { FREE, FrameRows } from './frame-rows';
import { WholeRenders } from './whole-renders';

/** How long a worker may take for the work of one lease before others may have it. */
const LEASE_SECONDS = 60;
/** A render whose renderer was not heard of for so long may be gone on with by one with other graphics, seconds. */
const STAYS_S = 45;
/** So many renders are looked at for free frames. */
const MOST_TRIED = 8;

interface RenderRow {
  readonly state: RenderState;
  readonly mixOf: string | null;
  readonly projectId: string;
}

/** The queue in Arvex's own database: a row a frame, a row a render that is to be finished. */
export class EmbeddedQueue implements WorkQueue {
  private readonly told = new EventEmitter().setMaxListeners(0);
  private readonly frames: FrameRows;
  private readonly whole: WholeRenders;
  private readonly leaseMs: number;

  constructor(
    private readonly sequelize: Sequelize,
    readonly leaseSeconds = LEASE_SECONDS,
  ) {
    this.leaseMs = Math.round(leaseSeconds * 1000);
    this.frames = new FrameRows(sequelize, this.leaseMs);
    this.whole = new WholeRenders(sequelize, this.leaseMs);
  }

  /** @param within a transaction: whoever commits it then says so by {@link tell}. */
  async give(frames: GivenFrames, within?: Transaction): Promise<void> {
    await this.frames.insert(frames, within);
    if (!within) this.tell();
  }

  async begin(worker: string): Promise<number> {
    await this.whole.free(worker);
    return this.frames.free(worker);
  }

  async lease(asked: AskedWork): Promise<HeldWork | undefined> {
    if (asked.kinds.includes('finish')) {
      const leaseId = randomUUID();
      const taken = await this.alone((transaction) => this.whole.lease(leaseId, asked.worker, transaction));
      if (taken) return { leaseId, kind: 'finish', ...taken, frames: [], seconds: this.leaseSeconds };
    }
    if (asked.renderId !== undefined) return this.leaseOf(asked.renderId, asked);
    // Others ask at the same time: where they have taken all of one, the next may have some.
    for (const id of await this.inLine(asked)) {
      const held = await this.leaseOf(id, asked).catch((error: unknown) => {
        if (error instanceof Problem && (error.code === 'render-over' || error.code === 'not-found')) return undefined;
        throw error;
      });
      if (held) return held;
    }
    return undefined;
  }

  /** Renders that have free frames, the first in line first. */
  private async inLine({ kinds, graphics }: AskedWork): Promise<string[]> {
    if (!kinds.includes('draw') && !kinds.includes('mix')) return [];
    const ofKind = kinds.includes('draw')
      ? kinds.includes('mix')
        ? 'TRUE'
        : 'r.mix_of IS NULL'
      : 'r.mix_of IS NOT NULL';
    const rows = await select<{ id: string }>(
      this.sequelize,
      `SELECT r.id FROM renders r WHERE r.state = 'rendering' AND ${ofKind}
           AND (r.graphics IS NULL OR r.graphics = :graphics OR r.graphics_at < NOW(3) - INTERVAL ${STAYS_S} SECOND)
           AND EXISTS (SELECT 1 FROM frames f WHERE f.render_id = r.id AND ${FREE.replaceAll('state', 'f.state')})
         ORDER BY r.priority DESC, r.created_at, r.place LIMIT ${MOST_TRIED}`,
      { ms: this.leaseMs, graphics: graphics ?? '' },
    );
    return rows.map(({ id }) => id);
  }

  private async leaseOf(renderId: string, asked: AskedWork): Promise<HeldWork | undefined> {
    const { state, mixOf, projectId } = await this.renderOf(renderId);
    if (state !== 'rendering') throw new Problem('render-over', `This render is ${state}.`);
    const leaseId = randomUUID();
    const frames = await this.alone(async (transaction) => {
      const taken = await this.frames.lease({ leaseId, renderId }, asked, transaction);
      if (taken.length > 0 && asked.graphics !== undefined) {
        const said = { renderId, graphics: asked.graphics };
        await this.write(
          'UPDATE renders SET graphics = :graphics, graphics_at = NOW(3) WHERE id = :renderId',
          said,
          transaction,
        );
      }
      return taken;
    });
    if (frames.length === 0) return undefined;
    return { leaseId, kind: mixOf === null ? 'draw' : 'mix', projectId, renderId, frames, seconds: this.leaseSeconds };
  }

  async mustHold(lease: LeaseOn, index: number): Promise<void> {
    const { state } = await this.renderOf(lease.renderId);
    const held = await this.frames.isHeld(lease, index);
    if (held === undefined) throw new Problem('not-found', `This render has no frame ${index}.`, { field: 'index' });
    if (state !== 'rendering' && state !== 'paused') throw new Problem('render-over', `This render is ${state}.`);
    if (!held) throw leaseLost(index);
  }

  async extend(lease: LeaseOn): Promise<number> {
    await this.renderOf(lease.renderId);
    if ((await this.frames.extend(lease)) + (await this.whole.extend(lease)) === 0)
      throw new Problem('lease-lost', 'This lease holds no frame any more; ask for a new one.');
    return this.leaseSeconds;
  }

  async release(lease: LeaseOn, pauseS = 0): Promise<void> {
    await this.frames.release(lease);
    await this.whole.release(lease, pauseS);
    this.tell();
  }

  async keep(projectId: string, lease: LeaseOn, file: FinishedFile, roles: readonly string[]): Promise<void> {
    const { renderId } = lease;
    const isLast = await this.sequelize.transaction(async (transaction) => {
      const state = await this.locked(renderId, transaction);
      if (state !== 'rendering' && state !== 'paused') throw new Problem('render-over', 'This render is over.');
      if (!(await this.frames.isHeld(lease, file.index, transaction))) throw leaseLost(file.index);
      if (!(await this.frames.keep(projectId, renderId, file, roles, transaction))) return false;
      await this.write(
        'UPDATE renders SET frames_done = frames_done + 1 WHERE id = :renderId',
        { renderId },
        transaction,
      );
      return this.endIfAllTried(renderId, transaction);
    });
    if (isLast) this.tell();
  }

  async fail(lease: LeaseOn, index: number, why: string): Promise<void> {
    await this.mustHold(lease, index);
    const { renderId } = lease;
    await this.sequelize.transaction(async (transaction) => {
      await this.locked(renderId, transaction);
      const name = await this.frames.fail(lease, index, why, transaction);
      if (name === undefined) return;
      await this.write(
        'UPDATE renders SET frames_failed = frames_failed + 1, error = :error WHERE id = :renderId',
        { renderId, error: `Frame ${name} could not be made: ${why}` },
        transaction,
      );
      await this.endIfAllTried(renderId, transaction);
    });
    this.tell();
  }

  async finished(lease: LeaseOn, outcome: { folder: string | null } | { failed: string }): Promise<void> {
    const { renderId } = lease;
    const [set, values] =
      'failed' in outcome
        ? [`state = 'failed', error = :error`, { error: outcome.failed }]
        : [`state = 'done', delivered_to = :folder`, { folder: outcome.folder }];
    await this.sequelize.transaction(async (transaction) => {
      await this.locked(renderId, transaction);
      if (!(await this.whole.isHeld(lease, transaction)))
        throw new Problem('lease-lost', 'Another finishes this render, or it is not wanted any more.');
      await this.write(
        `UPDATE renders SET ${set} WHERE id = :renderId AND state = 'encoding'`,
        { renderId, ...values },
        transaction,
      );
      await this.whole.over(renderId, transaction);
    });
  }

  async makeAnew(renderId: string, indexes: readonly number[]): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await this.locked(renderId, transaction);
      const freed = await this.frames.makeAnew(renderId, indexes, transaction);
      await this.write(
        `UPDATE renders SET frames_done = frames_done - :freed, state = IF(state = 'encoding', 'rendering', state)
           WHERE id = :renderId`,
        { renderId, freed },
        transaction,
      );
      await this.whole.over(renderId, transaction);
    });
    this.tell();
  }

  async first(renderId: string): Promise<void> {
    await this.renderOf(renderId);
    const [highest] = await select<{ priority: number }>(
      this.sequelize,
      `SELECT COALESCE(MAX(priority), 0) AS priority FROM renders WHERE state IN ('rendering', 'paused') AND id <> :renderId`,
      { renderId },
    );
    const priority = Number(highest?.priority ?? 0) + 1;
    await this.write('UPDATE renders SET priority = :priority WHERE id = :renderId', { renderId, priority });
  }

  async pause(renderId: string, paused: boolean): Promise<void> {
    const [from, to] = paused ? ['rendering', 'paused'] : ['paused', 'rendering'];
    const { state } = await this.renderOf(renderId);
    const query = 'UPDATE renders SET state = :to WHERE id = :renderId AND state = :from';
    const changed = await this.write(query, { renderId, from, to });
    if (changed === 0 && state !== to && (await this.renderOf(renderId)).state !== to)
      throw new Problem('render-over', `This render is ${state}; it cannot be ${paused ? 'paused' : 'gone on with'}.`);
    if (!paused) this.tell();
  }

  async cancel(renderId: string): Promise<void> {
    await this.renderOf(renderId);
    await this.sequelize.transaction(async (transaction) => {
      const changed = await this.write(
        `UPDATE renders SET state = 'cancelled' WHERE id = :renderId AND state IN ('rendering', 'paused', 'encoding')`,
        { renderId },
        transaction,
      );
      if (changed === 0) throw new Problem('render-over', 'This render is over already; there is nothing to cancel.');
      await this.whole.over(renderId, transaction);
    });
    this.drop({ renderId });
  }

  async again(renderId: string): Promise<void> {
    await this.renderOf(renderId);
    await this.sequelize.transaction(async (transaction) => {
      const changed = await this.write(
        `UPDATE renders SET error = NULL, frames_failed = 0, state = 'rendering' WHERE id = :renderId AND state = 'failed'`,
        { renderId },
        transaction,
      );
      if (changed === 0) throw new Problem('render-over', 'Only a render that failed can be taken up again.');
      await this.frames.tryAgain(renderId, transaction);
      await this.endIfAllTried(renderId, transaction);
    });
    this.tell();
  }

  files(renderId: string, role?: string, index?: number): Promise<FinishedFile[]> {
    return this.frames.files(renderId, role ?? null, index);
  }

  allFiles(renderId: string): Promise<FinishedFile[]> {
    return this.frames.files(renderId, undefined);
  }

  async at(renderId: string, path: string): Promise<FinishedFile | undefined> {
    return (await this.frames.at(renderId, path))[0];
  }

  async picture(renderId: string, index?: number): Promise<FinishedFile | undefined> {
    return (await this.frames.picture(renderId, index))[0];
  }

  async nameOf(renderId: string, index: number): Promise<string> {
    const name = await this.frames.nameOf(renderId, index);
    if (name === undefined) throw new Problem('not-found', `This render has no frame ${index}.`, { field: 'index' });
    return name;
  }

  graphics(renderId: string): Promise<string[]> {
    return this.frames.graphics(renderId);
  }

  madeAs(projectId: string, key: string): Promise<FinishedFile[]> {
    return this.frames.madeAs(projectId, key);
  }

  async countKept(renderId: string, count: number): Promise<void> {
    await this.write('UPDATE renders SET frames_kept = frames_kept + :count WHERE id = :renderId', { renderId, count });
  }

  onWork(listener: () => void): () => void {
    this.told.on('work', listener);
    return () => this.told.off('work', listener);
  }

  drop(gone: Gone): void {
    this.told.emit('gone', gone);
  }

  onGone(listener: (gone: Gone) => void): () => void {
    this.told.on('gone', listener);
    return () => this.told.off('gone', listener);
  }

  /** Says to this process that there may be work. */
  tell(): void {
    this.told.emit('work');
  }

  /**
   * Ends the drawing of a render whose frames are all there, or could not be made: then it has failed, and says how many.
   * @returns whether it is to be finished now.
   */
  private async endIfAllTried(renderId: string, transaction: Transaction): Promise<boolean> {
    await this.write(
      `UPDATE renders SET state = IF(frames_failed > 0, 'failed', 'encoding'),
         error = IF(frames_failed > 1, CONCAT(frames_failed, ' frames could not be made. ', COALESCE(error, '')), error)
         WHERE id = :renderId AND state IN ('rendering', 'paused') AND frames_done + frames_failed >= frame_count`,
      { renderId },
      transaction,
    );
    const { state } = await this.renderOf(renderId, transaction);
    if (state !== 'encoding') return false;
    await this.whole.give(renderId, transaction);
    return true;
  }

  /** @throws Problem `not-found`. */
  private async renderOf(renderId: string, transaction?: Transaction): Promise<RenderRow> {
    const query = 'SELECT state, mix_of AS mixOf, project_id AS projectId FROM renders WHERE id = :renderId';
    const [row] = await select<RenderRow>(this.sequelize, query, { renderId }, transaction);
    if (!row) throw new Problem('not-found', 'There is no such render.', { field: 'render' });
    return row;
  }

  /** The state of a render, which nobody changes until the transaction is over. */
  private async locked(renderId: string, transaction: Transaction): Promise<RenderState | undefined> {
    const query = 'SELECT state FROM renders WHERE id = :renderId FOR UPDATE';
    const [row] = await select<{ state: RenderState }>(this.sequelize, query, { renderId }, transaction);
    return row?.state;
  }

  /** A transaction that sees what others commit meanwhile, as one that passes over their rows has to. */
  private alone<T>(work: (transaction: Transaction) => Promise<T>): Promise<T> {
    return this.sequelize.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED }, work);
  }

  /** @returns how many rows were changed. */
  private async write(statement: string, values: Record<string, unknown>, transaction?: Transaction): Promise<number> {
    const [, changed] = await this.sequelize.query(statement, {
      type: QueryTypes.UPDATE,
      replacements: values,
      ...(transaction && { transaction }),
    });
    return changed;
  }
}

function leaseLost(index: number): Problem {
  return new Problem('lease-lost', `The lease on frame ${index} has run out; ask for a new one.`, { field: 'lease' });
}
