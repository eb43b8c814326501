import { leaseSchema, problemSchema, projectFrom, renderJobSchema, takenFramesSchema } from '@arvex/core';
import type { LeasedFrame, RenderTransport } from '@arvex/renderer';
import { KeeperAway, KeeperRefused } from '@arvex/renderer';
import type { z } from 'zod';
import type { LeaseBeats } from './lease-beats';

/** A request that gets no answer in this time has none: the server hangs, milliseconds. */
const LIMIT_MS = 60_000;

/**
 * The way to this application's own server.
 * @param renderer by which one is known again when it begins anew.
 * @param beats lets leases go on. @param graphics that it draws with.
 */
export const overHttp = (renderer: string, beats: LeaseBeats, graphics: string): RenderTransport => ({
  begin: () => post(`/renderers/${renderer}/begin`),
  lease: async (count) =>
    read(leaseSchema, await post('/leases', { count, renderer, graphics: graphics.slice(0, 160) || undefined })),
  job: async (renderId) => read(renderJobSchema, await ask(`/renders/${renderId}/job`)),
  project: async (renderId) => projectFrom(await ask(`/renders/${renderId}/project`)),
  hold: (renderId, leaseId, seconds) => {
    const path = `/renders/${renderId}/leases/${leaseId}`;
    void beats.begin(path, seconds);
    return () => void beats.end(path);
  },
  release: (renderId, leaseId) => ask(`/renders/${renderId}/leases/${leaseId}`, { method: 'DELETE' }),
  takeKept: async (renderId, leaseId, kept) => {
    const answer = await post(`/renders/${renderId}/leases/${leaseId}/kept`, kept);
    return read(takenFramesSchema, answer).taken;
  },
  send: (frame, role, body, key) => {
    const headers = { 'content-type': body.type };
    const address = addressOf(frame, `/${encodeURIComponent(role)}`);
    return ask(key === undefined ? address : `${address}&key=${key}`, { method: 'PUT', headers, body });
  },
  fail: (frame, why) => post(addressOf(frame, '/failure'), { why: why.slice(0, 1000) }),
});

function addressOf({ renderId, leaseId, index }: LeasedFrame, what: string): string {
  return `/renders/${renderId}/frames/${index}${what}?lease=${leaseId}`;
}

function post(path: string, body?: unknown): Promise<unknown> {
  const headers = { 'content-type': 'application/json' };
  return ask(path, { method: 'POST', ...(body !== undefined && { headers, body: JSON.stringify(body) }) });
}

/** The answer as JSON. @throws KeeperAway or KeeperRefused. */
async function ask(path: string, init: RequestInit = {}): Promise<unknown> {
  const asked = fetch(`/api${path}`, { signal: AbortSignal.timeout(LIMIT_MS), ...init });
  const response = await asked.catch((error: unknown) => {
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
