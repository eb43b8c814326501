/** Runs in the browser: the stage beside bare three.js frames of the same scene, at the same size. */
import type { Placement, Project } from '@arvex/core';
import {
  applyChange,
  CAMERA_DEFAULTS,
  cameraAt,
  flicksAtFrame,
  LOOK_DEFAULTS,
  newProject,
  PIECE_OFFERS,
  PLACEMENT_DEFAULTS,
  RESPONSES,
  setPlacement,
} from '@arvex/core';
import type { StageFiles } from '@arvex/stage';
import { NOTHING_STAGED, setPatch, Stage, viewOf } from '@arvex/stage';
import type { DirectionalLight } from 'three';
import { BufferAttribute, BufferGeometry, Mesh as MeshOf, MeshLambertMaterial } from 'three';
import { bareRenderer, bareScene } from './bare-scene';
import { pairMs } from './measure';

const [WIDTH, HEIGHT, RUNS] = [960, 540, 15];
const FILES: StageFiles = {
  geometry: async (hash) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash) => (await fetch(`/api/pictures/${hash}`)).blob(),
  lut: () => Promise.reject(new Error('none')),
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

/** Waits for the graphics by reading a pixel back. */
function finish(gl: WebGLRenderingContext | WebGL2RenderingContext): void {
  gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
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
  const scene = await bareScene(project, FILES);
  const { renderer, camera } = bareRenderer(project, cameraId, WIDTH, HEIGHT);
  const [still, bareStill] = await pairMs(
    RUNS,
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

/** Milliseconds of another look shown from samples that are there, without glow and with it, beside one more sample. */
async function looks(project: Project) {
  const canvas = new OffscreenCanvas(WIDTH, HEIGHT);
  const stage = new Stage(canvas, FILES);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const gl = canvas.getContext('webgl2') as WebGL2RenderingContext;
  const camera = Object.values(project.cameras).find(({ name }) => name === 'Round the lens');
  if (!camera) throw new Error('The demo has no camera round its lens.');
  const at = flicksAtFrame(680, project.head.rate);
  const view = viewOf(cameraAt(project, camera.id, at), at);
  const dressed = (run: number, amount: number) => ({
    ...view,
    look: {
      ...LOOK_DEFAULTS,
      compensationStops: run / 50,
      tone: { ...LOOK_DEFAULTS.tone, contrast: 1.2 },
      response: RESPONSES[5] ?? LOOK_DEFAULTS.response,
      glow: { ...LOOK_DEFAULTS.glow, amount },
    },
  });
  const done = () => finish(gl);
  const sample = await timed((run) => stage.refine(view, WIDTH, HEIGHT, run, false), done);
  const look = await timed((run) => stage.redevelop(dressed(run, 0), WIDTH, HEIGHT), done);
  const glow = await timed((run) => stage.redevelop(dressed(run, 0.8), WIDTH, HEIGHT), done);
  stage.dispose();
  return { sample, look, glow: glow - look };
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
    looks: await looks(project),
  };
}

export type StageFigures = Awaited<ReturnType<typeof run>>;

Object.assign(globalThis, { benchStage: run });
