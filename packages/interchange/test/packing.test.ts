import { WebIO } from '@gltf-transform/core';
import { Blob as NodeBlob, File as NodeFile } from 'node:buffer';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { packGltf } from '../src/gltf';
import { checkObj, packObj } from '../src/obj';

// The test's document has files that cannot be read.
beforeEach(() => {
  vi.stubGlobal('File', NodeFile);
  vi.stubGlobal('Blob', NodeBlob);
});

const file = (name: string, content: string | Uint8Array<ArrayBuffer>) => new File([content], name);
const quiet = () => undefined;
async function read(glb: Blob) {
  const document = await new WebIO().readBinary(new Uint8Array(await glb.arrayBuffer()));
  return document.getRoot();
}

describe('an OBJ', () => {
  const corners = 'v 0 0 0\nv 1 0 0\nv 0 2 0\nv 1 2 0\n';

  it('is checked line by line, and told by the line that is wrong', () => {
    const wrong: readonly [string, RegExp][] = [
      [`${corners}f 1 2 5\n`, /^Line 5: a face asks for corner 5 of 4/],
      [`${corners}f 1 2 -5\n`, /^Line 5: a face asks for corner -5 of 4/],
      [`${corners}f 0 1 2\n`, /^Line 5: a face asks for corner 0/],
      [`${corners}f 1/1 x/1 2/1\n`, /^Line 5: a face asks for corner x/],
      [`${corners}f 1 2\n`, /^Line 5: "f 1 2" is a face with fewer than three corners/],
      ['v 0 0\nf 1 1 1\n', /^Line 1: "v 0 0" is not a corner with three numbers/],
      ['v 0 0 NaN\nf 1 1 1\n', /^Line 1: /],
      [`v 0 0 Infinity ${'9'.repeat(90)}\nf 1 1 1\n`, /^Line 1: .{60,80} … ?" is not a corner/],
      ['f 1 2 3\nv 0 0 0\nv 1 0 0\nv 0 1 0\n', /^Line 1: a face asks for corner 1 of 0/],
      [corners, /holds no faces/],
      ['', /holds no faces/],
    ];
    for (const [text, says] of wrong) expect(() => checkObj(text, quiet)).toThrow(says);
  });

  it('may count backward, from Windows, without a last newline, and name its materials', () => {
    const text = `# made up\r\nmtllib sail cloth.mtl\r\n${corners.replaceAll('\n', '\r\n')}f -4//1 -3//1 -2//1`;
    expect(checkObj(text, quiet)).toEqual({ libraries: ['sail cloth.mtl'] });
  });

  it('tells how far it is in a large file', () => {
    const told: number[] = [];
    checkObj(`${'v 0 0 0\n'.repeat(120_000)}f 1 2 3\n`, (share) => told.push(share));
    expect(told).toHaveLength(2);
    expect(told[0]).toBeCloseTo(0.416, 2);
  });

  it('becomes a GLB with its colours linear, its picture, and the origin of pictures where glTF has it', async () => {
    const obj = `mtllib sail.mtl\n${corners}vt 0 0\nvt 1 0\nvt 0 1\nvn 0 0 1\nusemtl cloth\nf 1/1/1 2/2/1 3/3/1\n`;
    const mtl = 'newmtl cloth\nKd 0.5 0.5 0.5\nd 0.25\nmap_Kd -s 1 1 1 C:\\art\\Weave.png\n';
    const files = [file('sail.mtl', mtl), file('weave.PNG', new Uint8Array([1, 2, 3]))];
    const { glb, leftOut } = await packObj(file('sail.obj', obj), files, quiet);
    const root = await read(glb);
    const [material] = root.listMaterials();
    expect(material?.getBaseColorFactor()[0]).toBeCloseTo(0.214, 3); // sRGB 0.5
    expect([material?.getBaseColorFactor()[3], material?.getAlphaMode()]).toEqual([0.25, 'BLEND']);
    expect([...(material?.getBaseColorTexture()?.getImage() ?? [])]).toEqual([1, 2, 3]);
    const [primitive] = root.listMeshes()[0]?.listPrimitives() ?? [];
    expect([...(primitive?.getAttribute('TEXCOORD_0')?.getArray() ?? [])]).toEqual([0, 1, 1, 1, 0, 0]);
    expect(primitive?.getIndices()?.getCount()).toBe(3);
    expect(leftOut).toEqual([]);
  });

  it('lists what was not brought in with it, and what is not drawn', async () => {
    const obj = `mtllib sail.mtl\nmtllib mast.mtl\n${corners}usemtl cloth\nf 1 2 3\nl 1 2\n`;
    const files = [file('sail.mtl', 'newmtl cloth\nKd 1 0 0\nmap_Kd weave.tga\n'), file('weave.tga', '…')];
    const { leftOut } = await packObj(file('sail.obj', obj), files, quiet);
    expect(leftOut.join('; ')).toContain('mast.mtl was not brought in with the file: its materials are plain');
    expect(leftOut.join('; ')).toContain('weave.tga: only PNG and JPEG are kept');
  });
});

describe('a glTF with its files', () => {
  const positions = new Float32Array([0, 0, 0, 1, 0, 0, 0, 1, 0]);
  const gltf = {
    asset: { version: '2.0' },
    scenes: [{ nodes: [0] }],
    nodes: [{ mesh: 0, name: 'sail' }],
    meshes: [{ primitives: [{ attributes: { POSITION: 0 } }] }],
    accessors: [{ bufferView: 0, componentType: 5126, count: 3, type: 'VEC3', min: [0, 0, 0], max: [1, 1, 0] }],
    bufferViews: [{ buffer: 0, byteLength: 36 }],
    buffers: [{ byteLength: 36, uri: 'parts/Sail%20one.bin' }],
  };
  const bin = () => file('sail one.bin', new Uint8Array(positions.buffer.slice(0)));
  const pack = (parts: object = {}, files: readonly File[] = [bin()]) =>
    packGltf(file('sail.gltf', JSON.stringify({ ...gltf, ...parts })), files, quiet);

  it('is packed as one, its files found by their names', async () => {
    const root = await read((await pack()).glb);
    const [primitive] = root.listMeshes()[0]?.listPrimitives() ?? [];
    expect([...(primitive?.getAttribute('POSITION')?.getArray() ?? [])]).toEqual([...positions]);
    expect(root.listNodes()[0]?.getName()).toBe('sail');
  });

  it('is told by the place that is wrong, and nothing outside is fetched', async () => {
    const { accessors, nodes, bufferViews } = gltf;
    const wrong: readonly [object, RegExp][] = [
      [
        { buffers: [{ byteLength: 36, uri: 'https://example.org/a.bin' }] },
        /refers to https:.* \(at \/buffers\/0\/uri\)\. Only files/,
      ],
      [{ buffers: [{ byteLength: 36, uri: 'file:///etc/passwd' }] }, /refers to file:/],
      [{ images: [{ uri: 'weave.png' }] }, /needs weave\.png \(at \/images\/0\/uri\)\. Bring both in together/],
      [{ accessors: [{ ...accessors[0], count: 4_000_000_000 }] }, /\(at \/accessors\/0/],
      [{ accessors: [{ ...accessors[0], bufferView: 9 }] }, /\(at \/accessors\/0\/bufferView\)/],
      [{ bufferViews: [{ ...bufferViews[0], byteLength: 4000 }] }, /\(at \/bufferViews\/0/],
      [{ nodes: [...nodes, { children: [2] }, { children: [1] }] }, /\(at \/nodes\/[12]/],
      [{ scenes: [{ nodes: [7] }] }, /\(at \/scenes\/0\/nodes\/0\)/],
      [{ asset: {} }, /\(at \/asset/],
    ];
    for (const [parts, says] of wrong) await expect(pack(parts)).rejects.toThrow(says);
    await expect(pack({}, [])).rejects.toThrow('sail.gltf needs Sail one.bin (at /buffers/0/uri)');
    await expect(packGltf(file('sail.gltf', '{"asset": '), [bin()], quiet)).rejects.toThrow(
      /^sail\.gltf is not JSON: /,
    );
  });
});
