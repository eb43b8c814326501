import { leaseSchema, problemSchema, projectFrom, renderSchema } from '@arvex/core';
import type { RenderEnd, RenderTransport } from '@arvex/renderer';
import { KeeperAway, KeeperRefused, renderFrames, stagePictures } from '@arvex/renderer';
import { expose } from 'comlink';
import type { z } from 'zod';
import { STAGE_FILES } from '../../drawing';

/** A request that gets no answer in this time has none: the server hangs, milliseconds. */
const LIMIT_MS = 60_000;

/** The way to this application's own server. */
function overHttp(renderId: string): RenderTransport {
  const path = `/api/renders/${renderId}`;
  const post = (to: string, body?: unknown) =>
    ask(`${path}${to}`, {
      method: 'POST',
      ...(body !== undefined && { headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
    });
  return {
    render: async () => read(renderSchema, await ask(path)),
    project: async () => projectFrom(await ask(`${path}/project`)),
    lease: async (count) => read(leaseSchema, await post('/leases', { count })),
    extend: (leaseId) => post(`/leases/${leaseId}`),
    release: (leaseId) => ask(`${path}/leases/${leaseId}`, { method: 'DELETE' }),
    send: (index, leaseId, body) => {
      const headers = { 'content-type': 'image/png' };
      return ask(`${path}/frames/${index}?lease=${leaseId}`, { method: 'PUT', headers, body });
    },
    fail: (index, leaseId, why) => post(`/frames/${index}/failure?lease=${leaseId}`, { why: why.slice(0, 1000) }),
  };
}

/** The answer as JSON. @throws KeeperAway or KeeperRefused. */
async function ask(path: string, init: RequestInit = {}): Promise<unknown> {
  const response = await fetch(path, { signal: AbortSignal.timeout(LIMIT_MS), ...init }).catch((error: unknown) => {
    throw new KeeperAway((error as Error).message);
  });
  const answer: unknown = await response.json().catch(() => undefined);
  if (response.ok && answer !== undefined) return answer;
  const problem = problemSchema.safeParse(answer).data;
  const final = response.status >= 400 && response.status < 500 && ![408, 429].includes(response.status);
  if (!problem || !final) throw new KeeperAway(problem?.detail ?? 'The server does not answer.');
  throw new KeeperRefused(problem.type.replace('/problems/', ''), problem.detail);
}

function read<T>(schema: z.ZodType<T>, answer: unknown): T {
  const found = schema.safeParse(answer);
  if (!found.success) throw new KeeperAway('The server’s answer cannot be read.');
  return found.data;
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

expose(new RenderWorker());
