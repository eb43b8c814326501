/** Runs in the browser: the loop that makes frames of a render, beside drawing and encoding the same frames alone. */
import { leaseSchema, projectFrom, renderJobSchema } from '@arvex/core';
import type { RenderTransport } from '@arvex/renderer';
import { renderFrames, StagePictures } from '@arvex/renderer';

const FILES = {
  geometry: async (hash: string) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash: string) => (await fetch(`/api/pictures/${hash}`)).blob(),
  font: async () => (await fetch('/fonts/ibm-plex-mono-latin-500-normal.woff2')).arrayBuffer(),
};

async function ask(path: string, init: RequestInit = {}): Promise<unknown> {
  const answer = await fetch(`/api${path}`, init);
  if (!answer.ok) throw new Error(`${path} answered ${answer.status}`);
  return answer.json();
}

const post = (path: string, body: unknown) =>
  ask(path, { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) });

const TRANSPORT: RenderTransport = {
  lease: async (count) => leaseSchema.parse(await post('/leases', { count })),
  job: async (renderId) => renderJobSchema.parse(await ask(`/renders/${renderId}/job`)),
  project: async (renderId) => projectFrom(await ask(`/renders/${renderId}/project`)),
  extend: (renderId, leaseId) => post(`/renders/${renderId}/leases/${leaseId}`, {}),
  release: (renderId, leaseId) => ask(`/renders/${renderId}/leases/${leaseId}`, { method: 'DELETE' }),
  send: ({ renderId, leaseId, index }, role, body) =>
    ask(`/renders/${renderId}/frames/${index}/${role}?lease=${leaseId}`, {
      method: 'PUT',
      headers: { 'content-type': body.type },
      body,
    }),
  fail: ({ renderId, leaseId, index }, why) =>
    post(`/renders/${renderId}/frames/${index}/failure?lease=${leaseId}`, { why }),
};

const canvas = () => new OffscreenCanvas(16, 16);

/** Milliseconds of a render's frames in the loop, and drawn and encoded alone by the same renderer. */
async function benchLoop(
  renderId: string,
): Promise<{ loop: number; alone: number; heldBefore: number; heldAfter: number }> {
  const pictures = new StagePictures(canvas(), FILES);
  const job = await TRANSPORT.job(renderId);
  await pictures.follow(await TRANSPORT.project(renderId), job);
  await pictures.frame(job, 0); // what is drawn for the first time is put together
  const heapMb = () => (performance as unknown as { memory: { usedJSHeapSize: number } }).memory.usedJSHeapSize / 1e6;
  const begin = performance.now();
  const made: number[] = [];
  const heldBefore = heapMb();
  await renderFrames(TRANSPORT, pictures, { made: ({ index }) => made.push(index) });
  const loop = performance.now() - begin;
  const heldAfter = heapMb();
  const second = performance.now();
  for (const index of made) await pictures.frame(job, index);
  const alone = performance.now() - second;
  pictures.dispose();
  return { loop, alone, heldBefore, heldAfter };
}

Object.assign(globalThis, { benchLoop });
