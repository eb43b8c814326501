import type { GeometryFile } from '@arvex/core';
import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { ProblemCode } from '../problem';
import { Problem } from '../problem';
import { geometryFacts } from './geometry-facts';

/** Measures a geometry file. @throws Problem `invalid-geometry`. */
export type MeasureGeometry = (path: string, hash: string) => Promise<GeometryFile>;

/** What a measuring thread answers. */
export type Measured =
  | { readonly facts: GeometryFile }
  | { readonly problem: { code: ProblemCode; message: string; more: Readonly<Record<string, unknown>> } }
  | { readonly failure: string };

/** Memory that a hostile or huge file may take before its thread is ended, MB. */
const MEMORY_LIMIT_MB = 4096;

/** Measures in this thread. */
export const measureHere: MeasureGeometry = async (path, hash) => geometryFacts(await readFile(path), hash);

/** Measures in a thread of its own, so that large files hold up nobody and broken ones end only their thread. */
export const measureInThread: MeasureGeometry = (path, hash) =>
  new Promise((resolve, reject) => {
    const thread = new Worker(join(import.meta.dirname, 'measuring-thread.js'), {
      workerData: { path, hash },
      resourceLimits: { maxOldGenerationSizeMb: MEMORY_LIMIT_MB },
    });
    thread.once('message', (measured: Measured) => {
      if ('facts' in measured) resolve(measured.facts);
      else if ('problem' in measured)
        reject(new Problem(measured.problem.code, measured.problem.message, measured.problem.more));
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
