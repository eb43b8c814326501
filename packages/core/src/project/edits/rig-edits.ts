import { CoreError } from '../../core-error';
import { pathThrough } from '../../geometry/smooth-path';
import type { CameraState, CameraValues } from '../../motion/camera-at';
import { cameraAt, channelValuesAt } from '../../motion/camera-at';
import type { Channel, ChannelValues } from '../../motion/channel';
import { CHANNEL_FACES, TURNING } from '../../motion/channel';
import type { Curve, Key } from '../../motion/curve';
import { thinned } from '../../motion/curve-tools';
import type { Deviation } from '../../motion/path-of';
import { deviation, spanOf, statesOf } from '../../motion/path-of';
import { numbersFor, ownAngles } from '../../motion/resolve-rig';
import type { Rig, RigKind, RigOf } from '../../motion/rig';
import { trackShape } from '../../motion/rig';
import { unwrappedNear } from '../../motion/rotation';
import { flicksPerFrame } from '../../time/rate';
import { applyChange } from '../change';
import type { Camera } from '../entities';
import type { Project } from '../project';
import { moveOf } from '../project';
import type { Edit } from './edit';
import { existing, patching } from './edit';
import { rigChannels } from './mark-edits';
import type { Curves, MoveAt } from './move-edits';
import { moveOperations, restingParts, restingRig } from './move-edits';

export const RIG_NAMES: Readonly<Record<RigKind, string>> = {
  ...{ sticks: 'sticks', rail: 'rail', crane: 'crane', orbit: 'orbit', follow: 'follow' },
};

/** An edit, and how closely the camera goes where it went before. */
export interface CloseEdit {
  readonly edit: Edit;
  readonly deviation: Deviation;
}

/** Channels that move a whole rig. */
const PLACE_CHANNELS: readonly Channel[] = ['rigX', 'rigY', 'rigZ', 'rigTurn'];

/** Times at which something that brings the camera to a place is keyed. */
export function keyTimes(project: Project, cameraId: string): number[] {
  const curves: Curves = moveOf(project, cameraId)?.curves ?? {};
  const channels = [...rigChannels(existing(project, 'camera', cameraId)), ...PLACE_CHANNELS];
  const times = new Set(channels.flatMap((channel) => (curves[channel] ?? []).map((key) => key.atFlicks)));
  return [...times].sort((a, b) => a - b);
}

/**
 * Puts a camera on another rig. Its present pose stays as it is; where it was keyed, the new rig's numbers are keyed at the same
 * times, so that it comes through the same places. Between them it goes as the new rig goes.
 */
export function changeRig(project: Project, cameraId: string, rig: Rig, { moveId, atFlicks }: MoveAt): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const times = keyTimes(project, cameraId);
  const turns = [...new Set([...times, ...headTimes(move?.curves ?? {})])].sort((a, b) => a - b);
  const carriedBefore = camera.rig.kind !== 'sticks' && camera.rig.head === 'carried';
  const carriedNow = rig.kind !== 'sticks' && rig.head === 'carried';
  const next: Camera = { ...camera, rig };
  const curves: Record<string, Curve> = { ...move?.curves };
  for (const channel of [...rigChannels(camera), ...PLACE_CHANNELS]) curves[channel] = [];
  const lay = (at: number, values: ChannelValues) => {
    for (const [channel, value] of Object.entries(values) as [Channel, number][]) {
      const curve = curves[channel] ?? [];
      const before = curve.at(-1)?.value;
      const near = before !== undefined && TURNING.has(channel) ? unwrappedNear(value, before) : value;
      curves[channel] = [...curve.filter((key) => key.atFlicks !== at), { atFlicks: at, value: near, shape: 'smooth' }];
    }
  };
  for (const at of times) lay(at, numbersAt(project, next, cameraAt(project, cameraId, at), at));
  if (carriedBefore || carriedNow) {
    for (const channel of ['pan', 'tilt', 'roll']) curves[channel] = [];
    for (const at of turns) lay(at, headAt(project, next, cameraAt(project, cameraId, at), at, curves));
  }
  const state = cameraAt(project, cameraId, atFlicks);
  const numbers = numbersAt(project, next, state, atFlicks);
  const resting = { ...channelValuesAt(next, undefined, 0), ...numbers } as CameraValues;
  const rigged = { ...next, rig: restingRig(rig, resting) };
  const head = carriedBefore || carriedNow ? headAt(project, rigged, state, atFlicks, {}) : {};
  const parts = restingParts(rigged, { ...numbers, ...head });
  const edit: Edit = {
    name: `${camera.name} on ${RIG_NAMES[rig.kind]}`,
    operations: [
      patching(project, 'camera', cameraId, { ...parts, rig: parts.rig ?? rigged.rig }),
      ...(move ? moveOperations(project, cameraId, moveId, { curves }) : []),
    ],
  };
  return { edit, deviation: closeness(project, edit, cameraId, times, atFlicks) };
}

function headTimes(curves: Curves): number[] {
  const channels: readonly Channel[] = ['pan', 'tilt', 'roll'];
  return channels.flatMap((channel) => (curves[channel] ?? []).map((key) => key.atFlicks));
}

function numbersAt(project: Project, camera: Camera, state: CameraState, atFlicks: number): ChannelValues {
  const resting = channelValuesAt(camera, undefined, 0);
  return numbersFor(camera.rig, state.positionM, resting, project, atFlicks);
}

/** A head's own angles that leave the camera turned as it is on its new rig. */
function headAt(project: Project, camera: Camera, state: CameraState, atFlicks: number, curves: Curves): ChannelValues {
  const rigged = { ...project, cameras: { ...project.cameras, [camera.id]: camera } };
  const move = moveOf(project, camera.id);
  const moves = move
    ? { ...project.moves, [move.id]: { ...move, curves: curves as typeof move.curves } }
    : project.moves;
  const { carrier } = cameraAt({ ...rigged, moves }, camera.id, atFlicks);
  const own = ownAngles(camera.rig, state, carrier);
  return { pan: own.panDeg, tilt: own.tiltDeg, roll: own.rollDeg };
}

function closeness(project: Project, edit: Edit, cameraId: string, times: readonly number[], at: number): Deviation {
  const after = applyChange(project, { id: 'tried', name: edit.name, operations: [...edit.operations] });
  return deviation(project, after, cameraId, times[0] ?? at, times.at(-1) ?? at);
}

/** Changes numbers of a rig, named for undo by `what`. */
export function setRig(project: Project, cameraId: string, what: string, rig: Rig): Edit {
  const { name } = existing(project, 'camera', cameraId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'camera', cameraId, { rig })] };
}

/** A track: its nodes, which of its pieces are straight, and whether it closes. */
export type Track = Pick<RigOf<'rail'>, 'nodesM' | 'straight' | 'closed'>;

/**
 * Gives a rail another track. Where the trolley stands and is keyed goes along: what stood at a node stays at it, what stood
 * between two nodes stays at the same share of the way between them.
 */
export function reshapeRail(project: Project, cameraId: string, what: string, track: Track): Edit {
  const camera = existing(project, 'camera', cameraId);
  const { rig } = camera;
  if (rig.kind !== 'rail') throw new CoreError('out-of-range', `${camera.name} is not on a rail.`, 'rig');
  const next = { ...rig, ...track };
  const travel = travelBetween(rig, next);
  const move = moveOf(project, cameraId);
  const along = move?.curves['along']?.map((key): Key => ({ ...key, value: travel(key.value) }));
  const operations = [patching(project, 'camera', cameraId, { rig: { ...next, along: travel(rig.along) } })];
  if (move && along)
    operations.push(...moveOperations(project, cameraId, move.id, { curves: { ...move.curves, along } }));
  return { name: `${what} on ${camera.name}`, operations };
}

/** A trolley's number on one track as its number on another. */
function travelBetween(from: RigOf<'rail'>, to: RigOf<'rail'>): (along: number) => number {
  const [a, b] = [from, to].map((rig) => pathThrough(rig.nodesM, rig.closed, trackShape(rig)));
  if (!a || !b || a.lengthM === 0 || b.lengthM === 0) return (along) => along;
  const same = from.nodesM.length === to.nodesM.length && from.closed === to.closed;
  const metresOf = (along: number) => (from.by === 'share' ? (along / 100) * a.lengthM : along);
  const alongOf = (metres: number) => (to.by === 'share' ? (metres / b.lengthM) * 100 : metres);
  return (along) => {
    const metres = metresOf(along);
    if (!same || metres < 0 || metres > a.lengthM) return alongOf((metres * b.lengthM) / a.lengthM);
    const [starts, ends] = [a.nodeDistancesM, b.nodeDistancesM];
    let piece = 0;
    while (piece < starts.length - 2 && (starts[piece + 1] ?? 0) <= metres) piece += 1;
    const [s0, s1, e0, e1] = [starts[piece] ?? 0, starts[piece + 1] ?? 0, ends[piece] ?? 0, ends[piece + 1] ?? 0];
    return alongOf(e0 + (s1 > s0 ? (metres - s0) / (s1 - s0) : 0) * (e1 - e0));
  };
}

/** Tolerances of baking: a key is left out where the curve without it stays this near. */
const BAKED: Readonly<Record<'m' | '°' | 'mm' | 'other', number>> = { m: 0.001, '°': 0.01, mm: 0.01, other: 0.001 };

/**
 * Turns any rig, its aim and its hand into keys of a camera on sticks: one for each frame first, thinned to a millimetre
 * and a hundredth of a degree. Says how closely.
 */
export function bakeRig(
  project: Project,
  cameraId: string,
  { moveId, atFlicks }: MoveAt,
  span?: readonly [number, number],
): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const [from, to] = span ?? spanOf(move?.curves ?? {}) ?? [atFlicks, atFlicks];
  const frame = flicksPerFrame(project.head.rate);
  const dense: Record<string, Key[]> = {};
  statesOf(project, cameraId, from, to).forEach((state, i) => {
    for (const [channel, value] of Object.entries(poseValues(state)) as [Channel, number][]) {
      const keys = (dense[channel] ??= []);
      const before = keys.at(-1)?.value ?? value;
      const near = TURNING.has(channel) ? unwrappedNear(value, before) : value;
      keys.push({ atFlicks: Math.round(from + i * frame), value: near, shape: 'smooth' });
    }
  });
  const curves: Record<string, Curve> = { ...move?.curves };
  for (const channel of [...rigChannels(camera), ...PLACE_CHANNELS, ...AIM_CHANNELS]) curves[channel] = [];
  for (const [channel, keys] of Object.entries(dense))
    curves[channel] = thinned(keys, toleranceOf(channel as Channel)).curve;
  const pose = cameraAt(project, cameraId, atFlicks);
  const { positionM, panDeg, tiltDeg, rollDeg } = pose;
  const parts: Partial<Camera> = {
    rig: { kind: 'sticks' },
    aim: { kind: 'free' },
    handheld: { ...camera.handheld, on: false },
    pose: { positionM: [...positionM] as [number, number, number], panDeg, tiltDeg, rollDeg },
  };
  const edit: Edit = {
    name: `Bake the move of ${camera.name} to keys`,
    operations: [
      patching(project, 'camera', cameraId, parts),
      ...moveOperations(project, cameraId, moveId, { curves, after: {} }),
    ],
  };
  const after = applyChange(project, { id: 'tried', name: edit.name, operations: [...edit.operations] });
  return { edit, deviation: deviation(project, after, cameraId, from, to) };
}

const AIM_CHANNELS: readonly Channel[] = ['aimX', 'aimY', 'aimZ', 'aimAlong', 'handheld', 'moveTime'];

function poseValues({ positionM: [x, y, z], panDeg, tiltDeg, rollDeg }: CameraState): ChannelValues {
  return { positionX: x, positionY: y, positionZ: z, pan: panDeg, tilt: tiltDeg, roll: rollDeg };
}

/** How near a thinned curve of a channel stays, in its unit. */
export function toleranceOf(channel: Channel): number {
  const unit = channel in CHANNEL_FACES ? CHANNEL_FACES[channel as keyof typeof CHANNEL_FACES].unit : 'stops';
  return unit === 'm' || unit === '°' || unit === 'mm' ? BAKED[unit] : BAKED.other;
}

/**
 * Places and turns of the world as the numbers of a camera's rig and the angles of its head, or as near as the rig goes. Other
 * channels pass through.
 */
export function ownValues(
  project: Project,
  cameraId: string,
  world: ChannelValues,
  atFlicks: number,
  trial: ChannelValues = {},
): ChannelValues {
  const camera = existing(project, 'camera', cameraId);
  const { rig } = camera;
  if (rig.kind === 'sticks') return world;
  const { positionX, positionY, positionZ, pan, tilt, roll, ...rest } = world;
  const placed = positionX !== undefined || positionY !== undefined || positionZ !== undefined;
  const headed = pan !== undefined || tilt !== undefined || roll !== undefined;
  const state = cameraAt(project, cameraId, atFlicks, trial);
  const before = channelValuesAt(camera, moveOf(project, cameraId), atFlicks, trial);
  const values: Partial<Record<Channel, number>> = { ...rest };
  if (placed) {
    const [x, y, z] = state.positionM;
    const numbers = numbersFor(rig, [positionX ?? x, positionY ?? y, positionZ ?? z], before, project, atFlicks);
    for (const [channel, value] of Object.entries(numbers) as [Channel, number][]) {
      values[channel] = TURNING.has(channel) ? unwrappedNear(value, before[channel] ?? 0) : value;
    }
  }
  if (headed || (placed && rig.head === 'carried')) {
    const { carrier } = cameraAt(project, cameraId, atFlicks, { ...trial, ...values });
    const { panDeg, tiltDeg, rollDeg } = state;
    const own = ownAngles(rig, { panDeg: pan ?? panDeg, tiltDeg: tilt ?? tiltDeg, rollDeg: roll ?? rollDeg }, carrier);
    Object.assign(values, { pan: own.panDeg, tilt: own.tiltDeg, roll: own.rollDeg });
  }
  return values;
}
