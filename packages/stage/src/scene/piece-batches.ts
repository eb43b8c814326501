import type { LightMix } from '@arvex/core';
import { lightFactor, NO_GROUP } from '@arvex/core';
import type { BufferGeometry, Color, Material, MeshLambertMaterial, Texture } from 'three';
import { DynamicDrawUsage, Group, InstancedBufferAttribute, InstancedMesh, Matrix4 } from 'three';
import type { Finish, Instead } from './finish';
import { finished } from './finish';
import type { SkyUniforms } from './sky-light';
import { smoothed } from './smooth-surface';

/** One part of one placement, as it is drawn together with all its like. */
export interface StandingPart {
  readonly placementId: string;
  /** Parts with the same key are one draw call: same geometry, same material. */
  readonly key: string;
  readonly geometry: BufferGeometry;
  readonly material: MeshLambertMaterial;
  /** Where the part lies within its piece, sizes counted. */
  readonly offset: Matrix4;
  /** Colour of this one among its like. */
  readonly colour: Color;
  readonly glow: Glow | undefined;
  /** 0 mirrors sharply, 1 is matt. */
  readonly roughness: number;
  /** Ground and sea: drawn after what stands on it hides it, and without a shadow of its own. */
  readonly large: boolean;
  readonly castsShadow: boolean;
  /** The body of a lamp. */
  readonly isLamp: boolean;
}

/** What a part shines with by itself: a colour of luminance 1 times cd/m², or a picture as bright as its file. */
export interface Glow {
  readonly colour: Color;
  readonly luminanceCdM2: number | 'as-filed';
  readonly lightGroupId: string | null;
  readonly map?: Texture;
}

interface Batch {
  readonly mesh: InstancedMesh<BufferGeometry, MeshLambertMaterial>;
  /** Its own, with light in each pixel. */
  readonly material: MeshLambertMaterial;
  readonly parts: StandingPart[];
  readonly isGround: boolean;
  readonly glow: Glow | undefined;
}

/** Drawn after everything that stands, and before the sky. */
const AFTER_WHAT_STANDS = 1e6;

const placed = new Matrix4();

const DARK = [0, 0, 0] as const;

/** Everything rigid that stands in the set, each kind of part as one instanced mesh. */
export class PieceBatches {
  readonly group = new Group();
  private readonly batches = new Map<string, Batch>();
  private readonly slots = new Map<string, { batch: Batch; index: number }[]>();

  /** @param sky what smooth surfaces mirror. */
  constructor(private readonly sky: SkyUniforms) {}

  set finish(finish: Finish) {
    for (const { mesh, material } of this.batches.values()) mesh.material = finished(material, finish);
  }

  /** Whether bodies of lamps are seen; their light is, in any case. */
  set lampBodies(seen: boolean) {
    for (const { mesh, parts } of this.batches.values()) if (parts[0]?.isLamp) mesh.visible = seen;
  }

  /** Draws with other materials, and puts back what was there. */
  drawnWith(instead: Instead, draw: () => void): void {
    const before = [...this.batches.values()].map(({ mesh }) => ({
      mesh,
      material: mesh.material,
      visible: mesh.visible,
    }));
    for (const { mesh, material, isGround } of this.batches.values()) {
      const other = instead(material, isGround, undefined);
      if (other === 'none') mesh.visible = false;
      else if (other) mesh.material = other as MeshLambertMaterial;
    }
    draw();
    for (const { mesh, material, visible } of before) Object.assign(mesh, { material, visible });
  }

  /** Draws with white instances of some placements and black ones of all others. */
  drawnAsMask(placementIds: ReadonlySet<string>, draw: () => void): void {
    const before = [...this.batches.values()].map(({ mesh }) => ({ mesh, colours: mesh.instanceColor }));
    for (const { mesh, parts } of this.batches.values()) {
      const shares = parts.flatMap(({ placementId }) => Array<number>(3).fill(placementIds.has(placementId) ? 1 : 0));
      mesh.instanceColor = new InstancedBufferAttribute(new Float32Array(shares), 3);
    }
    draw();
    for (const { mesh, colours } of before) mesh.instanceColor = colours;
  }

  /**
   * Stands up these parts and nothing else. They are drawn in the order in which they come, so that where two lie at the same depth the
   * same one is seen, whatever was drawn before.
   */
  set(parts: readonly StandingPart[]): void {
    const byKey = new Map<string, StandingPart[]>();
    for (const part of parts) {
      const alike = byKey.get(part.key);
      if (alike) alike.push(part);
      else byKey.set(part.key, [part]);
    }
    for (const [key, batch] of this.batches) {
      const alike = byKey.get(key);
      if (alike && alike.length <= batch.mesh.instanceMatrix.count) continue;
      this.group.remove(batch.mesh);
      batch.mesh.dispose();
      batch.material.dispose();
      this.batches.delete(key);
    }
    this.slots.clear();
    let rank = 0;
    for (const [key, alike] of byKey) this.fill(key, alike, rank++);
  }

  dispose(): void {
    this.set([]);
  }

  /** Puts all parts of a placement where it stands. */
  place(placementId: string, world: Matrix4): void {
    for (const { batch, index } of this.slots.get(placementId) ?? []) {
      const { mesh, parts } = batch;
      mesh.setMatrixAt(index, placed.multiplyMatrices(world, (parts[index] as StandingPart).offset));
      mesh.instanceMatrix.needsUpdate = true;
      mesh.boundingSphere = null; // found again when it is next asked for
    }
  }

  /** Whether anything of a light group shines by itself. */
  shinesIn(lightGroupId: string | null): boolean {
    return [...this.batches.values()].some(({ glow }) => glow?.lightGroupId === lightGroupId);
  }

  /** Lets what shines shine as a camera's mix has it. @param clippingCdM2 luminance that is white in the picture. */
  shine(mix: LightMix, clippingCdM2: number, burns: (lightGroupId: string | null) => boolean): void {
    for (const { material, glow } of this.batches.values()) {
      if (!glow) continue;
      const [r, g, b] = burns(glow.lightGroupId) ? lightFactor(mix[glow.lightGroupId ?? NO_GROUP]) : DARK;
      material.emissive.setRGB(glow.colour.r * r, glow.colour.g * g, glow.colour.b * b);
      material.emissiveIntensity = glow.luminanceCdM2 === 'as-filed' ? clippingCdM2 : glow.luminanceCdM2;
    }
  }

  /** The placement that was hit as instance `index` of a mesh. */
  ownerOf(mesh: object, index: number | undefined): string | undefined {
    for (const batch of this.batches.values()) {
      if (batch.mesh === mesh) return batch.parts[index ?? -1]?.placementId;
    }
    return undefined;
  }

  private fill(key: string, alike: StandingPart[], rank: number): void {
    const [first] = alike as [StandingPart];
    let batch = this.batches.get(key);
    if (batch) {
      batch.parts.splice(0, Infinity, ...alike);
      batch.mesh.geometry = first.geometry;
    } else {
      const mesh = this.meshFor(first, alike.length);
      batch = { mesh, material: mesh.material, parts: alike, isGround: first.large, glow: first.glow };
      this.batches.set(key, batch);
    }
    const { mesh } = batch;
    mesh.renderOrder = rank + (batch.isGround ? AFTER_WHAT_STANDS : 0);
    mesh.count = alike.length;
    mesh.boundingSphere = null;
    alike.forEach((part, index) => {
      mesh.setColorAt(index, part.colour);
      const slots = this.slots.get(part.placementId);
      const slot = { batch, index };
      if (slots) slots.push(slot);
      else this.slots.set(part.placementId, [slot]);
    });
    if (mesh.instanceColor) mesh.instanceColor.needsUpdate = true;
  }

  private meshFor(part: StandingPart, count: number): Batch['mesh'] {
    const { geometry, material, glow, roughness, castsShadow } = part;
    const own = material.clone();
    smoothed(own, roughness, this.sky);
    if (glow?.map) own.emissiveMap = glow.map;
    // Room to grow, so that putting one more thing in the set does not make the mesh anew.
    const mesh = new InstancedMesh<BufferGeometry, MeshLambertMaterial>(
      geometry,
      own,
      Math.max(1, Math.ceil(count * 1.5)),
    );
    mesh.instanceMatrix.setUsage(DynamicDrawUsage);
    mesh.castShadow = castsShadow;
    mesh.receiveShadow = glow === undefined;
    this.group.add(mesh);
    return mesh;
  }
}

/** Name for a material's look, so that parts that look alike are found: all of it, to the last bit. */
export function lookKey(material: Material, glow: Glow | undefined, roughness: number): string {
  const matter = `${material.uuid} ${roughness}`;
  if (!glow) return matter;
  const { colour, luminanceCdM2, lightGroupId, map } = glow;
  return `${matter} ${colour.toArray().join()} ${luminanceCdM2} ${lightGroupId ?? ''} ${map?.uuid ?? ''}`;
}
