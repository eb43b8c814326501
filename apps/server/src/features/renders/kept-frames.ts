import type { KeptFrames as AskedFrames } from '@arvex/core';
import type { FileStore } from '../../files/file-store';
import type { ProjectEvents } from '../events/project-events';
import { renderEvent } from '../events/project-events';
import type { FrameDesk } from './frame-desk';
import type { FinishedFile, FrameStore } from './frame-store';
import type { Leases } from './leases';
import type { RenderFinisher } from './render-finisher';

/** Takes frames of earlier renders that a new one would only make again. */
export class KeptFrames {
  constructor(
    private readonly desk: FrameDesk,
    private readonly frames: FrameStore,
    private readonly leases: Leases,
    private readonly files: FileStore,
    private readonly finisher: RenderFinisher,
    private readonly events: ProjectEvents,
  ) {}

  /**
   * Takes frames of a lease that were made before, under the same keys.
   * @returns those that are done with it. @throws Problem `lease-lost`, `render-over`, `not-found`.
   */
  async take(renderId: string, leaseId: string, asked: AskedFrames): Promise<number[]> {
    const { job, wanted, pathOf } = await this.desk.of(renderId);
    const render = { id: renderId, projectId: job.projectId };
    const roles = wanted.map(({ role }) => role);
    const taken: number[] = [];
    for (const { index, key } of asked.frames) {
      const made = await this.frames.madeAs(job.projectId, key);
      const own = wanted.map((file) => ({ file, found: made.find(({ role }) => role === file.role) }));
      if (!(await this.areThere(own.map(({ found }) => found)))) continue;
      for (const { file, found } of own) {
        const { role, hash, bytes } = found as FinishedFile;
        const kept = { index, role, path: pathOf(index, file), hash, bytes, key };
        if (await this.leases.keep(render, kept, roles, leaseId)) this.finisher.finish(renderId);
      }
      taken.push(index);
    }
    if (taken.length > 0) await this.frames.countKept(renderId, taken.length);
    if (taken.length > 0) this.events.publish(job.projectId, renderEvent(renderId));
    return taken;
  }

  private async areThere(files: readonly (FinishedFile | undefined)[]): Promise<boolean> {
    for (const file of files) if (!file || !(await this.files.has(file.hash))) return false;
    return true;
  }
}
