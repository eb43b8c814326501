import { setTimeout as sleep } from 'node:timers/promises';
import { databaseProblem } from '../database/connection';
import { Problem } from '../problem/problem';
import type { Gone, HeldWork, WorkKind, WorkQueue } from './work-queue';

/** Work that another process was given is found after so long, milliseconds. */
const LOOK_MS = 5000;
/** Pauses while the database or the disk is away, seconds: they grow. */
const PAUSES_S = [1, 2, 5, 10, 30] as const;
/** A lease is extended when so much of it is over. */
const EXTENDED_AFTER = 1 / 3;

/** What a worker of this process does. */
export interface WorkerOptions {
  /** By which it is known when it begins anew. */
  readonly name: string;
  readonly kind: WorkKind;
  /** Frames that it takes at once. */
  readonly count: number;
  /**
   * Does the work, until it is done or the signal says that it is not wanted any more. What is thrown of a database or a disk that is
   * away is tried again after a pause.
   */
  readonly work: (held: HeldWork, signal: AbortSignal) => Promise<void>;
  readonly warn: (error: unknown) => void;
}

/** Takes work of one kind out of the queue, one piece after another, for as long as the process lives. */
export class Worker {
  private readonly ending = new AbortController();
  private running: AbortController | undefined;
  private held: HeldWork | undefined;
  private wake: (() => void) | undefined;
  private readonly ended: Promise<void>;
  private tries = 0;
  /** Whether somebody said that there may be work since it was looked for last. */
  private isTold = false;

  constructor(
    private readonly queue: WorkQueue,
    private readonly options: WorkerOptions,
  ) {
    const forget = [queue.onWork(() => this.look()), queue.onGone((gone) => this.giveUp(gone))];
    this.ended = this.all().finally(() => forget.forEach((end) => end()));
  }

  /** Looks for work now, or as soon as it is done with what it does. */
  private look(): void {
    this.isTold = true;
    this.wake?.();
  }

  private get name(): string {
    return `${this.options.name}/${this.options.kind}`;
  }

  private giveUp(gone: Gone): void {
    const isOurs = 'renderId' in gone ? this.held?.renderId === gone.renderId : this.held?.projectId === gone.projectId;
    if (isOurs) this.running?.abort();
  }

  /** Ends in the middle of what it does, and gives that back. */
  async close(): Promise<void> {
    this.ending.abort();
    this.running?.abort();
    this.look();
    await this.ended;
  }

  private async all(): Promise<void> {
    const { kind, count, warn } = this.options;
    // What it held in an earlier life, or when the database went away, is free again.
    let isNew = true;
    while (!this.ending.signal.aborted) {
      try {
        if (isNew) await this.queue.begin(this.name);
        isNew = false;
        this.isTold = false;
        const held = await this.queue.lease({ kinds: [kind], count, worker: this.name });
        if (held) await this.one(held);
        else await this.rest(LOOK_MS);
      } catch (error) {
        isNew = true;
        warn(error);
        this.isTold = false;
        await this.rest(this.pauseS() * 1000);
      }
    }
  }

  /** Waits, unless somebody says that there is work. */
  private async rest(ms: number): Promise<void> {
    if (this.isTold || this.ending.signal.aborted) return;
    const woken = new AbortController();
    this.wake = () => woken.abort();
    await sleep(ms, undefined, { ref: false, signal: woken.signal }).catch(() => undefined);
    this.wake = undefined;
  }

  private pauseS(): number {
    return PAUSES_S[Math.min(this.tries++, PAUSES_S.length - 1)] ?? 30;
  }

  private async one(held: HeldWork): Promise<void> {
    const running = new AbortController();
    [this.held, this.running] = [held, running];
    const living = setInterval(() => this.extend(held, running), held.seconds * 1000 * EXTENDED_AFTER).unref();
    try {
      await this.options.work(held, running.signal);
      this.tries = 0;
      if (running.signal.aborted) await this.queue.release(held).catch(() => undefined);
    } catch (error) {
      if (error instanceof Problem && (error.code === 'not-found' || error.code === 'lease-lost')) return; // deleted, or taken over
      if (running.signal.aborted) return void (await this.queue.release(held).catch(() => undefined));
      this.options.warn(error);
      await this.queue.release(held, this.pauseS());
    } finally {
      clearInterval(living);
      this.held = this.running = undefined;
    }
  }

  /** Says that this lives. Where the work was taken from it, or its render is over, it ends. */
  private extend(held: HeldWork, running: AbortController): void {
    this.queue.extend(held).catch((error: unknown) => {
      if (!databaseProblem(error)) running.abort();
    });
  }
}
