import type { Project } from '@arvex/core';
import { cameraAt, pictureAt } from '@arvex/core';
import { NOTHING_STAGED, setPatch, Stage, viewOf, withShutter } from '@arvex/stage';
import { expose } from 'comlink';
import { STAGE_FILES } from '../../drawing';

/** Frames asked for at a time: enough that asking costs little, few enough that a lost tab holds up little. */
const FRAMES_A_LEASE = 4;
/** How long to wait when all frames are leased out to others. */
const WAIT_MS = 2000;

interface RenderFacts {
  readonly sequenceId: string;
  readonly widthPx: number;
  readonly heightPx: number;
  readonly state: string;
}

/** Why a renderer stopped: nothing left to do, or the server could not be reached. */
export type RenderEnd = 'done' | 'away';

/** Makes frames of renders, away from the interface. */
export class RenderWorker {
  /** Makes frames of a render until none is left or it is cancelled. */
  async render(renderId: string, samples: number): Promise<RenderEnd> {
    const facts = await json<RenderFacts>(`/api/renders/${renderId}`);
    const project = await json<Project>(`/api/renders/${renderId}/project`);
    if (!facts || !project) return 'away';
    const stage = new Stage(new OffscreenCanvas(16, 16), STAGE_FILES);
    try {
      const missing = await stage.follow(setPatch(NOTHING_STAGED, project));
      return missing.length > 0 ? 'away' : await this.makeFrames(stage, renderId, facts, project, samples);
    } finally {
      stage.dispose();
    }
  }

  private async makeFrames(
    stage: Stage,
    renderId: string,
    facts: RenderFacts,
    project: Project,
    samples: number,
  ): Promise<RenderEnd> {
    for (;;) {
      const lease = await json<{ leaseId: string; frames: number[] }>(`/api/renders/${renderId}/leases`, {
        method: 'POST',
        headers: { 'content-type': 'application/json' },
        body: JSON.stringify({ count: FRAMES_A_LEASE }),
      });
      if (!lease) {
        // Either the server is away, or this render is over: cancelled, or all its frames are there.
        const now = await json<RenderFacts>(`/api/renders/${renderId}`);
        return now && now.state !== 'rendering' ? 'done' : 'away';
      }
      if (lease.frames.length === 0) await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
      for (const index of lease.frames) {
        const frame = await drawFrame(stage, facts, project, index, samples);
        if (!frame || !(await sendFrame(renderId, index, lease.leaseId, frame))) break;
      }
    }
  }
}

async function drawFrame(
  stage: Stage,
  { sequenceId, widthPx, heightPx }: RenderFacts,
  project: Project,
  index: number,
  samples: number,
): Promise<Blob | undefined> {
  const picture = pictureAt(project, sequenceId, index);
  if (!picture?.cameraId) return undefined;
  const state = cameraAt(project, picture.cameraId, picture.sceneFlicks);
  const view = withShutter(viewOf(state, picture.sceneFlicks), project, state);
  stage.drawFine(view, widthPx, heightPx, samples);
  return stage.canvas.convertToBlob({ type: 'image/png' });
}

async function sendFrame(renderId: string, index: number, leaseId: string, body: Blob): Promise<boolean> {
  const sent = await fetch(`/api/renders/${renderId}/frames/${index}?lease=${leaseId}`, {
    method: 'PUT',
    headers: { 'content-type': 'image/png' },
    body,
  }).catch(() => undefined);
  return sent?.ok ?? false;
}

/** The answer, or nothing when the server is away or refuses. */
async function json<T>(path: string, init?: RequestInit): Promise<T | undefined> {
  const response = await fetch(path, init).catch(() => undefined);
  return response?.ok ? ((await response.json()) as T) : undefined;
}

expose(new RenderWorker());
