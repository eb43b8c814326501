import type { Vector } from '@arvex/core';
import type { Material } from '@gltf-transform/core';
import { Document, WebIO } from '@gltf-transform/core';
import type { BufferGeometry, Material as ObjMaterial, Mesh, Object3D } from 'three';
import { Color } from 'three';
import { MTLLoader } from 'three/examples/jsm/loaders/MTLLoader.js';
import { OBJLoader } from 'three/examples/jsm/loaders/OBJLoader.js';
import { mergeVertices } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import type { Packed, PackProgress } from '../packed';
import { checkObj } from './check-obj';

/** What MTL says of a material, as its reader gives it. */
type MtlEntry = Readonly<Record<string, unknown>>;

/** Turns an OBJ, with the MTL and pictures brought in beside it, into GLB. @throws InterchangeError naming the line that is wrong. */
export async function packObj(obj: File, files: readonly File[], progress: PackProgress): Promise<Packed> {
  progress('Reading');
  const text = await obj.text();
  const facts = checkObj(text, (share) => progress('Checking', share));
  progress('Building meshes');
  const group = new OBJLoader().parse(text);
  const document = new Document();
  document.createBuffer();
  const scene = document.createScene();
  document.getRoot().setDefaultScene(scene);
  const leftOut: string[] = [];
  const used = new Set<string>();
  const materials = await materialsOf(document, facts.libraries, files, leftOut, used);
  let lines = 0;
  const meshes: Mesh[] = [];
  group.traverse((node: Object3D) => {
    if ('isMesh' in node) meshes.push(node as Mesh);
    else if ('isLine' in node || 'isPoints' in node) lines += 1;
  });
  if (lines > 0) leftOut.push(`${lines} objects of lines or points: they are not drawn`);
  for (const [i, mesh] of meshes.entries()) {
    progress('Building meshes', i / meshes.length);
    const node = document.createNode(mesh.name || obj.name.replace(/\.obj$/i, ''));
    node.setMesh(meshOf(document, mesh, materials));
    scene.addChild(node);
  }
  progress('Packing');
  const bytes = await new WebIO().writeBinary(document);
  return { glb: new Blob([bytes]), leftOut, used: [...used] };
}

async function materialsOf(
  document: Document,
  libraries: readonly string[],
  files: readonly File[],
  leftOut: string[],
  used: Set<string>,
): Promise<Map<string, Material>> {
  const materials = new Map<string, Material>();
  const dropped = (name: string) => {
    const last = name.split(/[\\/]/).pop()?.toLowerCase();
    const found = files.find((file) => file.name.toLowerCase() === last);
    if (found) used.add(found.name);
    return found;
  };
  for (const library of libraries) {
    const file = dropped(library);
    if (!file) {
      leftOut.push(`${library} was not brought in with the file: its materials are plain`);
      continue;
    }
    const creator = new MTLLoader().parse(await file.text(), '') as unknown as {
      materialsInfo: Record<string, MtlEntry>;
    };
    for (const [name, entry] of Object.entries(creator.materialsInfo)) {
      const material = document.createMaterial(name).setRoughnessFactor(1).setMetallicFactor(0);
      const colour = numbers(entry['kd']) ?? [0.6, 0.6, 0.6];
      const alpha = Number(entry['d'] ?? 1 - Number(entry['tr'] ?? 0));
      // Colours in MTL are meant as they look (sRGB); glTF wants them linear.
      const { r, g, b } = new Color().setRGB(colour[0], colour[1], colour[2], 'srgb');
      material.setBaseColorFactor([r, g, b, Number.isFinite(alpha) ? alpha : 1]);
      if (alpha < 1) material.setAlphaMode('BLEND');
      await addPicture(document, material, entry['map_kd'], dropped, leftOut);
      materials.set(name, material);
    }
  }
  return materials;
}

async function addPicture(
  document: Document,
  material: Material,
  map: unknown,
  dropped: (name: string) => File | undefined,
  leftOut: string[],
): Promise<void> {
  if (typeof map !== 'string') return;
  // Options such as -s 1 1 1 stand before the file's name.
  const name = map.split(/\s+/).pop() ?? map;
  const picture = dropped(name);
  const mediaType = /\.png$/i.test(name) ? 'image/png' : /\.jpe?g$/i.test(name) ? 'image/jpeg' : undefined;
  if (!picture || !mediaType) {
    leftOut.push(`${name}: ${picture ? 'only PNG and JPEG are kept' : 'not brought in with the file'}`);
    return;
  }
  const texture = document.createTexture(name).setMimeType(mediaType);
  material.setBaseColorTexture(texture.setImage(new Uint8Array(await picture.arrayBuffer())));
}

function numbers(value: unknown): Vector | undefined {
  const parts = Array.isArray(value) ? value : typeof value === 'string' ? value.split(/\s+/) : [];
  const three = parts.slice(0, 3).map(Number);
  const [x, y, z] = three;
  if (x === undefined || y === undefined || z === undefined || !three.every(Number.isFinite)) return undefined;
  return [x, y, z];
}

function meshOf(document: Document, mesh: Mesh, materials: ReadonlyMap<string, Material>) {
  const made = document.createMesh(mesh.name);
  const own: ObjMaterial[] = Array.isArray(mesh.material) ? mesh.material : [mesh.material];
  const whole = { start: 0, count: mesh.geometry.getAttribute('position').count, materialIndex: 0 };
  for (const { start, count, materialIndex } of mesh.geometry.groups.length > 0 ? mesh.geometry.groups : [whole]) {
    const part = mergeVertices(partOf(mesh.geometry, start, count));
    const primitive = document
      .createPrimitive()
      .setMaterial(materials.get(own[materialIndex ?? 0]?.name ?? '') ?? null);
    const buffer = document.getRoot().listBuffers()[0] ?? null;
    const names = { position: ['POSITION', 'VEC3'], normal: ['NORMAL', 'VEC3'], uv: ['TEXCOORD_0', 'VEC2'] } as const;
    for (const [name, [semantic, type]] of Object.entries(names)) {
      const attribute = part.getAttribute(name);
      if (!attribute) continue;
      const values = Float32Array.from(attribute.array);
      // OBJ has the picture's origin at the bottom, glTF at the top.
      if (name === 'uv') for (let i = 1; i < values.length; i += 2) values[i] = 1 - (values[i] ?? 0);
      primitive.setAttribute(semantic, document.createAccessor().setType(type).setArray(values).setBuffer(buffer));
    }
    const index = Uint32Array.from(part.index?.array ?? []);
    primitive.setIndices(document.createAccessor().setType('SCALAR').setArray(index).setBuffer(buffer));
    made.addPrimitive(primitive);
  }
  return made;
}

function partOf(geometry: BufferGeometry, start: number, count: number): BufferGeometry {
  const part = geometry.clone();
  part.clearGroups();
  for (const [name, attribute] of Object.entries(geometry.attributes)) {
    const copy = attribute.clone();
    copy.array = attribute.array.slice(start * attribute.itemSize, (start + count) * attribute.itemSize);
    (copy as { count: number }).count = count;
    part.setAttribute(name, copy);
  }
  return part;
}
