import { geometryFacts, InterchangeError } from '@arvex/interchange/gltf';
import { readFile } from 'node:fs/promises';
import { parentPort, workerData } from 'node:worker_threads';
import type { Measured } from './measure-geometry';

const { path, hash } = workerData as { path: string; hash: string };

async function measured(): Promise<Measured> {
  try {
    return { facts: await geometryFacts(await readFile(path), hash) };
  } catch (error) {
    if (error instanceof InterchangeError) return { refused: { message: error.message, field: error.field } };
    // A reader that stumbles has met a file that no reader of ours foresaw: it is the file's fault, and the disk's only where that is said.
    const { code, message } = error as NodeJS.ErrnoException;
    if (code === undefined)
      return { refused: { message: `This is not usable geometry (${message.slice(0, 200)}).`, field: '' } };
    return { failure: message };
  }
}

parentPort?.postMessage(await measured());
