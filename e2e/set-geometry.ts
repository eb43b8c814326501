import { Document, NodeIO } from '@gltf-transform/core';

/** A block standing on the floor, of these sizes in the file's own unit, as GLB or as glTF with its buffer apart. */
export async function block(width: number, height: number, depth: number) {
  const document = new Document();
  const buffer = document.createBuffer();
  const [x, z] = [width / 2, depth / 2];
  const corners = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? x : -x, i & 2 ? height : 0, i & 4 ? z : -z]);
  const faces = [
    0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5,
  ];
  const position = document.createAccessor().setType('VEC3').setArray(new Float32Array(corners)).setBuffer(buffer);
  const index = document.createAccessor().setType('SCALAR').setArray(new Uint16Array(faces)).setBuffer(buffer);
  const primitive = document.createPrimitive().setAttribute('POSITION', position).setIndices(index);
  document
    .createScene()
    .addChild(document.createNode('block').setMesh(document.createMesh('block').addPrimitive(primitive)));
  const io = new NodeIO();
  const apart = await io.writeJSON(document, { basename: 'block' });
  return { glb: Buffer.from(await io.writeBinary(document)), json: apart.json, resources: apart.resources };
}

/** A block of a metre that slides two metres to the east in one second, by a clip of its own. */
export async function slidingBlock(): Promise<Buffer> {
  const document = await new NodeIO().readBinary((await block(1, 1, 1)).glb);
  const [buffer] = document.getRoot().listBuffers();
  const [node] = document.getRoot().listNodes();
  const accessor = (type: 'SCALAR' | 'VEC3', values: number[]) =>
    document
      .createAccessor()
      .setType(type)
      .setArray(new Float32Array(values))
      .setBuffer(buffer ?? null);
  const sampler = document
    .createAnimationSampler()
    .setInput(accessor('SCALAR', [0, 1]))
    .setOutput(accessor('VEC3', [0, 0, 0, 2, 0, 0]));
  const channel = document
    .createAnimationChannel()
    .setTargetNode(node ?? null)
    .setTargetPath('translation')
    .setSampler(sampler);
  document.createAnimation('slides').addSampler(sampler).addChannel(channel);
  return Buffer.from(await new NodeIO().writeBinary(document));
}

/** A wavy floor of two triangles for each field between `side` × `side` corners, as GLB: 1001 make one hundred megabytes. */
export async function largeFloor(side: number): Promise<Buffer> {
  const [points, normals, colours] = [3, 3, 4].map((size) => new Float32Array(side * side * size)) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const extra = new Float32Array(side * side * 8);
  for (let i = 0; i < side * side; i++) {
    const [x, z] = [i % side, Math.floor(i / side)];
    points.set([x / 20 - 25, 0.4 * Math.sin(x / 40) * Math.cos(z / 33), z / 20 - 25], i * 3);
    normals.set([0, 1, 0], i * 3);
    colours.set([0.5, 0.5, 0.45, 1], i * 4);
    extra.set([x / side, z / side], i * 8);
  }
  const index = new Uint32Array((side - 1) * (side - 1) * 6);
  let at = 0;
  for (let z = 0; z < side - 1; z++) {
    for (let x = 0; x < side - 1; x++) {
      const corner = z * side + x;
      index.set([corner, corner + side, corner + 1, corner + 1, corner + side, corner + side + 1], at);
      at += 6;
    }
  }
  const document = new Document();
  const buffer = document.createBuffer();
  const accessor = (type: 'VEC3' | 'VEC4' | 'VEC2' | 'SCALAR', array: Float32Array | Uint32Array) =>
    document.createAccessor().setType(type).setArray(array).setBuffer(buffer);
  const uv = (set: number) => extra.filter((_, i) => i % 8 === set * 2 || i % 8 === set * 2 + 1);
  const primitive = document
    .createPrimitive()
    .setIndices(accessor('SCALAR', index))
    .setAttribute('POSITION', accessor('VEC3', points))
    .setAttribute('NORMAL', accessor('VEC3', normals))
    .setAttribute('COLOR_0', accessor('VEC4', colours));
  for (const set of [0, 1, 2, 3]) primitive.setAttribute(`TEXCOORD_${set}`, accessor('VEC2', uv(set)));
  document
    .createScene()
    .addChild(document.createNode('floor').setMesh(document.createMesh('floor').addPrimitive(primitive)));
  return Buffer.from(await new NodeIO().writeBinary(document));
}
