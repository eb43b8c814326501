import type { CameraState, CameraValues } from '../../camera';
import { channelValuesAt, steadyAt } from '../../camera';
import type { Curve } from '../../curve';
import { easedPair } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Channel, ChannelValues, Project } from '../../model';
import { existing, moveOf } from '../../model';
import { breathingFocalLengthMm, FOCAL_LENGTH_RANGE_MM } from '../../optics';
import { isMoving, subjectPointAt } from '../../set';
import type { HeadAngles, Vector } from '../../space';
import { difference, distanceBetween, dot, rotationOf, scaled, sum, turned, unwrappedNear } from '../../space';
import type { Edit } from '../edit';
import { previewed } from '../edit';
import { moveOperations } from './curves';
import type { MoveOrder, NamedMove } from './move-order';
import { NAMED_MOVES } from './move-order';
import { addArc } from './orbit';
import type { Timing, Way } from './sampled-way';
import { endOf, sampledCurves, timingOf, withPieces } from './sampled-way';

/** Adds a named move to a camera from a time on: the pose it has there is where the move begins. Ordinary keys, or a rig with keys. */
export function addNamedMove(project: Project, cameraId: string, order: MoveOrder, atFlicks: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  if (!(order.seconds > 0)) throw new CoreError('out-of-range', 'A move lasts longer than nothing.', 'seconds');
  if (!Number.isFinite(order.amount)) throw new CoreError('out-of-range', 'Say how far the move goes.', 'amount');
  const { name } = NAMED_MOVES[order.move];
  if (order.move === 'arc') return addArc(project, cameraId, order, atFlicks);
  const state = steadyAt(project, cameraId, atFlicks);
  const values = channelValuesAt(camera, moveOf(project, cameraId), atFlicks);
  const timing = timingOf(order, atFlicks);
  const pair = (channel: Channel, to: number): [Channel, Curve] => [
    channel,
    easedPair(values[channel] ?? 0, to, timing, order),
  ];
  const curves = new Map<Channel, Curve>(
    order.move === 'zoom' && order.inScale
      ? scaleCurves(project, camera, order, state, values, timing)
      : HEAD_MOVES.has(order.move)
        ? headCurves(order, values, state, pair)
        : placeCurves(project, camera, order, state, values, timing),
  );
  const operations = moveOperations(project, cameraId, withPieces(moveOf(project, cameraId), [...curves], timing));
  return { name: `${name} on ${camera.name}`, operations };
}

/**
 * How far from its end a named move ends, metres: a rail, a crane or an orbit goes as near as it can. 0 where it can go there,
 * and for moves of the head.
 */
export function endsBeside(project: Project, cameraId: string, order: MoveOrder, atFlicks: number): number {
  const camera = existing(project, 'camera', cameraId);
  if (camera.rig.kind === 'sticks' || HEAD_MOVES.has(order.move) || order.move === 'arc') return 0;
  const timing = timingOf(order, atFlicks);
  const end = endOf(timing);
  const wanted = wayOf(project, camera, order, steadyAt(project, cameraId, atFlicks), timing).at(end, 1).positionM;
  const { operations } = addNamedMove(project, cameraId, order, atFlicks);
  const made = previewed(project, { operations });
  return distanceBetween(steadyAt(made, cameraId, end).positionM, wanted);
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

/** A zoom whose picture grows evenly: the same share of its size in each step. */
function scaleCurves(
  project: Project,
  camera: Camera,
  order: MoveOrder,
  { positionM, lens }: CameraState,
  values: CameraValues,
  timing: Timing,
): [Channel, Curve][] {
  const [from, to] = [lens.focalLengthMm, focalLengthOf(order.amount)];
  const way: Way = (_, share) => ({ positionM, focalLength: from * (to / from) ** share });
  return sampledCurves(project, camera, order, values, timing, way).filter(([channel]) => channel === 'focalLength');
}

/** A focal length that can be; what the lens of a kit has not is said elsewhere. */
function focalLengthOf(mm: number): number {
  const { min, max } = FOCAL_LENGTH_RANGE_MM;
  if (!(mm >= min && mm <= max)) {
    throw new CoreError('out-of-range', `A focal length lies between ${min} and ${max} mm.`, 'amount');
  }
  return mm;
}

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
    const to = way.at(endOf(timing), 1);
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

/** The way of a travelling move: where the camera is at a share of it, and whether two keys say all of it. */
function wayOf(
  project: Project,
  camera: Camera,
  { move, amount, subjectId }: MoveOrder,
  state: CameraState,
  { atFlicks }: Timing,
): { readonly straight: boolean; readonly at: Way } {
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
    const aimed = camera.aim.kind !== 'free';
    const toward = headToward(from, state, pointAt(atFlicks));
    return {
      straight: aimed,
      at: (flicks, share) => {
        const positionM = along([0, 1, 0], amount * share);
        return aimed ? { positionM } : { positionM, head: toward(positionM, pointAt(flicks)) };
      },
    };
  }
  return dollyZoom(state, camera, amount, pointAt, atFlicks, subject !== undefined && isMoving(project, subject));
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
 * The camera goes along its axis so that z·tan(θ/2), so z/f of what acts, stays as it is: the subject's depth is in step with the
 * focal length. Where the subject stands still and the lens does not breathe on a focus that stays, both are straight lines of
 * one ease. A lens focused on the subject itself holds z/f with or without breathing.
 */
function dollyZoom(
  state: CameraState,
  { lens, focus }: Camera,
  toMm: number,
  pointAt: (flicks: number) => Vector,
  atFlicks: number,
  moving: boolean,
): { straight: boolean; at: Way } {
  const axis = turned([0, 0, -1], state.quaternion);
  const depthOf = (point: Vector) => dot(difference(point, state.positionM), axis);
  const depth = depthOf(pointAt(atFlicks));
  if (!(depth > 0)) throw new CoreError('out-of-range', 'The subject stands behind the camera.', 'subjectId');
  const fromMm = state.lens.focalLengthMm;
  const to = focalLengthOf(toMm);
  const breathes = lens.breathing && focus.mode !== 'follow';
  const acting = (mm: number) => (breathes ? breathingFocalLengthMm(mm, state.focus.distanceM * 1000) : mm);
  return {
    straight: !moving && !breathes,
    at: (flicks, share) => {
      const focalLength = fromMm + (to - fromMm) * share;
      const on = depthOf(pointAt(flicks)) - (depth * acting(focalLength)) / acting(fromMm);
      return { positionM: sum(state.positionM, scaled(axis, on)), focalLength };
    },
  };
}
