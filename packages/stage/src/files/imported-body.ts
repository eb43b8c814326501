import { luminanceOf } from '@arvex/core';
import type { AnimationClip, BufferGeometry, Material, Mesh, Object3D } from 'three';
import { Color, Group, Matrix4, MeshLambertMaterial, MeshStandardMaterial, SkinnedMesh } from 'three';
import type { GLTF } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { mergeGeometries } from 'three/examples/jsm/utils/BufferGeometryUtils.js';

/** A rigid part of an imported file: where it lies within the file, what it is made of, how brightly it shines. */
interface ImportedPart {
  readonly geometry: BufferGeometry;
  readonly material: MeshLambertMaterial;
  readonly offset: Matrix4;
  readonly luminanceCdM2: number;
  /** 0 mirrors sharply, 1 is matt. */
  readonly roughness: number;
}

/** An imported file as the stage draws it: rigid parts that many placements share, or a body to be copied for each. */
export interface ImportedBody {
  readonly parts: readonly ImportedPart[];
  readonly root: Object3D;
  readonly clips: readonly AnimationClip[];
  /** Whether something in it bends, so that rigid parts cannot stand for it. */
  readonly deforms: boolean;
}

/** Frees what an imported file takes of the graphics: its geometry, materials and pictures. */
export function disposeBody({ root, parts }: ImportedBody): void {
  const materials = new Set<MeshLambertMaterial>(parts.map(({ material }) => material));
  const geometries = new Set<BufferGeometry>(parts.map(({ geometry }) => geometry));
  root.traverse((node) => {
    const mesh = node as Mesh<BufferGeometry, MeshLambertMaterial>;
    if (!mesh.isMesh) return;
    materials.add(mesh.material);
    geometries.add(mesh.geometry);
  });
  geometries.forEach((geometry) => geometry.dispose());
  for (const material of materials) {
    for (const picture of [material.map, material.emissiveMap]) picture?.dispose();
    material.dispose();
  }
}

/** Materials with more parts than this are drawn as one. */
const MERGED_FROM = 2;

/** Takes a read file apart. Everything is matt, which is quick without a graphics processor; what shines does so in cd/m². */
export function importedBody({ scene, animations }: GLTF): ImportedBody {
  const root = new Group().add(...scene.children);
  const matts = new Map<Material, Matt>();
  const mattOf = (material: Material) => {
    const known = matts.get(material);
    if (known) return known;
    const made = mattMaterial(material);
    matts.set(material, made);
    return made;
  };
  let deforms = false;
  const rigid: ImportedPart[] = [];
  root.updateMatrixWorld(true);
  root.traverse((node) => {
    const mesh = node as Mesh;
    if (!mesh.isMesh) return;
    const bends = mesh instanceof SkinnedMesh || mesh.geometry.morphAttributes.position !== undefined;
    deforms ||= bends;
    // The loader gives each mesh one material.
    const { matt, luminance, roughness } = mattOf(mesh.material as Material);
    mesh.material = matt;
    mesh.userData['luminanceCdM2'] = luminance;
    mesh.userData['roughness'] = roughness;
    if (!bends)
      rigid.push({
        geometry: mesh.geometry,
        material: matt,
        offset: mesh.matrixWorld.clone(),
        luminanceCdM2: luminance,
        roughness,
      });
  });
  return { parts: deforms ? [] : joined(rigid), root, clips: animations, deforms };
}

/** Parts of one material as one, where their attributes agree: fewer draw calls. */
function joined(parts: readonly ImportedPart[]): ImportedPart[] {
  const alike = new Map<string, ImportedPart[]>();
  for (const part of parts) {
    const attributes = Object.entries(part.geometry.attributes)
      .map(
        ([name, attribute]) => `${name}${attribute.itemSize}${attribute.normalized}${attribute.array.constructor.name}`,
      )
      .sort();
    const interleaved = Object.values(part.geometry.attributes).some((one) => 'isInterleavedBufferAttribute' in one);
    const own = interleaved ? part.geometry.uuid : '';
    const key = `${part.material.uuid} ${attributes.join()} ${part.geometry.index !== null} ${own}`;
    alike.set(key, [...(alike.get(key) ?? []), part]);
  }
  return [...alike.values()].flatMap((group) => {
    const [first] = group;
    if (!first || group.length < MERGED_FROM) return group;
    const geometry = mergeGeometries(
      group.map((part) => part.geometry.clone().applyMatrix4(part.offset)),
    ) as BufferGeometry | null;
    return geometry ? [{ ...first, geometry, offset: new Matrix4() }] : group;
  });
}

/** How a file's material is drawn: what it scatters, and apart from it how it shines and mirrors. */
interface Matt {
  readonly matt: MeshLambertMaterial;
  readonly luminance: number;
  readonly roughness: number;
}

function mattMaterial(material: Material): Matt {
  if (!(material instanceof MeshStandardMaterial)) {
    return { matt: new MeshLambertMaterial({ color: '#8b8680' }), luminance: 0, roughness: 1 };
  }
  const { color, map, vertexColors, side, transparent, opacity, alphaTest, emissive, emissiveMap } = material;
  // Emissive strength is in cd/m² (KHR_materials_emissive_strength), for each of red, green and blue.
  const share = luminanceOf([emissive.r, emissive.g, emissive.b]);
  const luminance = share * material.emissiveIntensity;
  return {
    luminance,
    roughness: material.roughness,
    matt: new MeshLambertMaterial({
      color,
      map,
      vertexColors,
      side,
      transparent,
      opacity,
      alphaTest,
      emissiveMap,
      emissive: share > 0 ? emissive.clone().multiplyScalar(1 / share) : new Color(0, 0, 0),
      emissiveIntensity: luminance,
    }),
  };
}
