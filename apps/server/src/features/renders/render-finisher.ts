import { createReadStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import { join } from 'node:path';
import type { FileStore } from '../../files/file-store';
import type { ProjectEvents } from '../events/project-events';
import { encodeMovie } from './encode-movie';
import type { RenderStore } from './store';

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

  /** Takes up what an earlier start left. */
  async resume(): Promise<void> {
    for (const id of await this.renders.inState('encoding')) this.finish(id);
  }

  /** Puts a render in the queue. */
  finish(id: string): void {
    this.queue = this.queue.then(() => this.encode(id)).catch((error: unknown) => this.warn(error));
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

  private async encode(id: string): Promise<void> {
    if (this.ending.signal.aborted) return;
    const render = await this.renders.get(id);
    if (render.state !== 'encoding') return;
    const cancelled = new AbortController();
    this.running.set(id, cancelled);
    const directory = await mkdtemp(join(this.temporary, 'movie-'));
    try {
      const frames = await this.renders.finishedFrames(id);
      const target = join(directory, 'movie.mp4');
      await encodeMovie(
        frames.map((frame) => this.files.path(frame.hash)),
        render.rate,
        target,
        cancelled.signal,
      );
      await this.renders.encoded(id, await this.files.write(createReadStream(target)));
    } catch (error) {
      // An aborted encoding is either cancelled already or taken up at the next start.
      if (!cancelled.signal.aborted) await this.renders.failed(id, (error as Error).message);
    } finally {
      this.running.delete(id);
      await rm(directory, { recursive: true, force: true });
    }
    this.events.publish(render.projectId, { kind: 'render', renderId: id });
  }
}
