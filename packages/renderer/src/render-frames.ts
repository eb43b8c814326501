import type { Project, Render } from '@arvex/core';
import { cameraAt, pictureAt } from '@arvex/core';
import { viewOf, withShutter } from '@arvex/stage/view';
import type { PictureMaker } from './picture-maker';
import type { RenderTransport } from './transport';

export interface RenderFramesOptions {
  /** Samples of each picture. */
  readonly samples: number;
  /** Frames asked for at a time: enough that asking costs little, few enough that a lost renderer holds up little. */
  readonly framesALease?: number;
  /** How long to wait when all frames are leased out to others, milliseconds. */
  readonly waitMs?: number;
}

const RENDER_FRAMES_DEFAULTS = { framesALease: 4, waitMs: 2000 } as const;

/** Why a renderer stopped: nothing is left to do, or whoever keeps the render could not be reached. */
export type RenderEnd = 'done' | 'away';

/** Makes frames of a render until none is left, or it is over in another way. */
export async function renderFrames(
  transport: RenderTransport,
  pictures: PictureMaker,
  options: RenderFramesOptions,
): Promise<RenderEnd> {
  const { samples, framesALease, waitMs } = { ...RENDER_FRAMES_DEFAULTS, ...options };
  const [render, project] = [await transport.render(), await transport.project()];
  if (!render || !project) return 'away';
  const missing = await pictures.follow(project);
  if (missing.length > 0) return 'away';
  for (;;) {
    const lease = await transport.lease(framesALease);
    if (!lease) {
      // Either nobody answers, or this render is over: cancelled, or all its frames are there.
      const now = await transport.render();
      return now && now.state !== 'rendering' ? 'done' : 'away';
    }
    if (lease.frames.length === 0) await new Promise((resolve) => setTimeout(resolve, waitMs));
    for (const index of lease.frames) {
      const frame = await frameOf(render, project, index, pictures, samples);
      if (!frame || !(await transport.send(index, lease.leaseId, frame))) break;
    }
  }
}

/** One frame of the cut as output; nothing where no camera is seen. */
async function frameOf(
  { sequenceId, widthPx, heightPx }: Pick<Render, 'sequenceId' | 'widthPx' | 'heightPx'>,
  project: Project,
  index: number,
  pictures: PictureMaker,
  samples: number,
): Promise<Blob | undefined> {
  const picture = pictureAt(project, sequenceId, index);
  if (!picture?.cameraId) return undefined;
  const state = cameraAt(project, picture.cameraId, picture.sceneFlicks);
  return pictures.png(withShutter(viewOf(state, picture.sceneFlicks), project, state), widthPx, heightPx, samples);
}
