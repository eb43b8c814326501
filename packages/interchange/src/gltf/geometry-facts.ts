import type { Footprint, GeometryFile } from '@arvex/core';
import { OutlineFromAbove, shortened, WORLD_EXTENT_M } from '@arvex/core';
import type { Document, Node, Primitive, Scene } from '@gltf-transform/core';
import { Logger, WebIO } from '@gltf-transform/core';
import { InterchangeError } from '../error';
import { KEPT_EXTENSIONS } from './extensions';
import { leftOutOf, mustBeDrawable, mustBeModest, readJsonChunk } from './gltf-contents';
import { mustBeValidGlb } from './valid-gltf';

const MAX_FOOTPRINTS = 256;
const MAX_TRIANGLES = 2_000_000;
const MAX_CLIPS = 500;
const GLTF_TRIANGLES = 4;

/**
 * Reads a GLB and measures it: triangles, bounds, outlines from above, clips, and what Arvex leaves out of it.
 * @throws InterchangeError naming the place in the file and the way out.
 */
export async function geometryFacts(bytes: Uint8Array, hash: string): Promise<GeometryFile> {
  const json = readJsonChunk(bytes);
  mustBeModest(json);
  mustBeDrawable(json);
  await mustBeValidGlb(bytes);
  const io = new WebIO().setLogger(new Logger(Logger.Verbosity.SILENT)).registerExtensions(KEPT_EXTENSIONS);
  const document = await io.readBinary(bytes);
  const root = document.getRoot();
  const scene = root.getDefaultScene() ?? root.listScenes()[0];
  const triangles = trianglesUnder(scene);
  if (triangles === 0) {
    throw new InterchangeError('The file holds no triangles, so there is nothing to place.');
  }
  if (triangles > MAX_TRIANGLES) {
    const [has, most] = [triangles, MAX_TRIANGLES].map((count) => (count / 1e6).toFixed(1));
    throw new InterchangeError(
      `The file has ${has} million triangles; Arvex takes up to ${most}. Thin its meshes or split it.`,
    );
  }
  const parts = (scene?.listChildren() ?? []).map((part) => ({ name: part.getName(), outline: outlineOf(part) }));
  const filled = parts.filter(({ outline }) => !outline.empty);
  const corners = filled.flatMap(({ outline }) => outline.outline());
  const low = (axis: 0 | 1) => corners.reduce((least, corner) => Math.min(least, corner[axis]), Infinity);
  const high = (axis: 0 | 1) => corners.reduce((most, corner) => Math.max(most, corner[axis]), -Infinity);
  const bottom = filled.reduce((least, { outline }) => Math.min(least, outline.bottomM), Infinity);
  const top = filled.reduce((most, { outline }) => Math.max(most, outline.topM), -Infinity);
  const bounds = [low(0), bottom, low(1), high(0), top, high(1)];
  if (corners.length === 0)
    throw new InterchangeError('All points of the file lie on one spot, so there is nothing to see.');
  if (!bounds.every((metres) => Math.abs(metres) <= WORLD_EXTENT_M)) {
    const reach = `${WORLD_EXTENT_M / 1000} km`;
    throw new InterchangeError(
      `The file reaches farther than ${reach} from its origin. Move it there, or scale it down.`,
    );
  }
  return {
    kind: 'geometry',
    hash,
    bytes: bytes.byteLength,
    triangles,
    minM: [low(0), bottom, low(1)],
    maxM: [high(0), top, high(1)],
    footprints: filled.slice(0, MAX_FOOTPRINTS).map(({ name, outline }): Footprint => ({
      name: shortened(name, 120),
      outline: outline.outline(),
      bottomM: outline.bottomM,
      topM: outline.topM,
    })),
    clips: clipsOf(document),
    deforms: root.listSkins().length > 0 || hasTargets(document),
    leftOut: leftOutOf(json),
  };
}

function trianglesUnder(scene: Scene | undefined): number {
  let triangles = 0;
  scene?.traverse((node) => {
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) triangles += trianglesIn(primitive);
  });
  return triangles;
}

function trianglesIn(primitive: Primitive): number {
  const count = (primitive.getIndices() ?? primitive.getAttribute('POSITION'))?.getCount() ?? 0;
  if (primitive.getMode() === GLTF_TRIANGLES) return Math.floor(count / 3);
  // Strips and fans (5 and 6) have a triangle for each vertex after the second.
  return primitive.getMode() > GLTF_TRIANGLES ? Math.max(0, count - 2) : 0;
}

function outlineOf(part: Node): OutlineFromAbove {
  const outline = new OutlineFromAbove();
  part.traverse((node) => {
    for (const primitive of node.getMesh()?.listPrimitives() ?? []) addPoints(outline, node, primitive);
  });
  return outline;
}

function addPoints(outline: OutlineFromAbove, node: Node, primitive: Primitive): void {
  const positions = primitive.getAttribute('POSITION');
  if (!positions || trianglesIn(primitive) === 0) return;
  const m = node.getWorldMatrix();
  const [xx, xy, xz, , yx, yy, yz, , zx, zy, zz, , tx, ty, tz] = m;
  const point: [number, number, number] = [0, 0, 0];
  for (let i = 0; i < positions.getCount(); i++) {
    positions.getElement(i, point);
    const [x, y, z] = point;
    outline.add(xx * x + yx * y + zx * z + tx, xy * x + yy * y + zy * z + ty, xz * x + yz * y + zz * z + tz);
  }
}

function clipsOf(document: Document): { name: string; seconds: number }[] {
  return document
    .getRoot()
    .listAnimations()
    .slice(0, MAX_CLIPS)
    .map((animation, i) => {
      const ends = animation.listSamplers().map((sampler) => sampler.getInput()?.getMaxNormalized([])[0] ?? 0);
      return { name: shortened(animation.getName(), 200) || `clip ${i + 1}`, seconds: Math.max(0, ...ends) };
    });
}

function hasTargets(document: Document): boolean {
  const meshes = document.getRoot().listMeshes();
  return meshes.some((mesh) => mesh.listPrimitives().some((primitive) => primitive.listTargets().length > 0));
}
