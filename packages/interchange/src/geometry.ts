import { packGltf } from './gltf';
import { packObj } from './obj';
import type { Packed, PackProgress } from './packed';
import type { GeometryId } from './tables';

/**
 * Turns a file of geometry, with what was brought in beside it, into one GLB.
 * @throws InterchangeError naming the file or the place that is wrong.
 */
export type Pack = (main: File, files: readonly File[], progress: PackProgress) => Promise<Packed>;

/** How each kind of geometry is packed. A GLB is passed on as it is: the server checks it. */
export const PACKED: Readonly<Record<GeometryId, Pack>> = {
  glb: (glb) => Promise.resolve({ glb, leftOut: [], used: [] }),
  gltf: packGltf,
  obj: packObj,
};
