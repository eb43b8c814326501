/** Runs in the browser: the stage beside bare three.js frames of the same scene, at the same size. */
import type { Placement, Project } from '@arvex/core';
import {
  applyChange,
  CAMERA_DEFAULTS,
  cameraAt,
  newProject,
  PIECE_OFFERS,
  PLACEMENT_DEFAULTS,
  setPlacement,
} from '@arvex/core';
import type { StageFiles } from '@arvex/stage';
import { NOTHING_STAGED, setPatch, Stage, viewOf } from '@arvex/stage';
import type { Mesh, Vector3 } from 'three';
import {
  BasicShadowMap,
  BufferAttribute,
  BufferGeometry,
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

const [WIDTH, HEIGHT, RUNS, WARM_UP] = [960, 540, 15, 3];
const FILES: StageFiles = {
  geometry: async (hash) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash) => (await fetch(`/api/pictures/${hash}`)).blob(),
};

async function timed(draw: (run: number) => unknown, done: () => void): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < RUNS; run++) {
    const begin = performance.now();
    await draw(run);
    done();
    times.push(performance.now() - begin);
    await new Promise((resolve) => setTimeout(resolve, 0));
  }
  return times.sort((a, b) => a - b)[RUNS >> 1] ?? NaN;
}

/** The same of two that are compared, in turns, so that a slow moment of the machine meets both. */
async function timedInTurns(ours: () => void, bare: () => void): Promise<[number, number]> {
  const times: [number[], number[]] = [[], []];
  for (let run = 0; run < RUNS + WARM_UP; run++) {
    for (const [i, draw] of [ours, bare].entries()) {
      const begin = performance.now();
      draw();
      if (run >= WARM_UP) times[i as 0 | 1].push(performance.now() - begin);
      await new Promise((resolve) => setTimeout(resolve, 0));
    }
  }
  const middle = (all: number[]) => all.sort((a, b) => a - b)[RUNS >> 1] ?? NaN;
  return [middle(times[0]), middle(times[1])];
}

/** Waits for the graphics by reading a pixel back. */
function finish(gl: WebGLRenderingContext | WebGL2RenderingContext): void {
  gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
}

async function meshOf(project: Project, placement: Placement): Promise<Scene['children'][number]> {
  const file = placement.assetId === null ? undefined : project.assets[placement.assetId]?.file;
  if (file?.kind === 'geometry') {
    const { scene } = await new GLTFLoader().parseAsync(await FILES.geometry(file.hash), '');
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

/** The same things under the same lights: sun with its shadow, sky, lamps that burn. */
async function bareScene(project: Project): Promise<Scene> {
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
    const thing = piece.kind === 'practical' && burns ? new PointLight() : await meshOf(project, placement);
    thing.traverse((node) => Object.assign(node, { castShadow: piece.kind !== 'practical', receiveShadow: true }));
    thing.position.set(...positionM);
    scene.add(thing);
  }
  return scene;
}

function bareRenderer(project: Project, cameraId: string) {
  const state = cameraAt(project, cameraId, 0);
  const renderer = new WebGLRenderer({ canvas: new OffscreenCanvas(WIDTH, HEIGHT), antialias: false });
  renderer.shadowMap.enabled = true;
  renderer.shadowMap.type = BasicShadowMap;
  renderer.setSize(WIDTH, HEIGHT, false);
  const camera = new PerspectiveCamera(state.lens.verticalDeg, WIDTH / HEIGHT, state.clip.nearM, state.clip.farM);
  camera.position.set(...state.positionM);
  camera.quaternion.set(...state.quaternion);
  return { renderer, camera };
}

/** Milliseconds of a picture while one thing is dragged: ours from the edit on, and a bare frame with one mesh moved. */
async function dragging(project: Project, dragged: string) {
  const cameraId = Object.keys(project.cameras)[0] ?? '';
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  const stage = new Stage(canvas, FILES);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const view = viewOf(cameraAt(project, cameraId, 0), 0);
  const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
  let now: Project = project;
  const move = (run: number) => {
    const edit = setPlacement(now, dragged, 'Move', { positionM: [run / 10, 0, 3] });
    return applyChange(now, { id: crypto.randomUUID(), name: edit.name, operations: [...edit.operations] });
  };
  const scene = await bareScene(project);
  const { renderer, camera } = bareRenderer(project, cameraId);
  const [still, bareStill] = await timedInTurns(
    () => {
      stage.draw(view, WIDTH, HEIGHT);
      finish(gl);
    },
    () => {
      renderer.render(scene, camera);
      finish(renderer.getContext());
    },
  );
  const fine = await timed(
    (run) => stage.refine(view, WIDTH, HEIGHT, run),
    () => finish(gl),
  );
  const plain = await timed(
    () => stage.quickLight(view, WIDTH, HEIGHT),
    () => undefined,
  );
  const ours = await timed(
    async (run) => {
      const next = move(run);
      await stage.follow(setPatch(now, next));
      now = next;
      stage.draw(view, WIDTH, HEIGHT);
    },
    () => finish(gl),
  );
  const { calls } = stage.effort;
  const bare = await timed(
    (run) => {
      scene.children.at(-1)?.position.setX(run / 10);
      for (const { shadow } of scene.children as DirectionalLight[]) if (shadow) shadow.needsUpdate = true;
      renderer.render(scene, camera);
    },
    () => finish(renderer.getContext()),
  );
  stage.dispose();
  return { still, fine, plain, ours, bareStill, bare, calls };
}

/** A thousand pieces of the kinds that repeat, on a floor. */
function blocks(): { project: Project; last: string } {
  const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
  const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Blocks');
  const kinds = PIECE_OFFERS.filter(({ piece }) => piece.kind !== 'practical' && piece.kind !== 'ground');
  const placements = Array.from({ length: 1000 }, (_, i): Placement => {
    const offer = kinds[i % kinds.length] as (typeof kinds)[number];
    return {
      ...PLACEMENT_DEFAULTS,
      id: id(100 + i),
      revision: 'first',
      setId: id(2),
      name: `${offer.name} ${i}`,
      piece: offer.piece,
      surface: { ...PLACEMENT_DEFAULTS.surface, colour: offer.colour },
      positionM: [(i % 40) * 3 - 60, 0, -Math.floor(i / 40) * 3],
    };
  });
  const camera = {
    id: id(4),
    revision: 'first',
    number: 1,
    name: 'Camera 1',
    op: 'create' as const,
  };
  const project = applyChange(
    { ...empty, placements: Object.fromEntries(placements.map((one) => [one.id, one])) },
    {
      id: id(5),
      name: 'Camera',
      operations: [{ op: 'create', kind: 'camera', id: camera.id, fields: cameraFields() }],
    },
  );
  return { project, last: id(1099) };
}

function cameraFields() {
  const pose = { positionM: [0, 12, 22], panDeg: 0, tiltDeg: -14, rollDeg: 0 };
  const lens = { ...CAMERA_DEFAULTS.lens, focalLengthMm: 25 };
  return { ...CAMERA_DEFAULTS, number: 1, name: 'Camera 1', pose, lens } as unknown as Record<string, never>;
}

/** Milliseconds of a pick in two million triangles, with and without the search tree. */
async function picking() {
  const side = 1001;
  const corners = new Float32Array(side * side * 3);
  for (let i = 0; i < side * side; i++) {
    const [x, z] = [i % side, Math.floor(i / side)];
    corners.set([x / 20 - 25, 0.4 * Math.sin(x / 40) * Math.cos(z / 33), z / 20 - 25], i * 3);
  }
  const index = new Uint32Array((side - 1) * (side - 1) * 6);
  for (let z = 0, at = 0; z < side - 1; z++) {
    for (let x = 0; x < side - 1; x++, at += 6) {
      const c = z * side + x;
      index.set([c, c + side, c + 1, c + 1, c + side, c + side + 1], at);
    }
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(corners, 3));
  geometry.setIndex(new BufferAttribute(index, 1));
  const { computeBoundsTree, acceleratedRaycast } = await import('three-mesh-bvh');
  const { Raycaster, Vector3 } = await import('three');
  const mesh = new MeshOf(geometry, new MeshLambertMaterial());
  const cast = (run: number) => {
    const ray = new Raycaster(new Vector3(0, 10, 20), new Vector3((run - 7) / 40, -0.4, -1).normalize());
    ray.firstHitOnly = true;
    return ray.intersectObject(mesh);
  };
  const bare = await timed(cast, () => undefined);
  computeBoundsTree.call(geometry);
  MeshOf.prototype.raycast = acceleratedRaycast;
  const ours = await timed(cast, () => undefined);
  return { ours, bare };
}

/** Milliseconds of a picture while the camera that is looked through changes, and while it stays; and while a lens is turned. */
async function switching(project: Project) {
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  const stage = new Stage(canvas, FILES);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
  const [first] = Object.values(project.cameras);
  if (!first) throw new Error('The demo has no camera.');
  const cameras = Array.from({ length: 50 }, (_, i) => ({
    ...first,
    id: `camera ${i}`,
    pose: { ...first.pose, panDeg: first.pose.panDeg + (i % 5) / 50 },
    lens: { ...first.lens, focalLengthMm: 24 + (i % 7) / 10 },
  }));
  const many = { ...project, moves: {}, cameras: Object.fromEntries(cameras.map((one) => [one.id, one])) };
  const picture = (i: number) => stage.draw(viewOf(cameraAt(many, `camera ${i}`, 0), 0), WIDTH, HEIGHT);
  const same = await timed(
    () => picture(0),
    () => finish(gl),
  );
  const changing = await timed(
    (run) => picture((run * 7) % 50),
    () => finish(gl),
  );
  const turned = await timed(
    (run) => {
      const lens = { ...first.lens, focalLengthMm: 24 + run / 10 };
      const one = { ...many, cameras: { ...many.cameras, [first.id]: { ...first, lens } } };
      stage.draw(viewOf(cameraAt(one, first.id, 0), 0), WIDTH, HEIGHT);
    },
    () => finish(gl),
  );
  stage.dispose();
  return { same, changing, turned };
}

async function run(project: Project) {
  const keeper = Object.values(project.placements).find((one) => one.name === 'mooring post');
  const demo = await dragging(project, keeper?.id ?? '');
  const many = blocks();
  return {
    demo,
    blocks: await dragging(many.project, many.last),
    picking: await picking(),
    switching: await switching(project),
  };
}

export type StageFigures = Awaited<ReturnType<typeof run>>;

Object.assign(globalThis, { benchStage: run });
