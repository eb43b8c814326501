import { randomUUID } from 'node:crypto';
import { EventEmitter } from 'node:events';
import type { Sequelize } from 'sequelize';
import { Transaction } from 'sequelize';
import { Problem } from '../../problem/problem';
import type { AskedWork, FinishedFile, GivenFrames, Gone, HeldWork, LeaseOn, WorkQueue } from '../work-queue';
import { FrameRows } from './frame-rows';
import { RenderRows } from './render-rows';
import { WholeRenders } from './whole-renders';

/** How long a worker may take for the work of one lease before others may have it. */
const LEASE_SECONDS = 60;
/** The queue in Arvex's own database: a row a frame, a row a render that is to be finished. */
export class EmbeddedQueue implements WorkQueue {
  private readonly told = new EventEmitter().setMaxListeners(0);
  private readonly renders: RenderRows;
  private readonly frames: FrameRows;
  private readonly whole: WholeRenders;

  constructor(
    private readonly sequelize: Sequelize,
    readonly leaseSeconds = LEASE_SECONDS,
  ) {
    const leaseMs = Math.round(leaseSeconds * 1000);
    this.renders = new RenderRows(sequelize, leaseMs);
    this.frames = new FrameRows(sequelize, leaseMs);
    this.whole = new WholeRenders(sequelize, leaseMs);
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
    for (const id of await this.renders.inLine(asked)) {
      const held = await this.leaseOf(id, asked).catch((error: unknown) => {
        if (error instanceof Problem && (error.code === 'render-over' || error.code === 'not-found')) return undefined;
        throw error;
      });
      if (held) return held;
    }
    return undefined;
  }

  private async leaseOf(renderId: string, asked: AskedWork): Promise<HeldWork | undefined> {
    const { state, mixOf, projectId } = await this.renders.of(renderId);
    if (state !== 'rendering') throw new Problem('render-over', `This render is ${state}.`);
    const leaseId = randomUUID();
    const frames = await this.alone(async (transaction) => {
      const taken = await this.frames.lease({ leaseId, renderId }, asked, transaction);
      if (taken.length > 0 && asked.graphics !== undefined) {
        const { graphics } = asked;
        await this.renders.set(renderId, 'graphics = :graphics, graphics_at = NOW(3)', { graphics }, { transaction });
      }
      return taken;
    });
    if (frames.length === 0) return undefined;
    return { leaseId, kind: mixOf === null ? 'draw' : 'mix', projectId, renderId, frames, seconds: this.leaseSeconds };
  }

  async mustHold(lease: LeaseOn, index: number): Promise<void> {
    const { state } = await this.renders.of(lease.renderId);
    const held = await this.frames.isHeld(lease, index);
    if (held === undefined) throw new Problem('not-found', `This render has no frame ${index}.`, { field: 'index' });
    if (state !== 'rendering' && state !== 'paused') throw new Problem('render-over', `This render is ${state}.`);
    if (!held) throw leaseLost(index);
  }

  async extend(lease: LeaseOn): Promise<number> {
    await this.renders.of(lease.renderId);
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
      const state = await this.renders.locked(renderId, transaction);
      if (state !== 'rendering' && state !== 'paused') throw new Problem('render-over', 'This render is over.');
      if (!(await this.frames.isHeld(lease, file.index, transaction))) throw leaseLost(file.index);
      if (!(await this.frames.keep(projectId, renderId, file, roles, transaction))) return false;
      await this.renders.set(renderId, 'frames_done = frames_done + 1', {}, { transaction });
      return this.endIfAllTried(renderId, transaction);
    });
    if (isLast) this.tell();
  }

  async fail(lease: LeaseOn, index: number, why: string): Promise<void> {
    await this.mustHold(lease, index);
    const { renderId } = lease;
    await this.sequelize.transaction(async (transaction) => {
      await this.renders.locked(renderId, transaction);
      const name = await this.frames.fail(lease, index, why, transaction);
      if (name === undefined) return;
      const error = `Frame ${name} could not be made: ${why}`;
      await this.renders.set(renderId, 'frames_failed = frames_failed + 1, error = :error', { error }, { transaction });
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
      await this.renders.locked(renderId, transaction);
      if (!(await this.whole.isHeld(lease, transaction)))
        throw new Problem('lease-lost', 'Another finishes this render, or it is not wanted any more.');
      await this.renders.set(renderId, set, values, { transaction, where: `state = 'encoding'` });
      await this.whole.over(renderId, transaction);
    });
  }

  async makeAnew(renderId: string, indexes: readonly number[]): Promise<void> {
    await this.sequelize.transaction(async (transaction) => {
      await this.renders.locked(renderId, transaction);
      const freed = await this.frames.makeAnew(renderId, indexes, transaction);
      const back = `frames_done = frames_done - :freed, state = IF(state = 'encoding', 'rendering', state)`;
      await this.renders.set(renderId, back, { freed }, { transaction });
      await this.whole.over(renderId, transaction);
    });
    this.tell();
  }

  async first(renderId: string): Promise<void> {
    await this.renders.of(renderId);
    await this.renders.first(renderId);
  }

  async pause(renderId: string, paused: boolean): Promise<void> {
    const [from, to] = paused ? ['rendering', 'paused'] : ['paused', 'rendering'];
    await this.renders.of(renderId);
    const changed = await this.renders.set(renderId, 'state = :to', { from, to }, { where: 'state = :from' });
    const { state } = await this.renders.of(renderId);
    if (!changed && state !== to)
      throw new Problem('render-over', `This render is ${state}; it cannot be ${paused ? 'paused' : 'gone on with'}.`);
    if (!paused) this.tell();
  }

  async cancel(renderId: string): Promise<void> {
    await this.renders.of(renderId);
    await this.sequelize.transaction(async (transaction) => {
      const where = `state IN ('rendering', 'paused', 'encoding')`;
      if (!(await this.renders.set(renderId, `state = 'cancelled'`, {}, { transaction, where })))
        throw new Problem('render-over', 'This render is over already; there is nothing to cancel.');
      await this.whole.over(renderId, transaction);
    });
    this.drop({ renderId });
  }

  async again(renderId: string): Promise<void> {
    await this.renders.of(renderId);
    await this.sequelize.transaction(async (transaction) => {
      const anew = `error = NULL, frames_failed = 0, state = 'rendering'`;
      if (!(await this.renders.set(renderId, anew, {}, { transaction, where: `state = 'failed'` })))
        throw new Problem('render-over', 'Only a render that failed can be taken up again.');
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
    await this.renders.set(renderId, 'frames_kept = frames_kept + :count', { count });
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

  /** Where all frames of a render are there, or could not be made, it is to be finished, or has failed. @returns whether it is to be finished. */
  private async endIfAllTried(renderId: string, transaction: Transaction): Promise<boolean> {
    if (!(await this.renders.endIfAllTried(renderId, transaction))) return false;
    await this.whole.give(renderId, transaction);
    return true;
  }

  /** A transaction that sees what others commit meanwhile, as one that passes over their rows has to. */
  private alone<T>(work: (transaction: Transaction) => Promise<T>): Promise<T> {
    return this.sequelize.transaction({ isolationLevel: Transaction.ISOLATION_LEVELS.READ_COMMITTED }, work);
  }
}

function leaseLost(index: number): Problem {
  return new Problem('lease-lost', `The lease on frame ${index} has run out; ask for a new one.`, { field: 'lease' });
}
