import type { Packed, PackProgress } from '@arvex/interchange';
import { InterchangeError, packGltf, packObj } from '@arvex/interchange';
import { expose } from 'comlink';

/** Turns files that belong together into one GLB, away from the interface. A GLB is passed on as it is. */
export class ImportWorker {
  async pack(files: readonly File[], progress: PackProgress): Promise<Packed> {
    const named = (ending: RegExp) => files.find(({ name }) => ending.test(name));
    const [glb, gltf, obj] = [named(/\.glb$/i), named(/\.gltf$/i), named(/\.obj$/i)];
    if (glb) return { glb, leftOut: [], used: [] };
    if (gltf) return packGltf(gltf, files, progress);
    if (obj) return packObj(obj, files, progress);
    throw new InterchangeError('Bring in GLB, glTF with its files, or OBJ with its MTL.');
  }
}

expose(new ImportWorker());
