import type { CameraState } from '../camera';
import { approach, deliveredWindow, poseOf, projectedLens } from '../camera';
import { FOCAL_LENGTH_RANGE_MM, projectPoint } from '../optics';
import type { Pieces } from '../set';
import { subjectPointAt } from '../set';
import type { HeadAngles, Vector } from '../space';
import { difference, dot, rotationOf, turned } from '../space';
import type { ShotSize } from './shot-size';
import { USUAL_FRAME, usualHeadroom } from './shot-size';
import type { SubjectFraming } from './subject-framing';

/** What makes a subject larger or smaller in the frame. */
export type SizedBy = 'camera' | 'lens';

/** Where a camera stands and looks, and its lens, once a subject has the size that was asked for. */
export interface Composition {
  readonly positionM: Vector;
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly focalLengthMm: number;
}

/**
 * A subject at a shot size: the camera goes along its line of sight to the eyes, or the lens changes and it stays; then the head
 * tilts to the usual headroom of that size, and pans so that whoever it is stays where he is across the frame.
 */
export function composedAs(
  pieces: Pieces,
  state: CameraState,
  subject: SubjectFraming,
  size: ShotSize,
  by: SizedBy,
  atFlicks: number,
): Composition {
  const factor = USUAL_FRAME[size] / subject.frameShare;
  const eyesM = subjectPointAt(pieces, subject.placement, 'eyes', atFlicks);
  const positionM = by === 'camera' ? approach(poseOf(state), eyesM, factor).positionM : state.positionM;
  const { min, max } = FOCAL_LENGTH_RANGE_MM;
  const zoom = by === 'lens' ? 1 / factor : 1;
  const focalLengthMm = Math.max(min, Math.min(max, state.lens.focalLengthMm * zoom));
  const scale = focalLengthMm / state.lens.focalLengthMm;
  const lens = { ...state.lens, focalLengthMm, actingMm: state.lens.actingMm * scale };
  const moved: CameraState = { ...state, positionM, lens };
  const topM = subjectPointAt(pieces, subject.placement, 'top', atFlicks);
  let turned: HeadAngles = moved;
  for (let i = 0; i < TURNS; i++) {
    const panDeg = panFor({ ...moved, ...turned }, eyesM, Math.max(OUTER, Math.min(1 - OUTER, subject.eyes.x)));
    const tiltDeg = tiltForHeadroom({ ...moved, ...turned, panDeg }, topM, usualHeadroom(size));
    turned = { panDeg, tiltDeg, rollDeg: state.rollDeg };
  }
  return { positionM, panDeg: turned.panDeg, tiltDeg: turned.tiltDeg, focalLengthMm };
}

/** Nobody is left nearer to the frame's side than this, share of its width. */
const OUTER = 0.15;

/** Pan and tilt are found in turns: each moves what the other has set a little. */
const TURNS = 4;

/** Straighter up or down no head is tilted for a composition, degrees. */
const STEEPEST_DEG = 80;

/** Steps in which a turn is looked for, degrees, and how often the last one is halved. */
const STEP_DEG = 5;
const HALVINGS = 48;

/**
 * The tilt at which a point has this much of the frame's height over it: headroom, when it is the top of a head.
 * @param headroom share of the frame's height; negative cuts. @returns degrees, the present tilt where no tilt gives it.
 */
export function tiltForHeadroom(state: CameraState, topM: Vector, headroom: number): number {
  const below = (tiltDeg: number) => {
    const seen = seenTurned(state, topM, { ...state, tiltDeg });
    return seen && seen.y - headroom;
  };
  // Tilting up brings what is seen down.
  return turnWhere(below, state.tiltDeg, -STEEPEST_DEG, STEEPEST_DEG);
}

/** The pan at which a point lies at a share of the frame's width; the present pan where none gives it. */
function panFor(state: CameraState, pointM: Vector, x: number): number {
  const left = (panDeg: number) => {
    const seen = seenTurned(state, pointM, { ...state, panDeg });
    return seen && x - seen.x;
  };
  return turnWhere(left, state.panDeg, state.panDeg - STEEPEST_DEG, state.panDeg + STEEPEST_DEG);
}

function seenTurned(state: CameraState, pointM: Vector, { panDeg, tiltDeg, rollDeg }: HeadAngles) {
  const pose = { positionM: state.positionM, quaternion: rotationOf({ panDeg, tiltDeg, rollDeg }) };
  return projectPoint(pointM, pose, projectedLens(state), deliveredWindow(state));
}

/** The angle between `least` and `most` at which a rising measure is nought, looked for from the present one on. */
function turnWhere(measure: (deg: number) => number | undefined, nowDeg: number, least: number, most: number): number {
  const now = measure(nowDeg);
  if (now === undefined) return nowDeg;
  const step = now < 0 ? STEP_DEG : -STEP_DEG;
  let [from, to] = [nowDeg, nowDeg];
  for (let there: number | undefined = now; there !== undefined && there < 0 === now < 0; there = measure(to)) {
    [from, to] = [to, to + step];
    if (to < least || to > most) return nowDeg;
  }
  if (measure(to) === undefined) return nowDeg;
  let [low, high] = step > 0 ? [from, to] : [to, from];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if ((measure(middle) ?? 0) < 0) low = middle;
    else high = middle;
  }
  return (low + high) / 2;
}

/** The focus distance that leaves the plane of focus where it is in the world once the camera stands elsewhere, metres. */
export function focusKept({ positionM, quaternion, focus }: CameraState, toM: Vector): number {
  const forward = turned([0, 0, -1], quaternion);
  return focus.distanceM - dot(difference(toM, positionM), forward);
}
