/** Runs in the browser: the loop that makes frames of a render, beside drawing and encoding the same frames alone. */
import { renderFrames, StagePictures } from '@arvex/renderer';
import { overHttp } from '../apps/web/src/app/features/review/over-http';

const FILES = {
  geometry: async (hash: string) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash: string) => (await fetch(`/api/pictures/${hash}`)).blob(),
  font: async () => (await fetch('/fonts/ibm-plex-mono-latin-500-normal.woff2')).arrayBuffer(),
};

const TRANSPORT = overHttp('bench');

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
