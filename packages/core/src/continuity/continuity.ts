import type { CameraState } from '../camera';
import { angleBetweenDeg, cameraAt } from '../camera';
import type { SubjectFraming } from '../framing';
import { SHOT_SIZES } from '../framing';
import type { ContinuityLimits, Project } from '../model';
import { CONTINUITY_DEFAULTS } from '../model';
import type { CutShot } from '../sequence';
import { cutOf, sceneTimeOf } from '../sequence';
import { placementAt, subjectPointAt } from '../set';
import type { Vector } from '../space';
import { difference, distanceBetween, dot, turned } from '../space';
import { flicksAtFrame, framesPerSecond } from '../time';
import { actionLineAt, degreesOffLine } from './action-line';
import type { Advice } from './advice';
import type { JointSide } from './seen-at-joint';
import { jointSide } from './seen-at-joint';

/** What looks aside from the camera by less than this looks at it, degrees; what goes less across the picture comes or leaves. */
const ASIDE_DEG = 15;
/** Two who look no farther past each other than this look at each other, degrees. */
const FACING_DEG = 60;
/** Slower than this a subject stands; slower than these a camera does. Metres, degrees and shares of the size a second. */
const WALKS_MPS = 0.2;
const CAMERA_MPS = 0.1;
const CAMERA_DPS = 2;
const CAMERA_ZOOMS = 0.03;
/** One camera that goes on within so many frames of scene time shows no joint: slow motion takes less than one. */
const SEAMLESS_FRAMES = 1.5;
/** Frames by which it is seen whether anything moves at a joint. */
const MOVING_FRAMES = 4;

/** What an audience may stumble over in a cut, joint by joint. */
export function continuityOf(project: Project, sequenceId: string): Advice[] {
  const limits = project.sequences[sequenceId]?.continuity ?? CONTINUITY_DEFAULTS;
  const { shots } = cutOf(project, sequenceId);
  return shots.flatMap((placed) => {
    const before = shots[placed.index - 1];
    const short = tooShort(project, placed, limits);
    if (!before || placed.gapFrames > 0) return short;
    return [...jointAdvice(project, before, placed, limits), ...short];
  });
}

/** What may disturb where two shots meet. */
function jointAdvice(project: Project, first: CutShot, second: CutShot, limits: ContinuityLimits): Advice[] {
  const [before, after] = [jointSide(project, first, 'last'), jointSide(project, second, 'first')];
  // What dissolves or fades is no cut.
  if (!before || !after || second.shot.entry.kind !== 'cut' || first.shot.fadeOut) return [];
  if (goesOn(project, before, after)) return [];
  const about = { shotId: second.shot.id, beforeId: first.shot.id };
  const names = `${first.shot.name} to ${second.shot.name}`;
  const found = [
    lineCrossed(project, before, after),
    jump(project, before, after, limits),
    eyelines(project, before, after),
    screenDirection(project, before, after),
    pairDiffers(project, before, after, limits),
    cutOnMove(project, before, after),
  ];
  return found.flatMap((one) => (one ? [{ ...about, ...one, message: `${names} ${one.message}` }] : []));
}

/** Whether nobody sees the joint: one camera goes on where it was, as in a shot that was divided. */
function goesOn(project: Project, before: JointSide, after: JointSide): boolean {
  const [one, other] = [before.placed.shot, after.placed.shot];
  if (one.cameraId !== other.cameraId || one.variationId !== other.variationId) return false;
  const gone = after.sceneFlicks - before.sceneFlicks;
  return gone >= 0 && gone <= flicksAtFrame(1, project.head.rate) * SEAMLESS_FRAMES;
}

type Found = Pick<Advice, 'code' | 'message' | 'reason'> | undefined;

function lineCrossed(project: Project, before: JointSide, after: JointSide): Found {
  const line = actionLineAt(project, before, after);
  if (!line) return undefined;
  const [a, b] = [before, after].map(({ state }) => degreesOffLine(line, state.positionM)) as [number, number];
  if (a * b >= 0) return undefined;
  const message = `crosses the line of action: ${degrees(a)} off it on one side, ${degrees(b)} on the other`;
  return {
    code: 'line-crossed',
    message,
    reason: 'Cameras stay on one side of the line, or who faces left faces right after the cut.',
  };
}

/** The same subject from nearly the same place and nearly as large. */
function jump(project: Project, before: JointSide, after: JointSide, limits: ContinuityLimits): Found {
  const [one, other] = [before.subject, after.subject];
  if (!one || one.placement.id !== other?.placement.id) return undefined;
  const angle = angleRound(project, one, before, after);
  const steps = Math.abs(SHOT_SIZES.indexOf(one.size) - SHOT_SIZES.indexOf(other.size));
  if (angle >= limits.angleDeg || steps >= limits.sizeSteps) return undefined;
  const sizes = steps === 0 ? 'and keeps the size' : `and the size by ${steps} ${steps === 1 ? 'step' : 'steps'}`;
  return {
    code: 'jump',
    message: `changes the angle on ${one.placement.name} by ${degrees(angle)} ${sizes}: it may read as a jump`,
    reason: `Usual: ${limits.angleDeg}° or ${limits.sizeSteps} sizes.`,
  };
}

/** Angle between the sights of two cameras at what both are about, from above or below as well as round it, degrees. */
function angleRound(project: Project, { placement }: SubjectFraming, before: JointSide, after: JointSide): number {
  const [one, other] = [before, after].map(({ state, sceneFlicks }) =>
    difference(state.positionM, subjectPointAt(project, placement, 'eyes', sceneFlicks)),
  ) as [Vector, Vector];
  const cosine = dot(one, other) / (Math.hypot(...one) * Math.hypot(...other) || 1);
  return (Math.acos(Math.max(-1, Math.min(1, cosine))) * 180) / Math.PI;
}

/** Two who look at each other look in opposite directions on the screen. */
function eyelines(project: Project, before: JointSide, after: JointSide): Found {
  const [one, other] = [before.subject, after.subject];
  if (!one?.lookRoom || !other?.lookRoom || !faceEachOther(project, before, after)) return undefined;
  if (one.lookRoom.side !== other.lookRoom.side) return undefined;
  return {
    code: 'eyelines',
    message: `lets ${one.placement.name} and ${other.placement.name} both look ${one.lookRoom.side}, though they look at each other`,
    reason: 'Who look at each other look in opposite directions on the screen.',
  };
}

function faceEachOther(project: Project, before: JointSide, after: JointSide): boolean {
  const [one, other] = [before.subject, after.subject];
  if (!one || !other || one.placement.id === other.placement.id) return false;
  const at = after.sceneFlicks;
  const [a, b] = [one, other].map(({ placement }) => subjectPointAt(project, placement, 'eyes', at)) as [
    Vector,
    Vector,
  ];
  return looksToward(project, one, a, b, at) && looksToward(project, other, b, a, at);
}

/** The same subject goes to the left in one shot and to the right in the next. */
function screenDirection(project: Project, before: JointSide, after: JointSide): Found {
  const [one, other] = [before.subject, after.subject];
  if (!one || one.placement.id !== other?.placement.id) return undefined;
  const [a, b] = [acrossDeg(project, one, before, -1), acrossDeg(project, other, after, 1)];
  if (a === undefined || b === undefined || a * b >= 0 || Math.min(Math.abs(a), Math.abs(b)) < ASIDE_DEG)
    return undefined;
  const side = (angle: number) => (angle > 0 ? 'right' : 'left');
  return {
    code: 'screen-direction',
    message: `turns ${one.placement.name} round: going ${side(a)} before the cut, ${side(b)} after it`,
    reason: 'Who goes one way goes on that way across a cut, unless seen to turn.',
  };
}

/** The focal length, height and distance of two shots that answer each other. */
function pairDiffers(project: Project, before: JointSide, after: JointSide, limits: ContinuityLimits): Found {
  const [one, other] = [before.subject, after.subject];
  if (!one || !other || !faceEachOther(project, before, after)) return undefined;
  if (Math.abs(SHOT_SIZES.indexOf(one.size) - SHOT_SIZES.indexOf(other.size)) > 1) return undefined;
  const [a, b] = [before.state, after.state];
  const eyes = (side: JointSide, of: SubjectFraming) =>
    side.state.positionM[1] - subjectPointAt(project, of.placement, 'eyes', side.sceneFlicks)[1];
  const [heightA, heightB] = [eyes(before, one), eyes(after, other)];
  const differences: string[] = [];
  if (ratio(a.lens.focalLengthMm, b.lens.focalLengthMm) > limits.pairLens)
    differences.push(`lens ${mm(a.lens.focalLengthMm)} and ${mm(b.lens.focalLengthMm)}`);
  if (Math.abs(heightA - heightB) > limits.pairHeightM)
    differences.push(`height over the eyes ${metres(heightA)} and ${metres(heightB)}`);
  if (ratio(one.distanceM, other.distanceM) > limits.pairDistance)
    differences.push(`distance ${metres(one.distanceM)} and ${metres(other.distanceM)}`);
  if (differences.length === 0) return undefined;
  return {
    code: 'pair-differs',
    message: `answer each other and differ in ${differences.join(', ')}`,
    reason: `A matching pair differs by ${Math.round(limits.pairLens * 100)} % in lens, ${limits.pairHeightM} m in height, ${Math.round(limits.pairDistance * 100)} % in distance at most.`,
  };
}

/** A camera that moves at the joint meets one that stands. */
function cutOnMove(project: Project, before: JointSide, after: JointSide): Found {
  const [a, b] = [cameraSpeed(project, before, -1), cameraSpeed(project, after, 1)];
  if (a.moves === b.moves) return undefined;
  const moving = a.moves ? a : b;
  const zooms = moving.zooms > CAMERA_ZOOMS ? ` and zooms by ${(moving.zooms * 100).toFixed(0)} % a second` : '';
  const goes = `goes ${moving.mps.toFixed(2)} m/s and turns ${moving.dps.toFixed(0)}°/s`;
  const message = `cuts on the move: one camera ${goes}${zooms} there, the other stands`;
  return {
    code: 'cut-on-move',
    message,
    reason: 'A move is let come to rest before a cut to a camera that stands, or cut into while both move.',
  };
}

/** How fast a camera goes, turns and zooms at its side of a joint; a zoom as the share by which things grow a second. */
function cameraSpeed(project: Project, { placed, state, sceneFlicks }: JointSide, direction: 1 | -1) {
  const { rate } = project.head;
  const frame = direction > 0 ? MOVING_FRAMES : placed.frameCount - 1 - MOVING_FRAMES;
  const other = cameraAt(project, state.cameraId, sceneTimeOf(placed, frame, rate));
  const seconds = MOVING_FRAMES / framesPerSecond(rate);
  const stands = sceneTimeOf(placed, frame, rate) === sceneFlicks;
  const mps = stands ? 0 : distanceBetween(state.positionM, other.positionM) / seconds;
  const dps = stands ? 0 : angleBetweenDeg(state, other) / seconds;
  const scale = (of: CameraState) => Math.log(Math.tan((of.lens.horizontalDeg * Math.PI) / 360));
  const zooms = stands ? 0 : Math.abs(scale(other) - scale(state)) / seconds;
  return { mps, dps, zooms, moves: mps > CAMERA_MPS || dps > CAMERA_DPS || zooms > CAMERA_ZOOMS };
}

/** Share of the time a wide shot takes that closer ones take, from the closest; and what motion adds. */
const READING: readonly number[] = [0.4, 0.4, 0.5, 0.6, 0.7, 0.8, 1, 1.2, 1.4];
const MOVING_TAKES = 1.25;

/** A shot that is over before it is read. */
function tooShort(project: Project, placed: CutShot, { readS }: ContinuityLimits): Advice[] {
  const side = jointSide(project, placed, 'first');
  if (!side) return [];
  const size = side.subject?.size ?? 'wide';
  const { moves } = cameraSpeed(project, side, 1);
  const needed = readS * (READING[SHOT_SIZES.indexOf(size)] ?? 1) * (moves ? MOVING_TAKES : 1);
  const seconds = placed.frameCount / framesPerSecond(project.head.rate);
  if (seconds >= needed) return [];
  const message = `${placed.shot.name} lasts ${seconds.toFixed(2)} s, and a ${size} shot${moves ? ' that moves' : ''} takes ${needed.toFixed(2)} s to read`;
  const reason = `Usual: ${readS} s for a wide shot that stands, less for what is closer, more for what moves.`;
  return [{ code: 'too-short', shotId: placed.shot.id, beforeId: undefined, message, reason }];
}

function looksToward(
  project: Project,
  { placement }: SubjectFraming,
  from: Vector,
  to: Vector,
  atFlicks: number,
): boolean {
  const gaze = gazeOf(project, placement.id, atFlicks);
  const way = difference(to, from);
  const length = Math.hypot(way[0], way[2]) * Math.hypot(gaze[0], gaze[2]);
  if (length === 0) return false;
  const cosine = (gaze[0] * way[0] + gaze[2] * way[2]) / length;
  return cosine > Math.cos((FACING_DEG * Math.PI) / 180);
}

const degrees = (value: number): string => `${Math.abs(value).toFixed(0)}°`;
const mm = (value: number): string => `${Number(value.toFixed(1))} mm`;
const metres = (value: number): string => `${value.toFixed(2)} m`;
const ratio = (a: number, b: number): number => Math.abs(a - b) / Math.max(Math.abs(a), Math.abs(b), 1e-9);

/** Which way somebody looks, in the world. */
function gazeOf(project: Project, placementId: string, atFlicks: number): Vector {
  return turned([0, 0, -1], placementAt(project, placementId, atFlicks).quaternion);
}

/** How far from straight toward or away a subject goes across the picture, degrees, positive to the right; nothing where it stands. */
function acrossDeg(
  project: Project,
  { placement }: SubjectFraming,
  side: JointSide,
  direction: 1 | -1,
): number | undefined {
  const { placed, state, sceneFlicks } = side;
  const { rate } = project.head;
  const frame = direction > 0 ? MOVING_FRAMES : placed.frameCount - 1 - MOVING_FRAMES;
  const other = sceneTimeOf(placed, frame, rate);
  const [here, there] = [sceneFlicks, other].map((at) => subjectPointAt(project, placement, 'eyes', at)) as [
    Vector,
    Vector,
  ];
  const way = direction > 0 ? difference(there, here) : difference(here, there);
  if (Math.hypot(...way) < (WALKS_MPS * MOVING_FRAMES) / framesPerSecond(rate)) return undefined;
  const right = turned([1, 0, 0], state.quaternion);
  const into = turned([0, 0, -1], state.quaternion);
  return (Math.atan2(dot(way, right), Math.abs(dot(way, into))) * 180) / Math.PI;
}
