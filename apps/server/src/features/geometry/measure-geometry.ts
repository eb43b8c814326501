import type { GeometryFile } from '@arvex/core';
import { geometryFacts, InterchangeError } from '@arvex/interchange/gltf';
import { readFile } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { Problem } from '../../problem/problem';
import { Slots } from '../../turns/slots';

/** Measures a geometry file. @throws Problem `invalid-geometry`. */
export type MeasureGeometry = (path: string, hash: string, signal?: AbortSignal) => Promise<GeometryFile>;

/** What a measuring thread answers. */
export type Measured =
  | { readonly facts: GeometryFile }
  | { readonly refused: { readonly message: string; readonly field: string } }
  | { readonly failure: string };

/** Memory that a hostile or huge file may take before its thread is ended, MB. */
const MEMORY_LIMIT_MB = 2048;

/** Measures in this thread. */
export const measureHere: MeasureGeometry = async (path, hash) => {
  try {
    return await geometryFacts(await readFile(path), hash);
  } catch (error) {
    throw error instanceof InterchangeError ? refusal(error) : error;
  }
};

/** What is wrong with a file, as its sender is told. */
function refusal({ message, field }: Pick<InterchangeError, 'message' | 'field'>): Problem {
  return new Problem('invalid-geometry', message, field === '' ? {} : { field });
}

/** A file that is not measured within this is not usable, milliseconds. */
const TIME_LIMIT_MS = 30_000;
/** Threads at once: one processor is left for everybody else. */
const THREADS = Math.max(1, availableParallelism() - 1);
/** Who waits for a thread, at most; more are told to come again. */
const MOST_WAITING = 16;

const measuring = new Slots(THREADS, MOST_WAITING);

/**
 * Measures in a thread of its own, so that large files hold up nobody and broken ones end only their thread. It ends with its
 * request, and after a time.
 */
export const measureInThread: MeasureGeometry = (path, hash, signal) =>
  measuring.within(() => {
    signal?.throwIfAborted();
    return inThread(path, hash, signal);
  });

function inThread(path: string, hash: string, signal: AbortSignal | undefined): Promise<GeometryFile> {
  return new Promise((resolve, reject) => {
    const thread = new Worker(join(import.meta.dirname, 'measuring-thread.js'), {
      workerData: { path, hash },
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB },
    });
    const end = (error: Error) => {
      reject(error);
      void thread.terminate();
    };
    const slow = 'The file takes longer to measure than there is time. Split it, or thin its meshes.';
    const timer = setTimeout(() => end(new Problem('invalid-geometry', slow)), TIME_LIMIT_MS);
    const left = () => end(new Error('Nobody waits for this file any more.'));
    signal?.addEventListener('abort', left, { once: true });
    thread.once('message', (measured: Measured) => {
      if ('facts' in measured) resolve(measured.facts);
      else if ('refused' in measured) reject(refusal(measured.refused));
      else reject(new Error(measured.failure));
    });
    thread.once('error', (error: NodeJS.ErrnoException) =>
      reject(
        error.code === 'ERR_WORKER_OUT_OF_MEMORY'
          ? new Problem('invalid-geometry', 'The file takes more memory than there is. Split it, or thin its meshes.')
          : error,
      ),
    );
    thread.once('exit', () => {
      clearTimeout(timer);
      signal?.removeEventListener('abort', left);
      reject(new Error('The measuring thread ended without an answer.'));
    });
  });
}
