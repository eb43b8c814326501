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
import type { Curve, Key } from '../../curve';
import { thinned } from '../../curve';
import type { Camera, Channel, ChannelValues, Move, Project, Rig, RigKind } from '../../model';
import { existing, HEAD_CHANNELS, moveOf, RIG_PLACE_CHANNELS, TURNING } from '../../model';
import { unwrappedNear } from '../../space';
import { FLICKS_PER_SECOND, flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { timesOf } from './bake';
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

/** How near another rig stays to the way that a camera went, metres, and its head to its turns, degrees. */
const RIG_WITHIN = { metres: 0.05, degrees: 0.5 };

/** What thinning may leave out is tried from coarse to fine, shares of what it has to stay within. */
const TRIED = [0.5, 0.2, 0.05, 0.01] as const;

/**
 * Puts a camera on another rig. Its present pose stays as it is, and where it was keyed it goes the way it went: the new rig's
 * numbers are keyed at the same times, and between them as often as it takes to stay within 5 cm and half a degree of it where the
 * rig can. What moved it without keys, as a subject or a repetition, moves it no more where the new rig has none of it: the
 * deviation says how far it goes from that.
 * @param between how it goes between its keys: the way that it went, where this is left out, or as the new rig does by itself.
 */
export function changeRig(
  project: Project,
  cameraId: string,
  rig: Rig,
  atFlicks: number,
  between: 'as-before' | 'as-the-rig' = 'as-before',
): CloseEdit {
  const camera = existing(project, 'camera', cameraId);
  const dense = denseNumbers(project, camera, rig, between === 'as-the-rig');
  let best: CloseEdit | undefined;
  for (const share of TRIED) {
    const edit = riggedAnew(project, camera, rig, atFlicks, dense, share);
    const made = { edit, deviation: closeness(project, edit, cameraId) };
    const { metres, degrees } = made.deviation;
    if (!best || metres < best.deviation.metres) best = made;
    if (
      between === 'as-the-rig' ||
      dense.times.length < 2 ||
      (metres <= RIG_WITHIN.metres && degrees <= RIG_WITHIN.degrees)
    )
      return made;
  }
  return best as CloseEdit;
}

/** What a rig's numbers are over a move: at each frame, and when something is keyed. */
interface DenseNumbers {
  readonly times: readonly number[];
  readonly keyed: ReadonlySet<number>;
  readonly curves: Readonly<Record<string, readonly Key[]>>;
  /** How far from its rig's pivot the camera is at most, metres: what a degree of the rig moves it by follows from that. */
  readonly reachM: number;
}

function denseNumbers(project: Project, camera: Camera, rig: Rig, keysOnly: boolean): DenseNumbers {
  const times = keyTimes(project, camera.id);
  const next: Camera = { ...camera, rig };
  const carried = isHeadCarried(camera.rig) || isHeadCarried(rig);
  const turns = carried ? headTimes(moveOf(project, camera.id)?.curves ?? {}) : [];
  const keyed = new Set([...times, ...turns].sort((a, b) => a - b));
  const [from, to] = [[...keyed][0], [...keyed].at(-1)];
  if (from === undefined || to === undefined) return { times: [], keyed, curves: {}, reachM: 1 };
  const resting = channelValuesAt(next, undefined, 0);
  let [near, reachM] = [undefined as number | undefined, 1];
  const moments = keysOnly || from === to ? [...keyed] : timesOf(project, from, to, [...keyed]);
  const curves: Record<string, Key[]> = {};
  for (const clockFlicks of moments) {
    const { state, sceneFlicks } = seenAtClock(project, camera.id, clockFlicks);
    const numbers = numbersFor(rig, state.positionM, resting, project, sceneFlicks, near);
    near = numbers.along;
    reachM = Math.max(reachM, numbers.arm ?? 0, numbers.radius ?? 0);
    const head = carried ? headBy(project, next, state, sceneFlicks, { ...resting, ...numbers }) : {};
    for (const [channel, value] of Object.entries({ ...numbers, ...head }) as [Channel, number][]) {
      const keys = (curves[channel] ??= []);
      const before = keys.at(-1)?.value;
      const own = before !== undefined && TURNING.has(channel) ? unwrappedNear(value, before) : value;
      keys.push({ atFlicks: clockFlicks, value: own, shape: 'smooth' });
    }
  }
  return { times: moments, keyed, curves, reachM };
}

/** The edit itself, with so much of what it has to stay within left to thinning. */
function riggedAnew(
  project: Project,
  camera: Camera,
  rig: Rig,
  atFlicks: number,
  dense: DenseNumbers,
  share: number,
): Edit {
  const move = moveOf(project, camera.id);
  const next: Camera = { ...camera, rig };
  const curves: Record<string, Curve> = { ...move?.curves };
  const carried = isHeadCarried(camera.rig) || isHeadCarried(rig);
  for (const channel of [...rigChannels(camera), ...RIG_PLACE_CHANNELS]) curves[channel] = [];
  if (carried) for (const channel of HEAD_CHANNELS) curves[channel] = [];
  const onFrame = isOnFrame(project);
  for (const [channel, keys] of Object.entries(dense.curves)) {
    const tolerance = toleranceFor(channel as Channel, dense.reachM) * share;
    curves[channel] = thinned(keys, tolerance, dense.keyed, onFrame).curve;
  }
  const state = steadyAt(project, camera.id, atFlicks);
  const numbers = numbersFor(rig, state.positionM, channelValuesAt(next, undefined, 0), project, atFlicks);
  const resting = { ...channelValuesAt(next, undefined, 0), ...numbers } as CameraValues;
  const rigged = { ...next, rig: restingRig(rig, resting) };
  const head = carried ? headBy(project, rigged, state, atFlicks, resting) : {};
  const parts = restingParts(rigged, { ...numbers, ...head });
  return {
    name: `${camera.name} on ${RIG_NAMES[rig.kind]}`,
    operations: [
      patching(project, 'camera', camera.id, { ...parts, rig: parts.rig ?? rigged.rig }),
      ...(move ? moveOperations(project, camera.id, { curves, after: afterOf(move, curves) }) : []),
    ],
  };
}

const isHeadCarried = (rig: Rig): boolean => rig.kind !== 'sticks' && rig.head === 'carried';

function isOnFrame(project: Project): (flicks: number) => boolean {
  const frame = flicksPerFrame(project.head.rate);
  return (flicks) => Math.abs(flicks / frame - Math.round(flicks / frame)) < 1e-6;
}

/** What of a channel's error moves the camera by as much as it may be off. */
function toleranceFor(channel: Channel, reachM: number): number {
  if (HEAD_CHANNELS.includes(channel as (typeof HEAD_CHANNELS)[number])) return RIG_WITHIN.degrees;
  if (!TURNING.has(channel) && channel !== 'pitch') return RIG_WITHIN.metres;
  return Math.min(RIG_WITHIN.degrees, (RIG_WITHIN.metres / reachM) * (180 / Math.PI));
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

/** What curves do after their last keys, for those that are left. */
function afterOf(move: Move, curves: Curves): Move['after'] {
  return Object.fromEntries(Object.entries(move.after).filter(([channel]) => (curves[channel]?.length ?? 0) > 0));
}

function headTimes(curves: Curves): number[] {
  return HEAD_CHANNELS.flatMap((channel) => (curves[channel] ?? []).map((key) => key.atFlicks));
}

/** A head's own angles that leave the camera turned as it is on its new rig, whose numbers are given. */
function headBy(
  project: Project,
  camera: Camera,
  state: CameraState,
  atFlicks: number,
  values: CameraValues,
): ChannelValues {
  const { carrier } = resolveCamera(camera, values, project, atFlicks);
  const own = ownAngles(camera.rig, state, carrier);
  return { pan: own.panDeg, tilt: own.tiltDeg, roll: own.rollDeg };
}

/** Changes numbers of a rig, named for undo by `what`. */
export function setRig(project: Project, cameraId: string, what: string, rig: Rig): Edit {
  const { name } = existing(project, 'camera', cameraId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'camera', cameraId, { rig })] };
}
