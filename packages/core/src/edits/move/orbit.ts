import type { CameraState } from '../../camera';
import { ahead, channelValuesAt, numbersFor, ownAngles, poseOf, restingRig, steadyAt } from '../../camera';
import type { Curve, Easing } from '../../curve';
import { easedPair } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Channel, Project, RigOf } from '../../model';
import { AIM_CHANNELS, existing, HEAD_CHANNELS, moveOf, PLACE_CHANNELS, RIG_DEFAULTS } from '../../model';
import { subjectPointAt } from '../../set';
import type { Vector } from '../../space';
import { anglesToward, difference, rotationOf, sum, turned, unwrappedNear } from '../../space';
import type { Edit } from '../edit';
import { composed, patching, previewed } from '../edit';
import { bakeRig } from './bake';
import { moveOperations } from './curves';
import type { MoveOrder } from './move-order';
import type { Timing, Way } from './sampled-way';
import { sampledCurves, timingOf, withPieces } from './sampled-way';

/** What is gone round: anything in the set, a point of the world, or, where neither is named, the point that is in focus. */
interface Middle {
  /** A figure is gone round at its eyes, other things at the middle of their bounds. */
  readonly subjectId: string | null;
  readonly pointM?: Vector;
  /** Whether the head turns to it, so that it stays in the middle of the picture; where it is seen, when left out. */
  readonly centred?: boolean;
}

/** An orbit that is asked for. */
export interface OrbitOrder extends Middle {
  /** Degrees, clockwise seen from above; negative the other way. */
  readonly degrees: number;
  readonly seconds: number;
  /** Goes on round and round at the same speed: a full turn that loops shows no frame twice. */
  readonly loop: boolean;
}

/** An even speed from the first moment to the last. */
const EVEN: Easing = { easeIn: 0, easeOut: 0, settleS: 0 };

/** Looking this near at the middle is looking at it, degrees. */
const AIMED_DEG = 0.05;

/**
 * Round a subject or the point in focus at the present radius and height, at an even speed. It begins from the pose that the camera
 * has: the middle stays where it is in the picture, and the aim is locked on it where it is in the picture's own middle. What the
 * camera does before stays.
 * @throws CoreError `out-of-range` for an endless orbit after something else: it would repeat that too.
 */
export function addOrbit(
  project: Project,
  cameraId: string,
  { degrees, seconds, loop, ...middle }: OrbitOrder,
  atFlicks: number,
): Edit {
  if (!(seconds > 0)) throw new CoreError('out-of-range', 'An orbit lasts longer than nothing.', 'seconds');
  if (!Number.isFinite(degrees)) throw new CoreError('out-of-range', 'Say how far it goes round.', 'degrees');
  const { name } = existing(project, 'camera', cameraId);
  const timing = timingOf({ seconds, settleS: 0 }, atFlicks);
  const round = { ...middle, degrees, easing: EVEN, timing };
  if (!loop) return { ...roundMiddle(project, cameraId, round), name: `Orbit on ${name}` };
  if (movesBefore(project, cameraId, atFlicks)) {
    throw new CoreError(
      'out-of-range',
      'An orbit without end begins a move. Let it end, or begin it where the move begins.',
      'loop',
    );
  }
  return { ...onOrbit(project, cameraId, round, 'onward'), name: `Orbit on ${name}` };
}

/** Round the subject at its distance, with an ease: begun from the pose as an orbit is, and after what the camera did before. */
export function addArc(project: Project, cameraId: string, order: Omit<MoveOrder, 'move'>, atFlicks: number): Edit {
  const { name } = existing(project, 'camera', cameraId);
  const { subjectId, pointM, centred = false, amount: degrees } = order;
  const round = {
    subjectId,
    ...(pointM && { pointM }),
    centred,
    degrees,
    easing: order,
    timing: timingOf(order, atFlicks),
  };
  return { ...roundMiddle(project, cameraId, round), name: `Arc on ${name}` };
}

interface Round extends Middle {
  readonly degrees: number;
  readonly easing: Easing;
  readonly timing: Timing;
}

/** A rig with two keys where it begins the camera's move; else keys after what is there. */
function roundMiddle(project: Project, cameraId: string, round: Round): Pick<Edit, 'operations'> {
  if (!movesBefore(project, cameraId, round.timing.atFlicks)) return onOrbit(project, cameraId, round, 'stay');
  const { rig } = existing(project, 'camera', cameraId);
  if (rig.kind === 'sticks') return keyedRound(project, cameraId, round);
  // Another rig goes its own way only: its move becomes keys first.
  return composed(project, 'Round', [
    (now) => bakeRig(now, cameraId, round.timing.atFlicks).edit,
    (now) => ({ name: 'Round', ...keyedRound(now, cameraId, round) }),
  ]);
}

/** Whether something brings the camera to a place, or turns it, before a time. */
function movesBefore(project: Project, cameraId: string, atFlicks: number): boolean {
  const curves = moveOf(project, cameraId)?.curves ?? {};
  const { rig } = existing(project, 'camera', cameraId);
  const follows = rig.kind === 'follow' && atFlicks > 0;
  return follows || [...PLACING].some((channel) => (curves[channel]?.[0]?.atFlicks ?? Infinity) < atFlicks);
}

/** Channels that an orbit says anew. */
const PLACING: ReadonlySet<Channel> = new Set<Channel>([...PLACE_CHANNELS, ...HEAD_CHANNELS, ...AIM_CHANNELS]);

/** Where the middle is: somebody's eyes, the middle of a thing, or a point of the world. */
function middleAt(project: Project, state: CameraState, { subjectId, pointM }: Middle): (flicks: number) => Vector {
  const subject = subjectId === null ? undefined : existing(project, 'placement', subjectId);
  const point = pointM ?? ahead(state);
  return (flicks) => (subject ? subjectPointAt(project, subject, 'eyes', flicks) : point);
}

/** An orbit with two keys. The aim is locked where the camera looks at the middle; else the orbit carries the head. */
function onOrbit(project: Project, cameraId: string, round: Round, after: 'stay' | 'onward'): Pick<Edit, 'operations'> {
  const { subjectId, degrees, easing, timing, centred = false } = round;
  const camera = existing(project, 'camera', cameraId);
  const state = steadyAt(project, cameraId, timing.atFlicks);
  const middle = middleAt(project, state, round)(timing.atFlicks);
  const toward = anglesToward(state.positionM, middle);
  const looks =
    centred ||
    (Math.abs(unwrappedNear(toward.panDeg - state.panDeg, 0)) < AIMED_DEG &&
      Math.abs(toward.tiltDeg - state.tiltDeg) < AIMED_DEG);
  const rig: RigOf<'orbit'> = {
    kind: 'orbit',
    ...RIG_DEFAULTS.base,
    atM: subjectId === null ? middle : [0, 0, 0],
    head: looks ? 'world' : 'carried',
    subjectId,
    point: 'eyes',
    angleDeg: 0,
    radiusM: 1,
    heightM: 0,
  };
  const values = channelValuesAt({ ...camera, rig }, undefined, 0);
  const numbers = numbersFor(rig, state.positionM, values, project, timing.atFlicks);
  const resting = restingRig(rig, { ...values, ...numbers });
  const from = numbers.orbit ?? 0;
  const own = ownAngles(rig, state, { panDeg: from + 180, tiltDeg: 0, rollDeg: 0 });
  const aim: Camera['aim'] = !looks
    ? { kind: 'free' }
    : subjectId !== null
      ? { kind: 'subject', placementId: subjectId, point: 'eyes', offsetM: [0, 0, 0], weight: 1, smoothingS: 0 }
      : { kind: 'point', positionM: middle };
  const pose = { ...poseOf(state), ...own };
  const operations = [
    patching(project, 'camera', cameraId, { rig: resting, aim, pose }),
    ...withoutPlacing(project, cameraId),
  ];
  const cleared = previewed(project, { operations });
  const orbit: Curve = easedPair(from, from + degrees, timing, easing);
  const keys: Curve =
    after === 'onward' ? orbit.map(({ atFlicks, value }) => ({ atFlicks, value, shape: 'linear' })) : orbit;
  const { curves, after: afters } = withPieces(moveOf(cleared, cameraId), [['orbit', keys]], timing);
  return {
    operations: [...operations, ...moveOperations(cleared, cameraId, { curves, after: { ...afters, orbit: after } })],
  };
}

/** Takes out of a camera's move what an orbit says anew, and the marks, whose poses that were. */
function withoutPlacing(project: Project, cameraId: string) {
  const move = moveOf(project, cameraId);
  if (!move) return [];
  const kept = Object.entries(move.curves).filter(([channel]) => !PLACING.has(channel as Channel));
  const curves = Object.fromEntries(kept);
  const after = Object.fromEntries(Object.entries(move.after).filter(([channel]) => curves[channel]));
  return moveOperations(project, cameraId, { curves, after, marks: [] });
}

/** Keys of place and head that go round after what the camera did before. */
function keyedRound(project: Project, cameraId: string, round: Round): Pick<Edit, 'operations'> {
  const { degrees, easing, timing, centred = false } = round;
  const camera = existing(project, 'camera', cameraId);
  const state = steadyAt(project, cameraId, timing.atFlicks);
  const middle = middleAt(project, state, round);
  const out = difference(state.positionM, middle(timing.atFlicks));
  const way: Way = (flicks, share) => {
    const turn = { panDeg: degrees * share, tiltDeg: 0, rollDeg: 0 };
    const positionM = sum(middle(flicks), turned(out, rotationOf(turn)));
    if (camera.aim.kind !== 'free') return { positionM };
    const { panDeg, tiltDeg } = centred
      ? anglesToward(positionM, middle(flicks))
      : { panDeg: state.panDeg + turn.panDeg, tiltDeg: state.tiltDeg };
    return { positionM, head: { ...poseOf(state), panDeg, tiltDeg } };
  };
  const values = channelValuesAt(camera, moveOf(project, cameraId), timing.atFlicks);
  const pieces = sampledCurves(project, camera, easing, values, timing, way);
  return { operations: moveOperations(project, cameraId, withPieces(moveOf(project, cameraId), pieces, timing)) };
}
