import type { GeometryFile } from '@arvex/core';
import { geometryFacts, InterchangeError } from '@arvex/interchange/gltf';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import { Problem } from '../../http/problem';

/** Measures a geometry file. @throws Problem `invalid-geometry`. */
export type MeasureGeometry = (path: string, hash: string) => Promise<GeometryFile>;

/** What a measuring thread answers. */
export type Measured =
  | { readonly facts: GeometryFile }
  | { readonly refused: { readonly message: string; readonly field: string } }
  | { readonly failure: string };

/** Memory that a hostile or huge file may take before its thread is ended, MB. */
const MEMORY_LIMIT_MB = 4096;

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

/** Measures in a thread of its own, so that large files hold up nobody and broken ones end only their thread. */
export const measureInThread: MeasureGeometry = (path, hash) =>
  new Promise((resolve, reject) => {
    const thread = new Worker(join(import.meta.dirname, 'measuring-thread.js'), {
      workerData: { path, hash },
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB },
    });
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
    thread.once('exit', () => reject(new Error('The measuring thread ended without an answer.')));
  });
