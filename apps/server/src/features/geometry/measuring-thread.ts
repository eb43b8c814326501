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
    return { failure: (error as Error).message };
  }
}

parentPort?.postMessage(await measured());
