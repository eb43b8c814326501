import type { CameraState, CameraValues, Deviation } from '../../camera';
import {
  cameraAt,
  channelValuesAt,
  deviation,
  numbersFor,
  ownAngles,
  resolveCamera,
  restingParts,
  restingRig,
  rigChannels,
} from '../../camera';
import type { Curve } from '../../curve';
import type { Camera, Channel, ChannelValues, Project, Rig, RigKind } from '../../model';
import { existing, moveOf, RIG_PLACE_CHANNELS, TURNING } from '../../model';
import { unwrappedNear } from '../../space';
import type { Edit } from '../edit';
import { patching, previewed } from '../edit';
import type { Curves } from './curves';
import { moveOperations } from './curves';

const RIG_NAMES: Readonly<Record<RigKind, string>> = {
  sticks: 'sticks',
  rail: 'rail',
  crane: 'crane',
  orbit: 'orbit',
  follow: 'follow',
};

/** An edit, and how closely the camera goes where it went before. */
export interface CloseEdit {
  readonly edit: Edit;
  readonly deviation: Deviation;
}

/** Times at which something that brings the camera to a place is keyed. */
export function keyTimes(project: Project, cameraId: string): number[] {
  const curves: Curves = moveOf(project, cameraId)?.curves ?? {};
  const channels = [...rigChannels(existing(project, 'camera', cameraId)), ...RIG_PLACE_CHANNELS];
  const times = new Set(channels.flatMap((channel) => (curves[channel] ?? []).map((key) => key.atFlicks)));
  return [...times].sort((a, b) => a - b);
}

/**
 * Puts a camera on another rig. Its present pose stays as it is; where it was keyed, the new rig's numbers are keyed at the same
 * times, so that it comes through the same places. Between them it goes as the new rig goes.
 */
export function changeRig(project: Project, cameraId: string, rig: Rig, atFlicks: number): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const times = keyTimes(project, cameraId);
  const turns = [...new Set([...times, ...headTimes(move?.curves ?? {})])].sort((a, b) => a - b);
  const carriedBefore = camera.rig.kind !== 'sticks' && camera.rig.head === 'carried';
  const carriedNow = rig.kind !== 'sticks' && rig.head === 'carried';
  const next: Camera = { ...camera, rig };
  const curves: Record<string, Curve> = { ...move?.curves };
  for (const channel of [...rigChannels(camera), ...RIG_PLACE_CHANNELS]) curves[channel] = [];
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
      ...(move ? moveOperations(project, cameraId, { curves }) : []),
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
  const move = moveOf(project, camera.id);
  const moved = move && { ...move, curves: curves as typeof move.curves };
  const { carrier } = resolveCamera(camera, channelValuesAt(camera, moved, atFlicks), project, atFlicks);
  const own = ownAngles(camera.rig, state, carrier);
  return { pan: own.panDeg, tilt: own.tiltDeg, roll: own.rollDeg };
}

function closeness(project: Project, edit: Edit, cameraId: string, times: readonly number[], at: number): Deviation {
  const after = previewed(project, edit);
  return deviation(project, after, cameraId, times[0] ?? at, times.at(-1) ?? at);
}

/** Changes numbers of a rig, named for undo by `what`. */
export function setRig(project: Project, cameraId: string, what: string, rig: Rig): Edit {
  const { name } = existing(project, 'camera', cameraId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'camera', cameraId, { rig })] };
}
