import { expose } from 'comlink';
import { packGltf } from './pack-gltf';
import { packObj } from './pack-obj';

/** What is told while a file is packed: what is being done, and how far it is (0 to 1) where that is known. */
export type PackProgress = (doing: string, share?: number) => void;

/** Geometry as one GLB, and what was left out of it. */
export interface Packed {
  readonly glb: Blob;
  readonly leftOut: readonly string[];
}

/** Turns files that belong together into one GLB, away from the interface. A GLB is passed on as it is. */
export class ImportWorker {
  async pack(files: readonly File[], progress: PackProgress): Promise<Packed> {
    const named = (ending: RegExp) => files.find(({ name }) => ending.test(name));
    const [glb, gltf, obj] = [named(/\.glb$/i), named(/\.gltf$/i), named(/\.obj$/i)];
    if (glb) return { glb, leftOut: [] };
    if (gltf) return packGltf(gltf, files, progress);
    if (obj) return packObj(obj, files, progress);
    throw new Error('Bring in GLB, glTF with its files, or OBJ with its MTL.');
  }
}

expose(new ImportWorker());
