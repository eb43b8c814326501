import type { CameraState, CameraValues } from '../../camera';
import {
  channelValuesAt,
  numbersFor,
  ownAngles,
  resolveCamera,
  restingParts,
  restingRig,
  rigChannels,
  sceneAt,
  steadyAt,
} from '../../camera';
import type { Curve } from '../../curve';
import type { Camera, Channel, ChannelValues, Move, Project, Rig, RigKind } from '../../model';
import { existing, HEAD_CHANNELS, moveOf, RIG_PLACE_CHANNELS, TURNING } from '../../model';
import { unwrappedNear } from '../../space';
import { FLICKS_PER_SECOND } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { CloseEdit } from './closeness';
import { closeness } from './closeness';
import type { Curves } from './curves';
import { moveOperations } from './curves';

const RIG_NAMES: Readonly<Record<RigKind, string>> = {
  sticks: 'sticks',
  rail: 'rail',
  crane: 'crane',
  orbit: 'orbit',
  follow: 'follow',
};

/** Times of the move's clock at which something that brings the camera to a place is keyed. */
export function keyTimes(project: Project, cameraId: string): number[] {
  const curves: Curves = moveOf(project, cameraId)?.curves ?? {};
  const channels = [...rigChannels(existing(project, 'camera', cameraId)), ...RIG_PLACE_CHANNELS];
  const times = new Set(channels.flatMap((channel) => (curves[channel] ?? []).map((key) => key.atFlicks)));
  return [...times].sort((a, b) => a - b);
}

/**
 * Puts a camera on another rig. Its present pose stays as it is; where it was keyed, the new rig's numbers are keyed at the same
 * times, so that it comes through the same places. Between them it goes as the new rig goes. What moved it without keys, as a
 * subject or a repetition, moves it no more where the new rig has none of it: the deviation says how far it goes from that.
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
  const seenAt = (clockFlicks: number) => seenAtClock(project, cameraId, clockFlicks);
  for (const at of times) {
    const { state, sceneFlicks } = seenAt(at);
    lay(at, numbersAt(project, next, state, sceneFlicks));
  }
  if (carriedBefore || carriedNow) {
    for (const channel of HEAD_CHANNELS) curves[channel] = [];
    for (const at of turns) {
      const { state, sceneFlicks } = seenAt(at);
      lay(at, headAt(project, next, state, sceneFlicks, { ...curves, timeWarp: clockHeldAt(at) }));
    }
  }
  const state = steadyAt(project, cameraId, atFlicks);
  const numbers = numbersAt(project, next, state, atFlicks);
  const resting = { ...channelValuesAt(next, undefined, 0), ...numbers } as CameraValues;
  const rigged = { ...next, rig: restingRig(rig, resting) };
  const head = carriedBefore || carriedNow ? headAt(project, rigged, state, atFlicks, {}) : {};
  const parts = restingParts(rigged, { ...numbers, ...head });
  const edit: Edit = {
    name: `${camera.name} on ${RIG_NAMES[rig.kind]}`,
    operations: [
      patching(project, 'camera', cameraId, { ...parts, rig: parts.rig ?? rigged.rig }),
      ...(move ? moveOperations(project, cameraId, { curves, after: afterOf(move, curves) }) : []),
    ],
  };
  return { edit, deviation: closeness(project, edit, cameraId) };
}

/** A camera without its hand at a time of its move's clock, and when in its scene that is seen. */
export function seenAtClock(
  project: Project,
  cameraId: string,
  clockFlicks: number,
): { readonly state: CameraState; readonly sceneFlicks: number } {
  const sceneFlicks = sceneAt(moveOf(project, cameraId), clockFlicks) ?? clockFlicks;
  const trial = { timeWarp: clockFlicks / FLICKS_PER_SECOND };
  return { state: steadyAt(project, cameraId, sceneFlicks, trial), sceneFlicks };
}

/** A clock that stands. */
const clockHeldAt = (clockFlicks: number): Curve => [
  { atFlicks: 0, value: clockFlicks / FLICKS_PER_SECOND, shape: 'hold' },
];

/** What curves do after their last keys, for those that are left. */
function afterOf(move: Move, curves: Curves): Move['after'] {
  return Object.fromEntries(Object.entries(move.after).filter(([channel]) => (curves[channel]?.length ?? 0) > 0));
}

function headTimes(curves: Curves): number[] {
  return HEAD_CHANNELS.flatMap((channel) => (curves[channel] ?? []).map((key) => key.atFlicks));
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

/** Changes numbers of a rig, named for undo by `what`. */
export function setRig(project: Project, cameraId: string, what: string, rig: Rig): Edit {
  const { name } = existing(project, 'camera', cameraId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'camera', cameraId, { rig })] };
}
