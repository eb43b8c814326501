import { createHash } from 'node:crypto';
import type { Edit, GeometryFile, Piece, Placement, PlacementMotion, Project, SoundFile, Vector } from '@arvex/core';
import {
  addShot,
  applyChange,
  flicksAtFrame,
  flicksFromSeconds,
  makeCamera,
  newProject,
  PLACEMENT_DEFAULTS,
  SEQUENCE_DEFAULTS,
  SET_DEFAULTS,
} from '@arvex/core';
import { CUTTING } from './cutting';
import { DRESSING } from './looks';
import { CAMERAS, SHOTS } from './shots';
import { exposed, RATE } from './staging';

/** The same id for the same words on every run. */
function idOf(words: string): string {
  const hex = createHash('sha256').update(`saltmarsh light ${words}`).digest('hex');
  return `${hex.slice(0, 8)}-${hex.slice(8, 12)}-4${hex.slice(13, 16)}-a${hex.slice(17, 20)}-${hex.slice(20, 32)}`;
}

const DECK_M = 1.13;
const seconds = flicksFromSeconds;

interface DemoPlacement {
  readonly name: string;
  /** Imported piece by its name, or a piece of Arvex's own. */
  readonly piece: string | Piece;
  readonly at: Vector;
  readonly panDeg?: number;
  readonly eyesM?: number;
  readonly on?: string;
  readonly group?: string;
  readonly colour?: string;
  readonly motion?: PlacementMotion;
  readonly subject?: boolean;
}

const bulb = (lumen: number, kelvin: number): Piece => ({
  kind: 'practical',
  lamp: 'point',
  lumen,
  kelvin,
  coneDeg: 60,
  softness: 0.5,
  widthM: 0.3,
  heightM: 0.3,
  shadow: false,
});

/** Out of sight, under the flats. */
const AWAY_M = -12;

/** Stays at a place until a time, then stands at another one. */
function stepsOver(before: Vector, after: Vector, atS: number): PlacementMotion {
  const curve = (i: number) => [
    { atFlicks: 0, value: before[i] ?? 0, shape: 'hold' as const },
    { atFlicks: seconds(atS), value: after[i] ?? 0, shape: 'hold' as const },
  ];
  return { kind: 'keys', curves: { positionX: curve(0), positionY: curve(1), positionZ: curve(2) } };
}

function walk(nodesM: Vector[], speedMps: number, startS: number): PlacementMotion {
  return {
    kind: 'path',
    nodesM,
    groundM: [],
    speedMps,
    startFlicks: seconds(startS),
    closed: false,
    facing: 'along',
  };
}

const KEEPERS_WAY: Vector[] = [
  [2.2, DECK_M, 0.1],
  [-4.6, DECK_M, -0.25],
  [-13.1, DECK_M, -0.2],
];
const BOATS_WAY: Vector[] = [
  [-38, 0.02, 22],
  [-27.5, 0.02, 13.2],
  [-20.2, 0.02, 4.4],
];
/** When the courier steps from the boat onto the pier, seconds. */
const LANDING_S = 15.5;
/** The floor of the tower's gallery, and when the keeper stands on it. */
const GALLERY_M = 19.7;
const UPSTAIRS_S = 24;

const CRATES: readonly DemoPlacement[] = [
  ...([
    [-4.2, 0, -0.85, 8],
    [-3.4, 0, -0.9, -14],
    [-3.8, 0.62, -0.88, 24],
    [14.2, -0.03, 0.9, 40],
  ] as const),
  ...([
    [10.4, 0, -0.8, 4],
    [11.2, 0, -0.86, 19],
    [10.8, 0.62, -0.82, -8],
    [-30.5, 0, 0.8, 31],
    [-31.2, 0, 0.75, 3],
  ] as const),
].map(([x, up, z, panDeg], i) => ({ name: `crate ${i + 1}`, piece: 'crate', at: [x, DECK_M + up, z], panDeg }));

const PLACEMENTS: readonly DemoPlacement[] = [
  { name: 'flats', piece: 'flats', at: [0, 0, 0] },
  { name: 'rocks and reeds', piece: 'rocks and reeds', at: [0, 0, 0] },
  { name: 'tower', piece: 'tower', at: [24, 1.35, -3] },
  { name: 'glass lens', piece: 'glass lens', at: [24, 1.35, -3] },
  { name: 'lamp', piece: bulb(18_000, 3000), at: [24, 21.65, -3], group: 'lamp room' },
  { name: 'pier', piece: 'pier', at: [0, 0, 0] },
  { name: 'hut', piece: 'hut', at: [13.5, 0.75, -9.5], panDeg: 12, group: 'hut' },
  { name: 'hut lamp', piece: bulb(700, 2400), at: [13.5, 2.5, -9.5], group: 'hut' },
  {
    name: 'rowing boat',
    piece: 'rowing boat',
    at: [-20.2, 0.02, 4.4],
    panDeg: -90,
    motion: walk(BOATS_WAY, 1.9, 4),
  },
  {
    name: 'courier rowing',
    piece: { kind: 'figure', heightM: 1.65, pose: 'sitting' },
    colour: '#7d6a45',
    // The boat's bow points along its own x; who rows sits with the back to it.
    at: [0.1, -0.02, 0],
    panDeg: -90,
    on: 'rowing boat',
    subject: true,
    motion: stepsOver([0.1, -0.02, 0], [0.1, AWAY_M, 0], LANDING_S),
  },
  { name: 'mooring post', piece: 'mooring post', at: [-17.6, 0, 2.1], subject: true },
  {
    name: 'keeper',
    piece: 'keeper',
    at: [2.2, DECK_M, 0.1],
    eyesM: 1.7,
    subject: true,
    motion: walk(KEEPERS_WAY, 1.25, 4),
  },
  { name: 'lantern', piece: bulb(420, 2100), at: [0.31, 0.6, -0.16], on: 'keeper', group: 'lantern' },
  {
    name: 'keeper at the lamp',
    piece: 'keeper',
    at: [21.9, GALLERY_M, -3.4],
    panDeg: 24,
    eyesM: 1.7,
    subject: true,
    motion: stepsOver([21.9, AWAY_M, -3.4], [21.9, GALLERY_M, -3.4], UPSTAIRS_S),
  },
  {
    name: 'courier',
    piece: 'courier',
    at: [-14.6, DECK_M, 0.35],
    panDeg: 90,
    eyesM: 1.54,
    subject: true,
    motion: stepsOver([-14.6, AWAY_M, 0.35], [-14.6, DECK_M, 0.35], LANDING_S),
  },
  ...CRATES,
  { name: 'rope coil 1', piece: 'rope coil', at: [-16.2, DECK_M, 0.8] },
  { name: 'rope coil 2', piece: 'rope coil', at: [-6.4, DECK_M, 0.85] },
];

/** Light groups with their level for cameras that follow the project: the lamp has failed. */
const LIGHT_GROUPS: readonly (readonly [string, boolean])[] = [
  ['outside', true],
  ['hut', true],
  ['lamp room', false],
  ['lantern', true],
];

/** "Saltmarsh Light": the evening the lamp failed. */
export function demoProject(facts: ReadonlyMap<string, GeometryFile>, sound: SoundFile): Project {
  const [setId, sequenceId] = [idOf('set'), idOf('sequence')];
  let project = newProject({ project: idOf('project'), set: setId, sequence: sequenceId }, 'Saltmarsh Light');
  let step = 0;
  const edit = ({ name, operations }: Edit) => {
    project = applyChange(project, { id: idOf(`change ${step++}`), name, operations: [...operations] });
  };
  project = withSet(project, setId, sequenceId, facts);
  for (const camera of CAMERAS) {
    const cameraId = idOf(`camera ${camera.name}`);
    edit(makeCamera(project, cameraId, camera.pose, { ...camera.parts, name: camera.name }));
    const ids = (words: string) => idOf(`${camera.name} ${words}`);
    const placementId = (name: string) => idOf(`placement ${name}`);
    const groupId = (name: string) => idOf(`light group ${name}`);
    for (const make of camera.moves) edit(make({ project, cameraId, ids, placementId, groupId }));
  }
  SHOTS.forEach(([camera, start, length], index) => {
    const id = idOf(`shot ${index}`);
    const shot = { id, cameraId: idOf(`camera ${camera}`), sceneStartFlicks: flicksAtFrame(start, RATE) };
    edit(addShot(project, sequenceId, { ...shot, durationFlicks: flicksAtFrame(length, RATE) }));
    const added = project.shots[id];
    if (added) project = { ...project, shots: { ...project.shots, [id]: { ...added, name: `SL_0${index + 1}0` } } };
  });
  const room = { sequenceId, shotId: (index: number) => idOf(`shot ${index}`), idOf, sound };
  for (const make of CUTTING) edit(make(project, room));
  const wardrobe = {
    idOf,
    cameraId: (name: string) => idOf(`camera ${name}`),
    groupId: (name: string) => idOf(`light group ${name}`),
  };
  for (const dress of DRESSING) edit(dress(project, wardrobe));
  return project;
}

function withSet(
  project: Project,
  setId: string,
  sequenceId: string,
  facts: ReadonlyMap<string, GeometryFile>,
): Project {
  const revision = project.head.revision;
  const assets = [...facts].map(([name, file]) => ({ id: idOf(`asset ${name}`), revision, name, file }));
  const groups = LIGHT_GROUPS.map(([name, on]) => ({
    id: idOf(`light group ${name}`),
    revision,
    name,
    level: { stops: 0, tint: '#ffffff', on },
  }));
  const placements = PLACEMENTS.map((one): Placement => ({
    ...PLACEMENT_DEFAULTS,
    id: idOf(`placement ${one.name}`),
    revision,
    setId,
    name: one.name,
    piece: typeof one.piece === 'string' ? { kind: 'geometry', eyesM: one.eyesM ?? null } : one.piece,
    assetId: typeof one.piece === 'string' ? idOf(`asset ${one.piece}`) : null,
    parentId: one.on === undefined ? null : idOf(`placement ${one.on}`),
    lightGroupId: one.group === undefined ? null : idOf(`light group ${one.group}`),
    positionM: [...one.at] as Vector,
    panDeg: one.panDeg ?? 0,
    surface: { ...PLACEMENT_DEFAULTS.surface, colour: one.colour ?? null },
    motion: one.motion ?? { kind: 'still' },
    subject: one.subject ?? false,
  }));
  const set = {
    ...SET_DEFAULTS,
    id: setId,
    revision,
    name: 'Saltmarsh at dusk',
    amounts: 'typed' as const,
    sun: { elevationDeg: 4, azimuthDeg: 62, illuminanceLx: 420, kelvin: 3100 },
    sky: { illuminanceLx: 190, zenithKelvin: 20_000, horizonKelvin: 4000 },
    daylightGroupId: idOf('light group outside'),
  };
  const byId = <T extends { id: string }>(all: readonly T[]) => Object.fromEntries(all.map((one) => [one.id, one]));
  return {
    ...project,
    head: { ...project.head, deliveryChosen: true, exposure: exposed },
    sets: { [setId]: set },
    lightGroups: byId(groups),
    assets: byId(assets),
    placements: byId(placements),
    sequences: { [sequenceId]: { ...SEQUENCE_DEFAULTS, id: sequenceId, revision, name: 'The Relight' } },
  };
}
