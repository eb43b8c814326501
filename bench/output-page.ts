/** Runs in the browser: the loop that makes frames of a render, beside drawing and encoding the same frames alone. */
import { renderFrames, StagePictures } from '@arvex/renderer';
import { BeatsHere } from '../apps/web/src/app/features/review/lease-beats';
import { overHttp } from '../apps/web/src/app/features/review/over-http';

const FILES = {
  geometry: async (hash: string) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash: string) => (await fetch(`/api/pictures/${hash}`)).blob(),
  lut: () => Promise.reject(new Error('none')),
  font: async () => (await fetch('/fonts/ibm-plex-mono-latin-500-normal.woff2')).arrayBuffer(),
};
const TRANSPORT = overHttp('bench', new BeatsHere(), 'bench');
const pictures = new StagePictures(new OffscreenCanvas(16, 16), FILES);

/**
 * Milliseconds of the frames of whatever is first in line, in the loop; and of up to so many of them drawn and encoded alone by the same
 * renderer.
 */
async function benchLoop(most: number): Promise<{ loop: number; alone: number }> {
  const { renderId, leaseId } = await TRANSPORT.lease(1);
  if (renderId === null) throw new Error('Nothing is to be rendered.');
  const job = await TRANSPORT.job(renderId);
  await pictures.follow(await TRANSPORT.project(renderId), job);
  await pictures.frame(job, 0); // what is drawn for the first time is put together
  await TRANSPORT.release(renderId, leaseId);
  const made: number[] = [];
  const begin = performance.now();
  await renderFrames(TRANSPORT, pictures, { made: ({ index }) => made.push(index) });
  const loop = performance.now() - begin;
  const second = performance.now();
  for (const index of made.slice(0, Math.min(most, ALONE))) await pictures.frame(job, index);
  return { loop, alone: performance.now() - second };
}

/** More are not drawn a second time. */
const ALONE = 40;

Object.assign(globalThis, { benchLoop });
