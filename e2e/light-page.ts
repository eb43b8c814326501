/** Runs in a bare page: takes pictures of plain sets and measures the light in them. */
import type { Camera, Placement, Project, Vector } from '@arvex/core';
import {
  CAMERA_DEFAULTS,
  cameraAt,
  clippingLuminance,
  deliveredWindow,
  newProject,
  pictureAt,
  PLACEMENT_DEFAULTS,
} from '@arvex/core';
import { NOTHING_STAGED, setPatch, Stage, viewOf } from '@arvex/stage';

const SAMPLES = 256;
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const FILES = {
  geometry: async (hash: string) => (await fetch(`/api/geometry/${hash}`)).arrayBuffer(),
  picture: async (hash: string) => (await fetch(`/api/pictures/${hash}`)).blob(),
  lut: () => Promise.reject(new Error('none')),
};

interface Thing {
  readonly piece: Placement['piece'];
  readonly at: Vector;
}

interface Lit {
  readonly things: readonly Thing[];
  readonly sunDeg: number;
  readonly sunLx: number;
  readonly skyLx: number;
  /** Where the camera is, and how it looks: straight down by default. */
  readonly eye: Vector;
}

const floor: Thing = { piece: { kind: 'ground', widthM: 200, depthM: 200 }, at: [0, 0, 0] };
const box = (widthM: number, heightM: number, depthM: number, at: Vector): Thing => ({
  piece: { kind: 'box', widthM, heightM, depthM },
  at,
});

function projectOf({ things, sunDeg, sunLx, skyLx, eye }: Lit): Project {
  const empty = newProject({ project: id(1), set: id(2), sequence: id(3) }, 'Light');
  const [set] = Object.values(empty.sets);
  if (!set) throw new Error('A project has a set.');
  const placements = things.map(({ piece, at }, i): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: id(100 + i),
    revision: 'first',
    setId: id(2),
    name: `thing ${i}`,
    piece,
    surface: { ...PLACEMENT_DEFAULTS.surface, colour: '#808080' },
    positionM: at,
  }));
  const camera: Camera = {
    ...CAMERA_DEFAULTS,
    id: id(5),
    revision: 'first',
    number: 1,
    name: 'Camera 1',
    pose: { positionM: eye, panDeg: 0, tiltDeg: -90, rollDeg: 0 },
    lens: { ...CAMERA_DEFAULTS.lens, focalLengthMm: 50 },
  };
  const sun = { ...set.sun, elevationDeg: sunDeg, azimuthDeg: 90, illuminanceLx: sunLx, kelvin: 6500 };
  const sky = { ...set.sky, illuminanceLx: skyLx };
  return {
    ...empty,
    sets: { [set.id]: { ...set, sun, sky, amounts: 'typed', sunFrom: 'typed' } },
    placements: Object.fromEntries(placements.map((one) => [one.id, one])),
    cameras: { [camera.id]: camera },
  };
}

/** Green light of a picture that is so many metres wide on the floor, square, rows from the top. */
async function lightOn(lit: Lit, acrossM: number, sidePx: number, samples: number): Promise<Float32Array> {
  const project = projectOf(lit);
  const stage = new Stage(new OffscreenCanvas(16, 16), FILES);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const half = (50 * acrossM) / lit.eye[1] / 2;
  const window = { leftMm: -half, rightMm: half, bottomMm: -half, topMm: half };
  const view = viewOf(cameraAt(project, id(5), 0), 0, window, { sky: false, aperture: undefined });
  const light = stage.light(view, sidePx, sidePx, samples);
  stage.dispose();
  return Float32Array.from({ length: sidePx * sidePx }, (_, i) => light[4 * i + 1] ?? 0);
}

/** Width of the sun's penumbra on the floor below an edge, metres: of a straight edge high over it under the sun at 90°. */
async function penumbra(heightM: number): Promise<number> {
  const across = heightM * 0.04;
  const things = [floor, box(2, 0.02, 2, [-1, heightM, 0])];
  const [side, eye] = [160, [0, heightM / 2, 0] as Vector];
  const light = await lightOn({ things, sunDeg: 89.99, sunLx: 10_000, skyLx: 0, eye }, across, side, SAMPLES);
  // Along the edge all is alike: the mean of the columns, from the umbra to full light.
  const columns = Array.from({ length: side }, (_, x) => {
    let sum = 0;
    for (let y = 0; y < side; y++) sum += light[y * side + x] ?? 0;
    return sum / side;
  });
  const [dark, full] = [Math.min(...columns), Math.max(...columns)];
  // The light in the penumbra of a disc has the spread of the disc along x: a quarter of its radius squared.
  let [first, second, all] = [0, 0, 0];
  for (let x = 1; x < side; x++) {
    const rise = ((columns[x] ?? 0) - (columns[x - 1] ?? 0)) / (full - dark);
    [all, first, second] = [all + rise, first + rise * x, second + rise * x * x];
  }
  const deviation = Math.sqrt(second / all - (first / all) ** 2);
  return (4 * deviation * across) / side; // a disc's width is four times its standard deviation
}

/** Light of the sky in the middle of the floor of a square well, as share of what it is in the open. */
async function well(depthM: number, widthM: number): Promise<number> {
  const wall = 0.4;
  const away = (widthM + wall) / 2;
  const walls = [
    box(wall, depthM, widthM + 2 * wall, [-away, 0, 0]),
    box(wall, depthM, widthM + 2 * wall, [away, 0, 0]),
    box(widthM, depthM, wall, [0, 0, -away]),
    box(widthM, depthM, wall, [0, 0, away]),
  ];
  const lit = { sunDeg: -10, sunLx: 0, skyLx: 1000, eye: [0, 20, 0] as Vector };
  const mean = async (things: readonly Thing[]) => {
    const light = await lightOn({ ...lit, things }, widthM / 12, 8, 512);
    return light.reduce((sum, value) => sum + value, 0) / light.length;
  };
  return (await mean([floor, ...walls])) / (await mean([floor]));
}

/** A grey floor in the open, lit by sun and sky: quickly, and as the mean of so many samples. */
async function open(samples: number): Promise<[number, number]> {
  const lit = {
    things: [floor, box(1, 1, 1, [8, 0, 8])],
    sunDeg: 40,
    sunLx: 20_000,
    skyLx: 8000,
    eye: [0, 10, 0] as Vector,
  };
  const [quick, fine] = [await lightOn(lit, 1, 8, 1), await lightOn(lit, 1, 8, samples)];
  return [quick[0] ?? 0, fine.reduce((sum, value) => sum + value, 0) / fine.length];
}

/** How many stops the lean picture of each shot of a project is brighter than the full one, by the mean of their values. */
async function leanStops(project: Project): Promise<number[]> {
  const stage = new Stage(new OffscreenCanvas(16, 16), FILES);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  const [sequence] = Object.values(project.sequences);
  const [width, height] = [320, 180];
  const means = (frame: number): number | undefined => {
    const picture = pictureAt(project, sequence?.id ?? '', frame);
    if (!picture?.cameraId) return undefined;
    const state = cameraAt(project, picture.cameraId, picture.sceneFlicks);
    const view = viewOf(state, picture.sceneFlicks, deliveredWindow(state), { aperture: undefined });
    const mean = (lean: boolean) => {
      const light = stage.quickLight(view, width, height, { shadows: true, lean });
      const white = clippingLuminance(view.ev, 0);
      return light.reduce((sum, value, i) => (i % 4 === 3 ? sum : sum + Math.min(white, value)), 0);
    };
    return Math.log2(mean(true) / mean(false));
  };
  const stops = Array.from({ length: 15 }, (_, i) => means(i * 64)).filter((one) => one !== undefined);
  stage.dispose();
  return stops;
}

Object.assign(globalThis, { penumbra, well, open, leanStops });
