import type { Placement } from '@arvex/core';
import type { AnimationMixer as Mixer, BufferGeometry, Matrix4, Mesh, MeshLambertMaterial, Object3D } from 'three';
import { AnimationMixer, Color, Group, SkinnedMesh } from 'three';
import { clone } from 'three/examples/jsm/utils/SkeletonUtils.js';
import type { ImportedBody } from '../files';
import type { Finish, Instead } from './finish';
import { finished } from './finish';
import type { SkyUniforms } from './sky-light';
import { MATT_FROM, smoothed } from './smooth-surface';

type BodyMesh = Mesh<BufferGeometry, MeshLambertMaterial>;

/** Drawn after the rigid pieces. */
const AFTER_PIECES = 5e5;

interface Moving {
  readonly key: string;
  readonly root: Group;
  readonly mixer: Mixer | undefined;
}

/** Imported things that bend or play a clip: each has a body of its own. */
export class MovingBodies {
  readonly group = new Group();
  private readonly moving = new Map<string, Moving>();

  /** @param sky what smooth surfaces mirror. */
  constructor(private readonly sky: SkyUniforms) {}

  /** Stands up a body for each of these placements and for no other. */
  set(placements: readonly (readonly [Placement, ImportedBody])[]): void {
    const wanted = new Set(placements.map(([placement]) => placement.id));
    for (const id of this.moving.keys()) if (!wanted.has(id)) this.takeAway(id);
    for (const [rank, [placement, body]] of placements.entries()) {
      const key = `${placement.assetId} ${placement.clip?.index} ${placement.surface.colour} ${placement.surface.roughness}`;
      if (this.moving.get(placement.id)?.key !== key) {
        this.takeAway(placement.id);
        this.standUp(placement, body, key);
      }
      // In the order in which they come, whatever stood here before.
      this.moving.get(placement.id)?.root.traverse((node) => (node.renderOrder = AFTER_PIECES + rank));
    }
  }

  set finish(finish: Finish) {
    this.eachMesh((mesh, whole) => (mesh.material = finished(whole, finish)));
  }

  /** Draws with other materials, and puts back what was there. */
  drawnWith(instead: Instead, draw: () => void): void {
    const before: [BodyMesh, MeshLambertMaterial][] = [];
    this.eachMesh((mesh, whole, placementId) => {
      before.push([mesh, mesh.material]);
      const other = instead(whole, false, placementId);
      if (other === 'none') mesh.visible = false;
      else if (other) mesh.material = other as MeshLambertMaterial;
    });
    draw();
    for (const [mesh, material] of before) Object.assign(mesh, { material, visible: true });
  }

  private eachMesh(work: (mesh: BodyMesh, whole: MeshLambertMaterial, placementId: string) => void): void {
    for (const [placementId, { root }] of this.moving) {
      root.traverse((node) => {
        const mesh = node as BodyMesh;
        if (mesh.isMesh) work(mesh, (mesh.userData['whole'] ??= mesh.material) as MeshLambertMaterial, placementId);
      });
    }
  }

  dispose(): void {
    this.set([]);
  }

  /** Puts a body where it stands, in the pose its clip has at a second. */
  place(placement: Placement, world: Matrix4, clipSecond: number | undefined): void {
    const moving = this.moving.get(placement.id);
    if (!moving) return;
    moving.mixer?.setTime(clipSecond ?? 0);
    moving.root.matrix.copy(world);
    moving.root.updateMatrixWorld(true);
  }

  private standUp(placement: Placement, body: ImportedBody, key: string): void {
    const root = new Group().add(clone(body.root));
    root.matrixAutoUpdate = false;
    root.userData['placementId'] = placement.id;
    root.traverse((node) => this.paint(node, placement));
    const clip = placement.clip && body.clips[placement.clip.index];
    const mixer = clip ? new AnimationMixer(root.children[0] as Object3D) : undefined;
    if (clip) mixer?.clipAction(clip).play();
    this.group.add(root);
    this.moving.set(placement.id, { key, root, mixer });
  }

  private paint(node: Object3D, { surface }: Placement): void {
    const mesh = node as Mesh;
    if (!mesh.isMesh) return;
    mesh.castShadow = true;
    mesh.receiveShadow = true;
    mesh.frustumCulled = false; // its pose may leave the box it was exported with
    const roughness = surface.roughness ?? (mesh.userData['roughness'] as number | undefined) ?? 1;
    if (surface.colour === null && roughness >= MATT_FROM) return;
    const own = (mesh.material as MeshLambertMaterial).clone();
    if (surface.colour !== null) own.color.multiply(new Color(surface.colour));
    smoothed(own, roughness, this.sky);
    mesh.material = own;
    mesh.userData['ownMaterial'] = own;
  }

  private takeAway(id: string): void {
    const moving = this.moving.get(id);
    if (!moving) return;
    moving.mixer?.stopAllAction();
    moving.root.traverse(dispose);
    this.group.remove(moving.root);
    this.moving.delete(id);
  }
}

/** Frees what a copy has for itself; geometry and materials of the file belong to all copies. */
function dispose(node: Object3D): void {
  if (node instanceof SkinnedMesh) node.skeleton.dispose();
  (node.userData['ownMaterial'] as MeshLambertMaterial | undefined)?.dispose();
}
