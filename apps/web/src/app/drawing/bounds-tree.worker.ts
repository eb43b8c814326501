import { expose, transfer } from 'comlink';
import { BufferAttribute, BufferGeometry } from 'three';
import type { SerializedBVH } from 'three-mesh-bvh';
import { MeshBVH } from 'three-mesh-bvh';

/** Builds search trees of large geometry, seconds at a time, where nobody waits for it. */
export class BoundsTreeWorker {
  async build(positions: Float32Array, index: Uint32Array | null): Promise<SerializedBVH> {
    const geometry = new BufferGeometry();
    geometry.setAttribute('position', new BufferAttribute(positions, 3));
    if (index) geometry.setIndex(new BufferAttribute(index, 1));
    const serialized = MeshBVH.serialize(new MeshBVH(geometry), { cloneBuffers: false });
    return transfer(serialized, [...serialized.roots, ...(serialized.index ? [serialized.index.buffer] : [])]);
  }
}

addEventListener('message', ({ data }: MessageEvent<{ port?: MessagePort }>) => {
  if (data.port) expose(new BoundsTreeWorker(), data.port);
});
