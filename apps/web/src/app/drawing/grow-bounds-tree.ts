import type { GrowBoundsTree } from '@arvex/stage';
import type { Remote } from 'comlink';
import { transfer } from 'comlink';
import { BufferAttribute } from 'three';
import { MeshBVH } from 'three-mesh-bvh';
import type { BoundsTreeWorker } from './bounds-tree.worker';

/** Grows search trees in another worker: corners go there as copies, the tree comes back. */
export function growThrough(worker: Remote<BoundsTreeWorker>): GrowBoundsTree {
  return async (geometry) => {
    const attribute = geometry.getAttribute('position');
    const positions = new Float32Array(attribute.count * 3);
    for (let i = 0; i < attribute.count; i++) {
      positions[3 * i] = attribute.getX(i);
      positions[3 * i + 1] = attribute.getY(i);
      positions[3 * i + 2] = attribute.getZ(i);
    }
    const index = geometry.index ? Uint32Array.from(geometry.index.array) : null;
    const buffers = index ? [positions.buffer, index.buffer] : [positions.buffer];
    const serialized = await worker.build(transfer(positions, buffers), index);
    if (serialized.index) geometry.setIndex(new BufferAttribute(serialized.index, 1));
    geometry.boundsTree = MeshBVH.deserialize(serialized, geometry);
  };
}
