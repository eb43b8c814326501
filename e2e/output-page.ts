/** Runs in a bare page: makes the files of frames of orders on plain sets, as every renderer does. */
import type { Camera, OrderPart, Placement, Project, RenderJob, RenderOrder, Vector } from '@arvex/core';
import { CAMERA_DEFAULTS, newProject, ORDER_DEFAULTS, partsOf, PLACEMENT_DEFAULTS } from '@arvex/core';
import { StagePictures } from '@arvex/renderer';

const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const CAMERA = id(5);
const GROUPS = { sky: id(20), warm: id(21), cold: id(22) };

/** A thing that stands in a set. */
export interface Thing {
  readonly piece: Placement['piece'];
  readonly at: Vector;
  readonly colour?: string;
  /** Luminance of its own, cd/m². */
  readonly shines?: number;
  readonly group?: keyof typeof GROUPS;
}

export interface Scene {
  readonly things: readonly Thing[];
  readonly eye: Vector;
  readonly panDeg?: number;
  readonly tiltDeg?: number;
  readonly sunLx?: number;
  readonly skyLx?: number;
  readonly ev100Iso?: number;
  readonly lightMix?: Camera['lightMix'];
  readonly lens?: Partial<Camera['lens']>;
}

function projectOf(scene: Scene): Project {
  const made = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Output');
  const [set] = Object.values(made.sets);
  if (!set) throw new Error('A project has a set.');
  const placements = scene.things.map(({ piece, at, colour, shines, group }, i): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: id(100 + i),
    revision: 'first',
    setId: id(2),
    name: `thing ${i}`,
    piece,
    positionM: at,
    surface: { kind: 'colour', colour: colour ?? '#808080', luminanceCdM2: shines ?? null, roughness: null },
    lightGroupId: group ? GROUPS[group] : null,
  }));
  const camera: Camera = {
    ...CAMERA_DEFAULTS,
    id: CAMERA,
    revision: 'first',
    number: 1,
    name: 'Camera 1',
    pose: { positionM: scene.eye, panDeg: scene.panDeg ?? 0, tiltDeg: scene.tiltDeg ?? 0, rollDeg: 0 },
    lens: { ...CAMERA_DEFAULTS.lens, ...scene.lens },
    lightMix: scene.lightMix ?? {},
    own: scene.lightMix ? ['lightMix'] : [],
  };
  const level = { stops: 0, tint: '#ffffff', on: true };
  const groups = Object.entries(GROUPS).map(([name, group]) => ({ id: group, revision: 'first', name, level }));
  return {
    ...made,
    head: { ...made.head, exposure: { ...made.head.exposure, ndStops: 0, iso: scene.ev100Iso ?? 100 } },
    sets: {
      [set.id]: {
        ...set,
        amounts: 'typed',
        daylightGroupId: GROUPS.sky,
        sun: { ...set.sun, elevationDeg: 45, illuminanceLx: scene.sunLx ?? 0 },
        sky: { ...set.sky, illuminanceLx: scene.skyLx ?? 0 },
      },
    },
    placements: Object.fromEntries(placements.map((one) => [one.id, one])),
    cameras: { [CAMERA]: camera },
    lightGroups: Object.fromEntries(groups.map((one) => [one.id, one])),
  };
}

const FILES = {
  geometry: () => Promise.reject(new Error('none')),
  picture: () => Promise.reject(new Error('none')),
  lut: () => Promise.reject(new Error('none')),
  font: () => Promise.reject(new Error('none')),
};

async function base64(blob: Blob): Promise<string> {
  const bytes = new Uint8Array(await blob.arrayBuffer());
  let text = '';
  for (let i = 0; i < bytes.length; i += 8192) text += String.fromCharCode(...bytes.subarray(i, i + 8192));
  return btoa(text);
}

/** The files of the first frame of an order of the only camera, by their role. */
async function filesOf(scene: Scene, change: Partial<RenderOrder>): Promise<Record<string, string>> {
  const pictures = new StagePictures(new OffscreenCanvas(16, 16), FILES);
  const found = await filesFrom(pictures, scene, change);
  pictures.dispose();
  return found;
}

/** The same of the last of several, all drawn by one renderer. */
async function filesAfter(drawn: readonly (readonly [Scene, Partial<RenderOrder>])[]): Promise<Record<string, string>> {
  const pictures = new StagePictures(new OffscreenCanvas(16, 16), FILES);
  let found: Record<string, string> = {};
  for (const [scene, change] of drawn) found = await filesFrom(pictures, scene, change);
  pictures.dispose();
  return found;
}

async function filesFrom(
  pictures: StagePictures,
  scene: Scene,
  change: Partial<RenderOrder>,
): Promise<Record<string, string>> {
  const project = projectOf(scene);
  const what = { kind: 'camera-still', cameraId: CAMERA, frame: 0 } as const;
  const order: RenderOrder = { ...ORDER_DEFAULTS, depthOfField: false, ...change, what };
  const job: RenderJob = {
    renderId: id(8),
    orderId: id(9),
    projectId: id(1),
    state: 'rendering',
    version: 'v001',
    date: '2026-01-01',
    order,
    part: partsOf(project, order)[0] as OrderPart,
  };
  await pictures.follow(project, job);
  const files = await pictures.frame(job, 0);
  const found: Record<string, string> = {};
  for (const [role, blob] of files) found[role] = await base64(blob);
  return found;
}

Object.assign(globalThis, { filesOf, filesAfter });
