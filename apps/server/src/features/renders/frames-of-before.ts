import type { KeptFrames } from '@arvex/core';
import { renderEvent } from '../../events/project-events';
import type { Ground } from '../../ground/ground';
import type { FinishedFile } from '../../queue/work-queue';
import type { FrameDesk } from './frame-desk';

/** Takes frames of earlier renders that a new one would only make again. */
export class FramesOfBefore {
  constructor(
    private readonly ground: Pick<Ground, 'queue' | 'files' | 'events'>,
    private readonly desk: FrameDesk,
  ) {}

  /**
   * Takes frames of a lease that were made before, under the same keys.
   * @returns those that are done with it. @throws Problem `lease-lost`, `render-over`, `not-found`.
   */
  async take(renderId: string, leaseId: string, asked: KeptFrames): Promise<number[]> {
    const { queue, events } = this.ground;
    const { job, wanted, pathOf } = await this.desk.of(renderId);
    const roles = wanted.map(({ role }) => role);
    const taken: number[] = [];
    for (const { index, key } of asked.frames) {
      const made = await queue.madeAs(job.projectId, key);
      const own = wanted.map((file) => ({ file, found: made.find(({ role }) => role === file.role) }));
      if (!(await this.areThere(own.map(({ found }) => found)))) continue;
      for (const { file, found } of own) {
        const { role, hash, bytes } = found as FinishedFile;
        const kept = { index, role, path: await pathOf(index, file), hash, bytes, key };
        await queue.keep(job.projectId, { renderId, leaseId }, kept, roles);
      }
      taken.push(index);
    }
    if (taken.length > 0) await queue.countKept(renderId, taken.length);
    if (taken.length > 0) events.publish(job.projectId, renderEvent(renderId));
    return taken;
  }

  private async areThere(files: readonly (FinishedFile | undefined)[]): Promise<boolean> {
    for (const file of files) if (!file || !(await this.ground.files.has(file.hash))) return false;
    return true;
  }
}
