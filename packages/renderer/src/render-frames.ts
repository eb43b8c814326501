import type { Lease, Project } from '@arvex/core';
import { frameView } from '@arvex/stage/view';
import type { PictureMaker } from './picture-maker';
import type { RenderTransport } from './transport';
import { KeeperAway, KeeperRefused } from './transport';

export interface RenderFramesOptions {
  /** Samples of each picture. */
  readonly samples: number;
  /** Frames asked for at a time: enough that asking costs little, few enough that a lost renderer holds up little. */
  readonly framesALease?: number;
  /** How long to wait when all frames are leased out to others, or one could not be made, milliseconds. */
  readonly waitMs?: number;
}

const RENDER_FRAMES_DEFAULTS = { framesALease: 4, waitMs: 2000 } as const;

/** A lease is extended so often within its time. */
const BEATS = 3;

/** Why a renderer stopped: nothing is left to do, or whoever keeps the render could not be reached. */
export type RenderEnd = 'done' | 'away';

/**
 * Makes frames of a render until none is left, or it is over in another way. A frame that cannot be made is reported with its
 * reason: the third time ends the render, so no renderer tries for ever.
 */
export async function renderFrames(
  transport: RenderTransport,
  pictures: PictureMaker,
  options: RenderFramesOptions,
): Promise<RenderEnd> {
  try {
    await makeAll(transport, pictures, { ...RENDER_FRAMES_DEFAULTS, ...options });
    return 'done';
  } catch (error) {
    if (error instanceof KeeperAway) return 'away';
    // Over, or deleted: there is nothing left to do.
    if (error instanceof KeeperRefused) return 'done';
    throw error;
  }
}

async function makeAll(
  transport: RenderTransport,
  pictures: PictureMaker,
  { samples, framesALease, waitMs }: Required<RenderFramesOptions>,
): Promise<void> {
  const [render, project] = [await transport.render(), await transport.project()];
  const missing = await pictures.follow(project);
  const wait = () => new Promise((resolve) => setTimeout(resolve, waitMs));
  for (;;) {
    const lease = await transport.lease(framesALease);
    if (lease.frames.length === 0) await wait();
    const made = await madeUnder(transport, lease, async (index) => {
      const names = namesOf(project, missing);
      if (names !== '') throw new Error(`The file of ${names} is missing.`);
      const view = frameView(project, render.sequenceId, index);
      return pictures.png(view, render.widthPx, render.heightPx, samples);
    });
    if (!made) await wait();
  }
}

/** Makes the frames of a lease, which goes on meanwhile. @returns whether all could be made. */
async function madeUnder(
  transport: RenderTransport,
  { leaseId, frames, seconds }: Lease,
  make: (index: number) => Promise<Blob>,
): Promise<boolean> {
  const left = new Set(frames);
  // A beat that is not heard is made up for by the next, or by the frame itself.
  const beat = setInterval(() => void transport.extend(leaseId).catch(() => undefined), (seconds * 1000) / BEATS);
  try {
    for (const index of frames) {
      try {
        await transport.send(index, leaseId, await make(index));
      } catch (error) {
        if (error instanceof KeeperAway) throw error;
        // Another renderer has it: so may the rest of the lease.
        if (error instanceof KeeperRefused && error.code === 'lease-lost') return true;
        if (error instanceof KeeperRefused && error.code !== 'invalid-picture' && error.code !== 'too-large')
          throw error;
        await transport.fail(index, leaseId, (error as Error).message);
        left.delete(index);
        return false;
      }
      left.delete(index);
    }
    return true;
  } finally {
    clearInterval(beat);
    if (left.size > 0) await transport.release(leaseId).catch(() => undefined);
  }
}

/** Names of the things whose files could not be had. */
function namesOf(project: Project, missing: readonly string[]): string {
  const names = Object.values(project.assets).flatMap(({ name, file }) =>
    missing.includes(file.hash) ? [`"${name}"`] : [],
  );
  return names.length > 0 || missing.length === 0 ? names.join(', ') : missing.join(', ');
}
