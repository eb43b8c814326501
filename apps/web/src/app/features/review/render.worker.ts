import { leaseSchema, projectFrom, renderSchema } from '@arvex/core';
import type { RenderEnd, RenderTransport } from '@arvex/renderer';
import { renderFrames, stagePictures } from '@arvex/renderer';
import { expose } from 'comlink';
import { STAGE_FILES } from '../../drawing';

/** The way to this application's own server. */
function overHttp(renderId: string): RenderTransport {
  const path = `/api/renders/${renderId}`;
  return {
    render: async () => renderSchema.safeParse(await json(path)).data,
    project: async () => {
      const stored = await json(`${path}/project`);
      return stored === undefined ? undefined : projectFrom(stored);
    },
    lease: async (count) => {
      const headers = { 'content-type': 'application/json' };
      const answer = await json(`${path}/leases`, { method: 'POST', headers, body: JSON.stringify({ count }) });
      return leaseSchema.safeParse(answer).data;
    },
    send: async (index, leaseId, body) => {
      const headers = { 'content-type': 'image/png' };
      const address = `${path}/frames/${index}?lease=${leaseId}`;
      const sent = await fetch(address, { method: 'PUT', headers, body }).catch(() => undefined);
      return sent?.ok ?? false;
    },
  };
}

/** Makes frames of renders, away from the interface. */
export class RenderWorker {
  /** Makes frames of a render until none is left or it is cancelled. */
  async render(renderId: string, samples: number): Promise<RenderEnd> {
    const pictures = stagePictures(new OffscreenCanvas(16, 16), STAGE_FILES);
    try {
      return await renderFrames(overHttp(renderId), pictures, { samples });
    } finally {
      pictures.dispose();
    }
  }
}

/** The answer, or nothing when the server is away or refuses. */
async function json(path: string, init?: RequestInit): Promise<unknown> {
  const response = await fetch(path, init).catch(() => undefined);
  return response?.ok ? response.json() : undefined;
}

expose(new RenderWorker());
