/** What anybody would write with three.js alone: the scenes that the stage is measured against. */
import type { Placement, Project } from '@arvex/core';
import { cameraAt } from '@arvex/core';
import type { StageFiles } from '@arvex/stage';
import type { Mesh, Vector3 } from 'three';
import {
  BasicShadowMap,
  DirectionalLight,
  Group,
  HemisphereLight,
  Mesh as MeshOf,
  MeshLambertMaterial,
  PerspectiveCamera,
  PointLight,
  Scene,
  WebGLRenderer,
} from 'three';
import type { PieceForm } from '../packages/stage/src/forms';
import { pieceForm } from '../packages/stage/src/forms';
import { GLTFLoader } from 'three/examples/jsm/loaders/GLTFLoader.js';
import { Sky } from 'three/examples/jsm/objects/Sky.js';

async function meshOf(project: Project, placement: Placement, files: StageFiles): Promise<Scene['children'][number]> {
  const file = placement.assetId === null ? undefined : project.assets[placement.assetId]?.file;
  if (file?.kind === 'geometry') {
    const { scene } = await new GLTFLoader().parseAsync(await files.geometry(file.hash), '');
    scene.traverse((node) => {
      const mesh = node as Mesh;
      if (mesh.isMesh) mesh.material = new MeshLambertMaterial({ vertexColors: true });
    });
    return scene;
  }
  const form = pieceForm(placement.piece);
  const group = new Group();
  for (const { geometry, colour } of form ? kept(form) : []) {
    group.add(
      new MeshOf(geometry, new MeshLambertMaterial({ color: colour ?? placement.surface.colour ?? '#ffffff' })),
    );
  }
  group.scale.set(...(form?.sizeM ?? [1, 1, 1]));
  return group;
}

const forms = new Map<string, ReturnType<PieceForm['make']>>();
/** Forms shared by pieces that are alike, as anybody would write it. */
function kept({ key, make }: PieceForm) {
  const parts = forms.get(key) ?? make();
  forms.set(key, parts);
  return parts;
}

/** The things of a project under the same lights: sun with its shadow, sky, lamps that burn. */
export async function bareScene(project: Project, files: StageFiles): Promise<Scene> {
  const sun = new DirectionalLight();
  sun.castShadow = true;
  sun.shadow.mapSize.set(1024, 1024);
  sun.shadow.autoUpdate = false;
  sun.shadow.needsUpdate = true;
  Object.assign(sun.shadow.camera, { left: -40, right: 40, top: 40, bottom: -40, far: 160 });
  sun.position.set(40, 20, 20);
  const sky = new Sky();
  sky.scale.setScalar(1000);
  (sky.material.uniforms['sunPosition']?.value as Vector3).copy(sun.position);
  const scene = new Scene().add(sun, new HemisphereLight(), sky);
  for (const placement of Object.values(project.placements)) {
    const { piece, lightGroupId, positionM } = placement;
    const burns = lightGroupId === null || project.lightGroups[lightGroupId]?.level.on !== false;
    const thing = piece.kind === 'practical' && burns ? new PointLight() : await meshOf(project, placement, files);
    thing.traverse((node) => Object.assign(node, { castShadow: piece.kind !== 'practical', receiveShadow: true }));
    thing.position.set(...positionM);
    scene.add(thing);
  }
  return scene;
}

/** A renderer without anything of ours, and the camera as it stands at the beginning; sizes in pixels. */
export function bareRenderer(project: Project, cameraId: string, widthPx: number, heightPx: number) {
  const state = cameraAt(project, cameraId, 0);
  const renderer = new WebGLRenderer({ canvas: new OffscreenCanvas(widthPx, heightPx), antialias: false });
  renderer.shadowMap.enabled = true;
  renderer.shadowMap.type = BasicShadowMap;
  renderer.setSize(widthPx, heightPx, false);
  const camera = new PerspectiveCamera(state.lens.verticalDeg, widthPx / heightPx, state.clip.nearM, state.clip.farM);
  camera.position.set(...state.positionM);
  camera.quaternion.set(...state.quaternion);
  return { renderer, camera };
}
