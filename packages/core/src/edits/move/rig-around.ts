import type { CameraState } from '../../camera';
import { ahead, steadyAt } from '../../camera';
import { CoreError } from '../../error';
import type { Placement, Project, Rig, RigKind, RigOf } from '../../model';
import { existing, moveOf, RIG_DEFAULTS } from '../../model';
import { subjectPointAt, subjectsIn } from '../../set';
import type { Vector } from '../../space';
import { distanceBetween, inverseRotation, rotationOf, turned } from '../../space';
import { flicksPerFrame } from '../../time';
import { keyTimes, seenAtClock } from './change-rig';
import { trackThrough } from './track-through';

/** Length of a new rail without marks to lead it, and how far behind the camera a crane's base stands, metres. */
const NEW_RAIL_M = 4;

const NEW_ARM_M = 5;

/**
 * The rig that would hold a camera where it is: a rail under its marks or beside its view, a crane behind it, an orbit round
 * its subject or what it is focused on, a follower of its subject.
 * @param groundM height of the ground under the camera.
 */
export function rigAround(project: Project, cameraId: string, kind: RigKind, atFlicks: number, groundM = 0): Rig {
  const state = steadyAt(project, cameraId, atFlicks);
  if (kind === 'sticks') return { kind };
  if (kind === 'rail') return railUnder(project, cameraId, state, groundM);
  if (kind === 'crane') {
    const [fx, , fz] = turned([0, 0, -1], rotationOf({ panDeg: state.panDeg, tiltDeg: 0, rollDeg: 0 }));
    const [x, y, z] = state.positionM;
    const atM: Vector = [x - fx * NEW_ARM_M, Math.min(groundM, y), z - fz * NEW_ARM_M];
    const { columnM, riserM } = RIG_DEFAULTS;
    return { kind, ...RIG_DEFAULTS.base, atM, columnM, riserM, swingDeg: 0, pitchDeg: 0, armM: NEW_ARM_M };
  }
  const subject = centreOf(project, cameraId, state);
  if (kind === 'orbit') {
    const atM = subject ? RIG_DEFAULTS.base.atM : [...ahead(state)];
    const middle = { subjectId: subject?.id ?? null, point: subject?.point ?? ('middle' as const) };
    const rest = { ...RIG_DEFAULTS.base, atM: atM as Vector };
    return { kind, ...rest, ...middle, angleDeg: 0, radiusM: 1, heightM: 0 };
  }
  const { id: subjectId, point } = subject ?? nearestSight(project, state, atFlicks);
  return { kind, ...RIG_DEFAULTS.base, subjectId, point, axes: 'world', offsetM: [0, 0, 0], lagS: 0.3 };
}

/** The subject that is seen nearest the middle of the picture; what lies behind the camera comes last. */
function nearestSight(project: Project, state: CameraState, atFlicks: number): SubjectOf {
  const inverse = inverseRotation(state.quaternion);
  const [x, y, z] = state.positionM;
  const aside = (one: Placement) => {
    const at = subjectPointAt(project, one, 'eyes', atFlicks);
    const [right, up, back] = turned([at[0] - x, at[1] - y, at[2] - z], inverse);
    return Math.atan2(Math.hypot(right, up), -back);
  };
  const [nearest] = subjectsIn(project).sort((a, b) => aside(a) - aside(b));
  if (nearest) return { id: nearest.id, point: 'eyes' };
  throw new CoreError('unknown-entity', 'There is nobody to follow: make something in the set a subject first.', 'rig');
}

interface SubjectOf {
  readonly id: string;
  readonly point: RigOf<'orbit'>['point'];
}

/** Whom a camera is about: its aim, whom its focus follows, or whom its framing names. */
function centreOf(project: Project, cameraId: string, state: CameraState): SubjectOf | undefined {
  const { aim, focus, framing } = existing(project, 'camera', cameraId);
  if (aim.kind === 'subject' && project.placements[aim.placementId]) return { id: aim.placementId, point: aim.point };
  if (state.focus.subjectId !== null) return { id: state.focus.subjectId, point: focus.point };
  const named = framing.subjectId === null ? undefined : project.placements[framing.subjectId];
  return named && { id: named.id, point: 'eyes' };
}

/** How near a new rail's track comes to the way that a camera goes, metres. */
const TRACK_WITHIN_M = 0.05;

/** Frames of a way that are looked at, at most. */
const MOST_LOOKS = 1200;

function railUnder(project: Project, cameraId: string, state: CameraState, groundM: number): Rig {
  const { places, through } = placesOnTheWay(project, cameraId);
  const moves = places.some((place) => distanceBetween(place, places[0] as Vector) > 0.01);
  const [rx, , rz] = turned([1, 0, 0], rotationOf({ panDeg: state.panDeg, tiltDeg: 0, rollDeg: 0 }));
  const [x, y, z] = state.positionM;
  const beside = (metres: number): Vector => [x + rx * metres, y, z + rz * metres];
  const { nodesM: track, closed } = moves
    ? trackThrough(places, { withinM: TRACK_WITHIN_M }, through)
    : { nodesM: [beside(-NEW_RAIL_M / 2), beside(NEW_RAIL_M / 2)], closed: false };
  // The track lies on the ground under its lowest place where all are at one height; else it hangs where the camera is.
  const level = track.every(([, height]) => Math.abs(height - y) < 0.05) && y > groundM;
  const cameraM: Vector = [0, level ? y - groundM : 0, 0];
  const nodesM = track.map(([nx, ny, nz]): Vector => [nx, ny - cameraM[1], nz]);
  return { kind: 'rail', ...RIG_DEFAULTS.base, nodesM, straight: [], closed, by: 'distance', along: 0, cameraM };
}

/** Keys of which there are more than this were not set by hand: a track goes near them, not through each. */
const MOST_BY_HAND = 12;

/** Where the camera is, frame by frame, while something that is keyed brings it to a place; and the places it was composed at. */
function placesOnTheWay(project: Project, cameraId: string): { places: Vector[]; through: Vector[] } {
  const times = keyTimes(project, cameraId);
  const [from, to] = [times[0], times.at(-1)];
  if (from === undefined || to === undefined || from === to) return { places: [], through: [] };
  const marked = (moveOf(project, cameraId)?.marks ?? [])
    .filter(({ leftOut }) => !leftOut)
    .map(({ atFlicks }) => atFlicks);
  const composed = new Set(times.length > MOST_BY_HAND ? marked.filter((at) => at >= from && at <= to) : times);
  const looks = Math.max(2, Math.min(MOST_LOOKS, Math.ceil((to - from) / flicksPerFrame(project.head.rate)) * 2));
  const moments = Array.from({ length: looks + 1 }, (_, i) => Math.round(from + ((to - from) * i) / looks));
  const all = [...new Set([...moments, ...composed])].sort((a, b) => a - b);
  const through: Vector[] = [];
  const places = all.map((at) => {
    const place = [...seenAtClock(project, cameraId, at).state.positionM] as Vector;
    const known = through.some((one) => distanceBetween(one, place) < 0.01);
    if (composed.has(at) && !known) through.push(place);
    return place;
  });
  return { places, through };
}
