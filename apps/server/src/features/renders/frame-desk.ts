import type { FrameFile, Project, RenderJob } from '@arvex/core';
import { frameFiles } from '@arvex/core';
import type { WorkQueue } from '../../queue/work-queue';
import type { OrderStore } from './order-store';

/** So many renders are remembered: those that are being made just now. */
const MOST_REMEMBERED = 8;

/** What has to be known of a render to take its frames in: found once, not for each frame. */
interface KnownRender {
  readonly job: RenderJob;
  /** As it was when the order was given. */
  readonly project: Project;
  /** Files of each of its frames. */
  readonly wanted: readonly FrameFile[];
  /** Folder and name of a file; nothing where only movies are made from it. */
  readonly pathOf: (index: number, file: FrameFile) => Promise<string | null>;
}

/** Knows the renders whose frames come in. What an order says never changes. */
export class FrameDesk {
  private readonly known = new Map<string, Promise<KnownRender>>();

  constructor(
    private readonly orders: OrderStore,
    private readonly queue: WorkQueue,
  ) {}

  /** @throws Problem `not-found`. */
  of(renderId: string): Promise<KnownRender> {
    let known = this.known.get(renderId);
    if (!known) {
      known = this.find(renderId);
      known.catch(() => this.known.delete(renderId));
      this.known.set(renderId, known);
      const oldest = this.known.keys().next().value;
      if (this.known.size > MOST_REMEMBERED && oldest !== undefined) this.known.delete(oldest);
    }
    return known;
  }

  private async find(renderId: string): Promise<KnownRender> {
    const job = await this.orders.job(renderId);
    const project = await this.orders.projectOf(job.orderId);
    return {
      job,
      project,
      wanted: frameFiles(project, job.order),
      pathOf: async (index, { leaves, folder, ending }) =>
        leaves
          ? [job.folder, folder, `${await this.queue.nameOf(renderId, index)}.${ending}`].filter(Boolean).join('/')
          : null,
    };
  }
}
