import { parentPort, workerData } from 'node:worker_threads';
import { Problem } from './problem';
import type { Measured } from './services/measure-geometry';
import { measureHere } from './services/measure-geometry';

const { path, hash } = workerData as { path: string; hash: string };

async function measured(): Promise<Measured> {
  try {
    return { facts: await measureHere(path, hash) };
  } catch (error) {
    if (error instanceof Problem) return { problem: { code: error.code, message: error.message, more: error.more } };
    return { failure: (error as Error).message };
  }
}

parentPort?.postMessage(await measured());
