/** Runs in a bare page: takes pictures of a cut on both sides of its joint, and of a dissolve. */
import type { Camera, Edit, Placement, Project } from '@arvex/core';
import {
  addShot,
  applyChange,
  CAMERA_DEFAULTS,
  flicksAtFrame,
  newProject,
  PLACEMENT_DEFAULTS,
  setCurves,
  setEntry,
  setSpeed,
} from '@arvex/core';
import { frameView, NOTHING_STAGED, setPatch, Stage } from '@arvex/stage';

const SAMPLES = 16;
const [WIDTH_PX, HEIGHT_PX] = [320, 180];
const SEQUENCE = '00000000-0000-4000-8000-000000000003';
const id = (n: number) => `00000000-0000-4000-8000-${String(n).padStart(12, '0')}`;
const RATE = { frames: 24, seconds: 1 };
const frame = (index: number) => flicksAtFrame(index, RATE);
const FILES = {
  geometry: () => Promise.reject(new Error('none')),
  picture: () => Promise.reject(new Error('none')),
  lut: () => Promise.reject(new Error('none')),
};
/** Luminance of what is seen, cd/m²: below and above the mid-tone at f/2.8, a 48th of a second and three stops of neutral density. */
const [DARK, BRIGHT] = [40, 1000];

/** Stripes all along the first wall, by where they stand. */
const STRIPES_M = Array.from({ length: 13 }, (_, i) => (i - 6) * 4 + 2);

/** Two cameras back to back, each before a wall that shines, with stripes. The first turns fast. */
function cutProject(slow: boolean): Project {
  let made = newProject({ project: id(1), set: id(2), sequence: SEQUENCE }, 'Joint');
  const piece = (n: number, at: [number, number, number], luminanceCdM2: number, widthM: number): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: id(n),
    revision: 'first',
    setId: id(2),
    name: `wall ${n}`,
    piece: { kind: 'box', widthM, heightM: 60, depthM: 0.1 },
    surface: { kind: 'colour', colour: '#ffffff', luminanceCdM2, roughness: null },
    positionM: at,
  });
  const camera = (n: number, panDeg: number): Camera => ({
    ...CAMERA_DEFAULTS,
    id: id(n),
    revision: 'first',
    number: n,
    name: `Camera ${n}`,
    pose: { positionM: [0, 20, 0], panDeg, tiltDeg: 0, rollDeg: 0 },
    focus: { ...CAMERA_DEFAULTS.focus, fStop: 2.8, distanceM: 20 },
  });
  const placements = [
    piece(10, [0, 0, -20], DARK, 60),
    ...STRIPES_M.map((x, i) => piece(40 + i, [x, 0, -19], BRIGHT, 1.5)),
    piece(13, [0, 0, 20], BRIGHT, 60),
  ];
  const [set] = Object.values(made.sets);
  if (!set) throw new Error('A project has a set.');
  const night = {
    ...set,
    amounts: 'typed' as const,
    sun: { ...set.sun, illuminanceLx: 0 },
    sky: { ...set.sky, illuminanceLx: 0 },
  };
  made = {
    ...made,
    sets: { [set.id]: night },
    placements: Object.fromEntries(placements.map((one) => [one.id, one])),
    cameras: Object.fromEntries([camera(20, 0), camera(21, 180)].map((one) => [one.id, one])),
  };
  let step = 100;
  const edit = ({ name, operations }: Edit) => {
    made = applyChange(made, { id: id(step++), name, operations: [...operations] });
  };
  const pan = [-20, 20].map((value, i) => ({ atFlicks: frame(24 * i), value, shape: 'linear' as const }));
  edit(setCurves(made, id(20), 'Pan', { pan }, 0));
  edit(addShot(made, SEQUENCE, { id: id(30), cameraId: id(20), sceneStartFlicks: 0, durationFlicks: frame(12) }));
  if (slow) edit(setSpeed(made, id(30), 0.5, 'length'));
  return made;
}

function withSecond(project: Project, dissolves: boolean): Project {
  const apply = (now: Project, { name, operations }: Edit, n: number) =>
    applyChange(now, { id: id(n), name, operations: [...operations] });
  const shot = { id: id(31), cameraId: id(21), sceneStartFlicks: 0, durationFlicks: frame(12) };
  const cut = apply(project, addShot(project, SEQUENCE, shot), 200);
  if (!dissolves) return cut;
  const entry = { kind: 'dissolve', durationFlicks: frame(3), place: 'centred', ease: 0 } as const;
  return apply(cut, setEntry(cut, shot.id, entry), 201);
}

/** Bytes of a frame of the cut, as output makes it. */
async function bytesOf(project: Project, index: number): Promise<Uint8ClampedArray> {
  const stage = new Stage(new OffscreenCanvas(16, 16), FILES);
  await stage.follow(setPatch(NOTHING_STAGED, project));
  stage.drawFine(frameView(project, SEQUENCE, index), WIDTH_PX, HEIGHT_PX, SAMPLES);
  const picture = stage.canvas.transferToImageBitmap();
  const sheet = new OffscreenCanvas(WIDTH_PX, HEIGHT_PX).getContext('2d');
  sheet?.drawImage(picture, 0, 0);
  const bytes = sheet?.getImageData(0, 0, WIDTH_PX, HEIGHT_PX).data ?? new Uint8ClampedArray();
  stage.dispose(); // what its graphics hold goes with them
  return bytes;
}

/** The largest difference of two pictures, code values. */
const apart = (a: Uint8ClampedArray, b: Uint8ClampedArray) =>
  a.reduce((most, value, i) => Math.max(most, Math.abs(value - (b[i] ?? 0))), 0);

/** Values between dark and bright in a row of the picture: how wide its edges are, pixels. */
const blurred = (bytes: Uint8ClampedArray) => {
  const row = bytes.subarray((HEIGHT_PX / 2) * WIDTH_PX * 4, (HEIGHT_PX / 2 + 1) * WIDTH_PX * 4);
  const values = Array.from({ length: WIDTH_PX }, (_, x) => row[x * 4] ?? 0);
  const [low, high] = [Math.min(...values), Math.max(...values)];
  return values.filter((value) => value > low + (high - low) * 0.1 && value < high - (high - low) * 0.1).length;
};

/**
 * What the pictures beside a joint differ by from those of each shot alone, code values; and how wide edges are blurred in the shot that
 * turns, at its speed and at half of it.
 */
async function beside(slow: boolean) {
  const alone = cutProject(slow);
  const cut = withSecond(alone, false);
  const second = { ...cut, shots: { [id(31)]: cut.shots[id(31)] } } as Project;
  const last = await bytesOf(cut, 11);
  return {
    before: apart(last, await bytesOf(alone, 11)),
    after: apart(await bytesOf(cut, 12), await bytesOf(second, 0)),
    across: apart(last, await bytesOf(cut, 12)),
    blurredPx: blurred(last),
  };
}

/** Values in the middle of each frame of a dissolve, and of both pictures alone at those frames. */
async function dissolve() {
  const alone = cutProject(false);
  const [cut, mixed] = [withSecond(alone, false), withSecond(alone, true)];
  const second = { ...cut, shots: { [id(31)]: cut.shots[id(31)] } } as Project;
  const longer = { ...alone, shots: { [id(30)]: { ...alone.shots[id(30)], durationFlicks: frame(24) } } } as Project;
  const values = [];
  for (const index of [11, 12, 13]) {
    const at = (WIDTH_PX / 2 + (HEIGHT_PX / 2) * WIDTH_PX) * 4;
    const [out, into, both] = [await bytesOf(longer, index), await bytesOf(second, 0), await bytesOf(mixed, index)];
    values.push({ out: out[at] ?? 0, into: into[at] ?? 0, both: both[at] ?? 0 });
  }
  return values;
}

Object.assign(globalThis, { beside, dissolve });
