import { createReadStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout as sleep } from 'node:timers/promises';
import type { FileStore } from '../../files/file-store';
import { Problem } from '../../http/problem';
import type { ProjectEvents } from '../events/project-events';
import { renderEvent } from '../events/project-events';
import { encodeMovie } from './encode-movie';
import type { RenderStore } from './store';

/** Pauses between tries while the database or the disk is away, milliseconds: they grow. */
const PAUSES_MS = [1000, 2000, 5000, 10_000, 30_000] as const;

/** Makes movies of renders whose frames are all there, one after another. */
export class RenderFinisher {
  private queue: Promise<void> = Promise.resolve();
  private readonly ending = new AbortController();
  private readonly running = new Map<string, AbortController>();

  constructor(
    private readonly renders: RenderStore,
    private readonly files: FileStore,
    private readonly events: ProjectEvents,
    private readonly temporary: string,
    private readonly warn: (error: unknown) => void,
  ) {}

  /** Takes up what an earlier start left: movies that were not made, and renders whose last frame came as the server died. */
  async resume(): Promise<void> {
    for (const id of await this.renders.inState('encoding')) this.finish(id);
  }

  /** Puts a render in the queue. */
  finish(id: string): void {
    this.queue = this.queue.then(() => this.whenPossible(id));
  }

  /** Stops encoding a cancelled render. */
  cancel(id: string): void {
    this.running.get(id)?.abort();
  }

  async close(): Promise<void> {
    this.ending.abort();
    for (const one of this.running.values()) one.abort();
    await this.queue;
  }

  /** Encodes a render; where the database or the disk is away, again after a pause that grows, and others are not held up. */
  private async whenPossible(id: string, tries = 0): Promise<void> {
    if (this.ending.signal.aborted) return;
    try {
      await this.encode(id);
    } catch (error) {
      if (error instanceof Problem && error.code === 'not-found') return; // deleted meanwhile
      this.warn(error);
      const pause = PAUSES_MS[Math.min(tries, PAUSES_MS.length - 1)] as number;
      void sleep(pause, undefined, { ref: false, signal: this.ending.signal })
        .then(() => {
          this.queue = this.queue.then(() => this.whenPossible(id, tries + 1));
        })
        .catch(() => undefined);
    }
  }

  private async encode(id: string): Promise<void> {
    const render = await this.renders.get(id);
    if (render.state !== 'encoding') return;
    const cancelled = new AbortController();
    this.running.set(id, cancelled);
    const directory = await mkdtemp(join(this.temporary, 'movie-'));
    try {
      const frames = await this.renders.finishedFrames(id);
      const target = join(directory, 'movie.mp4');
      const wrong = await encodeMovie(
        frames.map((frame) => this.files.path(frame.hash)),
        render.rate,
        target,
        cancelled.signal,
      ).then(
        () => undefined,
        (error: unknown) => error as Error,
      );
      // An aborted encoding is either cancelled already or taken up at the next start.
      if (cancelled.signal.aborted) return;
      if (wrong) await this.renders.failed(id, wrong.message);
      else await this.renders.encoded(id, await this.files.write(createReadStream(target)));
    } finally {
      this.running.delete(id);
      await rm(directory, { recursive: true, force: true });
    }
    this.events.publish(render.projectId, renderEvent(id));
  }
}
