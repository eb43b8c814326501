import type { CameraState, CameraValues } from '../../camera';
import { cameraAt, channelValuesAt, numbersFor } from '../../camera';
import type { Curve, Easing, Key } from '../../curve';
import { easedPair, merged, thinned, valueAt } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Channel, ChannelValues, Project } from '../../model';
import { existing, moveOf, TURNING } from '../../model';
import { FOCAL_LENGTH_RANGE_MM } from '../../optics';
import { isMoving, subjectPointAt } from '../../set';
import type { HeadAngles, Vector } from '../../space';
import { rotationOf, turned, unwrappedNear } from '../../space';
import { flicksFromSeconds, flicksPerFrame } from '../../time';
import type { Edit } from '../edit';
import { previewed } from '../edit';
import { toleranceOf } from './bake';
import { moveOperations } from './curves';
import type { MoveOrder, NamedMove } from './move-order';
import { NAMED_MOVES } from './move-order';
import { addArc } from './orbit';

type Sampled = (flicks: number, share: number) => { positionM: Vector; head?: HeadAngles; focalLength?: number };

/** Adds a named move to a camera from a time on: the pose it has there is where the move begins. Ordinary keys, or a rig with keys. */
export function addNamedMove(project: Project, cameraId: string, order: MoveOrder, atFlicks: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  if (!(order.seconds > 0)) throw new CoreError('out-of-range', 'A move lasts longer than nothing.', 'seconds');
  if (!Number.isFinite(order.amount)) throw new CoreError('out-of-range', 'Say how far the move goes.', 'amount');
  const { name } = NAMED_MOVES[order.move];
  if (order.move === 'arc') return addArc(project, cameraId, order, atFlicks);
  const state = cameraAt(project, cameraId, atFlicks);
  const values = channelValuesAt(camera, moveOf(project, cameraId), atFlicks);
  const timing = timingOf(order, atFlicks);
  const pair = (channel: Channel, to: number): [Channel, Curve] => [
    channel,
    easedPair(values[channel] ?? 0, to, timing, order),
  ];
  const curves = new Map<Channel, Curve>(
    HEAD_MOVES.has(order.move)
      ? headCurves(order, values, state, pair)
      : placeCurves(project, camera, order, state, values, timing),
  );
  const move = moveOf(project, cameraId);
  const all: Record<string, Curve> = { ...move?.curves };
  const end = timing.atFlicks + timing.lengthFlicks + timing.settleFlicks;
  for (const [channel, curve] of curves) {
    const around = (all[channel] ?? []).filter((key) => key.atFlicks < atFlicks || key.atFlicks > end);
    all[channel] = merged(around, curve);
  }
  return {
    name: `${name} on ${camera.name}`,
    operations: moveOperations(project, cameraId, { curves: all }),
  };
}

/**
 * How far from its end a named move ends, metres: a rail, a crane or an orbit goes as near as it can. 0 where it can go there,
 * and for moves of the head.
 */
export function endsBeside(project: Project, cameraId: string, order: MoveOrder, atFlicks: number): number {
  const camera = existing(project, 'camera', cameraId);
  if (camera.rig.kind === 'sticks' || HEAD_MOVES.has(order.move) || order.move === 'arc') return 0;
  const timing = timingOf(order, atFlicks);
  const end = timing.atFlicks + timing.lengthFlicks + timing.settleFlicks;
  const [x, y, z] = wayOf(project, camera, order, cameraAt(project, cameraId, atFlicks), timing).at(end, 1).positionM;
  const { operations } = addNamedMove(project, cameraId, order, atFlicks);
  const made = previewed(project, { operations });
  const [mx, my, mz] = cameraAt(made, cameraId, end).positionM;
  return Math.hypot(mx - x, my - y, mz - z);
}

const HEAD_MOVES: ReadonlySet<NamedMove> = new Set<NamedMove>(['pan', 'tilt', 'roll', 'zoom']);

function headCurves(
  { move, amount }: MoveOrder,
  values: CameraValues,
  state: CameraState,
  pair: (channel: Channel, to: number) => [Channel, Curve],
): [Channel, Curve][] {
  if (move === 'zoom') return [pair('focalLength', focalLengthOf(amount))];
  if (state.aimM && move !== 'roll') {
    throw new CoreError('out-of-range', 'The aim holds pan and tilt. Set the aim free first.', 'aim');
  }
  const channel = move as 'pan' | 'tilt' | 'roll';
  return [pair(channel, values[channel] + amount)];
}

/** A focal length that can be; what the lens of a kit has not is said elsewhere. */
function focalLengthOf(mm: number): number {
  const { min, max } = FOCAL_LENGTH_RANGE_MM;
  if (!(mm >= min && mm <= max)) {
    throw new CoreError('out-of-range', `A focal length lies between ${min} and ${max} mm.`, 'amount');
  }
  return mm;
}

interface Timing {
  readonly atFlicks: number;
  readonly lengthFlicks: number;
  readonly settleFlicks: number;
}

const timingOf = ({ seconds, settleS }: MoveOrder, atFlicks: number): Timing => ({
  atFlicks,
  lengthFlicks: flicksFromSeconds(seconds),
  settleFlicks: flicksFromSeconds(settleS),
});

/** Curves of a move that goes somewhere: two keys on sticks where it is straight, else a key a frame, thinned. */
function placeCurves(
  project: Project,
  camera: Camera,
  order: MoveOrder,
  state: CameraState,
  values: CameraValues,
  timing: Timing,
): [Channel, Curve][] {
  const way = wayOf(project, camera, order, state, timing);
  if (camera.rig.kind === 'sticks' && way.straight) {
    const to = way.at(timing.atFlicks + timing.lengthFlicks + timing.settleFlicks, 1);
    const ends: ChannelValues = {
      positionX: to.positionM[0],
      positionY: to.positionM[1],
      positionZ: to.positionM[2],
      ...(to.focalLength !== undefined && { focalLength: to.focalLength }),
    };
    return (Object.entries(ends) as [Channel, number][]).map(([channel, value]) => [
      channel,
      easedPair(values[channel] ?? 0, value, timing, order),
    ]);
  }
  return sampledCurves(project, camera, order, values, timing, way.at);
}

function sampledCurves(
  project: Project,
  camera: Camera,
  order: Easing,
  values: CameraValues,
  timing: Timing,
  at: Sampled,
): [Channel, Curve][] {
  const frame = flicksPerFrame(project.head.rate);
  const whole = timing.lengthFlicks + timing.settleFlicks;
  const count = Math.max(2, Math.round(whole / frame));
  const share = easedPair(0, 1, { ...timing, atFlicks: 0 }, order);
  const dense = new Map<Channel, Key[]>();
  let before: CameraValues = values;
  for (let i = 0; i <= count; i++) {
    const gone = Math.round((whole * i) / count);
    const flicks = timing.atFlicks + gone;
    const { positionM, head, focalLength } = at(flicks, valueAt(share, gone) ?? 0);
    const numbers: ChannelValues = {
      ...numbersFor(camera.rig, positionM, values, project, flicks),
      ...(head && { pan: head.panDeg, tilt: head.tiltDeg }),
      ...(focalLength !== undefined && { focalLength }),
    };
    for (const [channel, value] of Object.entries(numbers) as [Channel, number][]) {
      const near = TURNING.has(channel) ? unwrappedNear(value, before[channel] ?? 0) : value;
      dense.set(channel, [...(dense.get(channel) ?? []), { atFlicks: flicks, value: near, shape: 'smooth' }]);
      before = { ...before, [channel]: near };
    }
  }
  return [...dense].map(([channel, keys]) => [channel, thinned(keys, toleranceOf(channel) / 2).curve]);
}

/** The way of a travelling move: where the camera is at a share of it, and whether two keys say all of it. */
function wayOf(
  project: Project,
  { aim }: Camera,
  { move, amount, subjectId }: MoveOrder,
  state: CameraState,
  { atFlicks }: Timing,
): { readonly straight: boolean; readonly at: Sampled } {
  const from = state.positionM;
  const along = (direction: Vector, metres: number): Vector => [
    from[0] + direction[0] * metres,
    from[1] + direction[1] * metres,
    from[2] + direction[2] * metres,
  ];
  const axis = turned([0, 0, -1], state.quaternion);
  if (move === 'push-in' || move === 'pull-out') {
    const sign = move === 'push-in' ? 1 : -1;
    return { straight: true, at: (_, share) => ({ positionM: along(axis, sign * amount * share) }) };
  }
  if (move === 'truck') {
    const right = turned([1, 0, 0], rotationOf({ panDeg: state.panDeg, tiltDeg: 0, rollDeg: 0 }));
    return { straight: true, at: (_, share) => ({ positionM: along(right, amount * share) }) };
  }
  if (move === 'pedestal')
    return { straight: true, at: (_, share) => ({ positionM: along([0, 1, 0], amount * share) }) };
  const subject = subjectId === null ? undefined : existing(project, 'placement', subjectId);
  const pointAt = (flicks: number): Vector =>
    subject ? subjectPointAt(project, subject, 'eyes', flicks) : along(axis, Math.min(1000, state.focus.distanceM));
  if (move === 'boom') {
    const aimed = aim.kind !== 'free';
    const toward = headToward(from, state, pointAt(atFlicks));
    return {
      straight: aimed,
      at: (flicks, share) => {
        const positionM = along([0, 1, 0], amount * share);
        return aimed ? { positionM } : { positionM, head: toward(positionM, pointAt(flicks)) };
      },
    };
  }
  return dollyZoom(state, amount, pointAt, atFlicks, subject !== undefined && isMoving(project, subject));
}

/** Pan and tilt that keep a point where it was in the picture as the camera moves. */
function headToward(from: Vector, { panDeg, tiltDeg, rollDeg }: HeadAngles, pointM: Vector) {
  const angles = (at: Vector, to: Vector) => {
    const [dx, dy, dz] = [to[0] - at[0], to[1] - at[1], to[2] - at[2]];
    return { pan: (Math.atan2(dx, -dz) * 180) / Math.PI, tilt: (Math.atan2(dy, Math.hypot(dx, dz)) * 180) / Math.PI };
  };
  const first = angles(from, pointM);
  return (at: Vector, to: Vector): HeadAngles => {
    const now = angles(at, to);
    return {
      panDeg: panDeg + unwrappedNear(now.pan - first.pan, 0),
      tiltDeg: tiltDeg + now.tilt - first.tilt,
      rollDeg,
    };
  };
}

/**
 * The camera goes along its axis so that z·tan(θ/2), so z/f, stays as it is: the subject's depth is in step with the focal
 * length. Where the subject stands still, both are straight lines of one ease.
 */
function dollyZoom(
  state: CameraState,
  toMm: number,
  pointAt: (flicks: number) => Vector,
  atFlicks: number,
  moving: boolean,
): { straight: boolean; at: Sampled } {
  const axis = turned([0, 0, -1], state.quaternion);
  const depthOf = (point: Vector) =>
    point.reduce((sum, value, i) => sum + (value - (state.positionM[i] ?? 0)) * (axis[i] ?? 0), 0);
  const depth = depthOf(pointAt(atFlicks));
  if (!(depth > 0)) throw new CoreError('out-of-range', 'The subject stands behind the camera.', 'subjectId');
  const fromMm = state.lens.focalLengthMm;
  const to = focalLengthOf(toMm);
  return {
    straight: !moving,
    at: (flicks, share) => {
      const focalLength = fromMm + (to - fromMm) * share;
      const on = depthOf(pointAt(flicks)) - (depth * focalLength) / fromMm;
      const [x, y, z] = state.positionM;
      return { positionM: [x + axis[0] * on, y + axis[1] * on, z + axis[2] * on], focalLength };
    },
  };
}
