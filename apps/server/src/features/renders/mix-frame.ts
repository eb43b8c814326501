import type { GroupLight, LightMix, MixedLook } from '@arvex/core';
import { mixedPicture } from '@arvex/core';
import { readCube } from '@arvex/interchange/looks';
import { pictureOfExr, pngOf } from '@arvex/interchange/pictures';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';

/** A frame whose light is to be mixed anew: the files of its light groups. */
export interface MixedFrame {
  readonly groups: readonly {
    readonly lightGroupId: string | null;
    readonly path: string;
    /** Name of the layer within the file; the file's own channels where it is empty. */
    readonly channels: string;
  }[];
  readonly mix: LightMix;
  /** Light is shown as it is without one. */
  readonly look: Omit<MixedLook, 'lut'> | undefined;
  /** The file of the table that the look goes through. */
  readonly lutPath: string | undefined;
}

/** Makes a PNG of a frame with another mix of its light. @throws Error where a file cannot be read. */
export type MixFrame = (frame: MixedFrame) => Promise<Uint8Array>;

/** In this thread. */
export const mixHere: MixFrame = async ({ groups, mix, look, lutPath }) => {
  const lights: GroupLight[] = [];
  let size = { widthPx: 0, heightPx: 0 };
  for (const { lightGroupId, path, channels } of groups) {
    const bytes = await readFile(path);
    const { pixels, widthPx, heightPx } = pictureOfExr(new Uint8Array(bytes).buffer, channels);
    size = { widthPx, heightPx };
    lights.push({ lightGroupId, pixels });
  }
  const lut = lutPath === undefined ? undefined : readCube(await readFile(lutPath, 'utf8'));
  const data = mixedPicture(lights, size.widthPx, mix, look && { ...look, lut });
  return pngOf({ ...size, channels: 3, data });
};

/** In a thread of its own, so that nobody is held up. */
export const mixInThread: MixFrame = (frame) =>
  new Promise((resolve, reject) => {
    const thread = new Worker(join(import.meta.dirname, 'mixing-thread.js'), { workerData: frame });
    thread.once('message', (answer: Uint8Array | { failure: string }) => {
      if (answer instanceof Uint8Array) resolve(answer);
      else reject(new Error(answer.failure));
    });
    thread.once('error', reject);
    thread.once('exit', () => reject(new Error('The mixing thread ended without an answer.')));
  });
