import { parentPort, workerData } from 'node:worker_threads';
import type { MixedFrame } from './mix-frame';
import { mixHere } from './mix-frame';

const answer = await mixHere(workerData as MixedFrame).catch((error: unknown) => ({
  failure: (error as Error).message,
}));
parentPort?.postMessage(answer);
