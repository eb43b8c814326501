import { clockSpanOf, sceneSpanOf } from '../../camera';
import type { Curve } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Operation, Project } from '../../model';
import { existing, moveOf } from '../../model';
import { FLICKS_PER_SECOND, flicksPerFrame, framesInFlicks } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { moveOperations } from './curves';
import type { TimeMapping } from './map-times';
import { mappedCamera, mappedMove, mappedPlacement, mirroredCamera, mirroredMove } from './map-times';

/** First and last moment of a camera's move in its scene, flicks. @throws CoreError when it has none. */
export function moveSpan(project: Project, cameraId: string): readonly [number, number] {
  const span = sceneSpanOf(moveOf(project, cameraId));
  if (!span)
    throw new CoreError('unknown-entity', `${existing(project, 'camera', cameraId).name} has no move yet.`, 'move');
  return span;
}

/** What goes along when time is stretched: the camera's move, the subjects that move, or both. */
export const GOES_ALONG = ['camera', 'subjects', 'both'] as const;

export type GoesAlong = (typeof GOES_ALONG)[number];

export interface RetimeOptions {
  readonly along: GoesAlong;
}

/**
 * Stretches a camera's move to another length of whole frames, its first key staying where it is. Racks and the hand's times go
 * with it. Keys within come to stand where they belong, between frames too: the way in space stays as it is.
 */
export function stretchMove(project: Project, cameraId: string, lengthFlicks: number, { along }: RetimeOptions): Edit {
  const [first, last] = moveSpan(project, cameraId);
  const frame = flicksPerFrame(project.head.rate);
  if (!(lengthFlicks >= frame)) throw new CoreError('out-of-range', 'A move lasts at least one frame.', 'length');
  if (last === first) throw new CoreError('out-of-range', 'One key has no length. Set another one first.', 'length');
  const whole = Math.round(lengthFlicks / frame) * frame;
  const name = `Stretch the move of ${existing(project, 'camera', cameraId).name} to ${framesInFlicks(whole, project.head.rate)} frames`;
  return retimed(project, cameraId, name, { timeScale: whole / (last - first), aboutFlicks: first }, along);
}

/** Moves a whole move to another time, not before the scene begins. */
export function shiftMove(project: Project, cameraId: string, byFlicks: number, { along }: RetimeOptions): Edit {
  const [first] = moveSpan(project, cameraId);
  const name = `Begin the move of ${existing(project, 'camera', cameraId).name} at another time`;
  // What began before the scene already may stay there.
  const shiftFlicks = Math.max(Math.min(0, -first), Math.round(byFlicks));
  return retimed(project, cameraId, name, { shiftFlicks }, along);
}

function retimed(project: Project, cameraId: string, name: string, mapping: TimeMapping, along: GoesAlong): Edit {
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const camera = [
    patching(project, 'move', move.id, mappedMove(move, mapping)),
    ...cameraPatch(project, cameraId, mappedCamera(existing(project, 'camera', cameraId), mapping)),
  ];
  const subjects = along === 'camera' ? [] : retimedSubjects(project, mapping);
  return { name, operations: [...(along === 'subjects' ? [] : camera), ...subjects] };
}

/** Lets a move run backward over the same stretch of time, its racks and its hand with it. */
export function reverseMove(project: Project, cameraId: string): Edit {
  const [first, last] = moveSpan(project, cameraId);
  const camera = existing(project, 'camera', cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const [from, to] = clockSpanOf(move) ?? [first, last];
  const operations = [
    patching(project, 'move', move.id, mirroredMove(move, first + last, from + to)),
    ...cameraPatch(project, cameraId, mirroredCamera(camera, first + last)),
  ];
  return { name: `Reverse the move of ${camera.name}`, operations };
}

/**
 * Lets a move begin at `from` and end at `to` times its even speed, in the same length: a key at both ends of the channel
 * `timeWarp`, which can be edited further like any other. It takes the place of a speed curve that is there.
 */
export function rampMove(project: Project, cameraId: string, from: number, to: number): Edit {
  const [first, last] = moveSpan(project, cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const [clockFirst, clockLast] = clockSpanOf(move) ?? [first, last];
  if (last === first) throw new CoreError('out-of-range', 'One key has no length. Set another one first.', 'speed');
  if (!(from >= 0 && to >= 0 && from + to > 0)) {
    throw new CoreError('out-of-range', 'Speeds are 0 or more, and not both 0.', 'speed');
  }
  const seconds = (flicks: number) => flicks / FLICKS_PER_SECOND;
  // Speed falls or rises evenly from a to b, scaled so that the whole is covered: a cubic with these end slopes.
  const scale = (2 / (from + to)) * ((clockLast - clockFirst) / (last - first));
  const third = Math.round((last - first) / 3);
  const none = { flicks: 0, value: 0 };
  const out = { flicks: third, value: seconds(third) * from * scale };
  const into = { flicks: -third, value: -seconds(third) * to * scale };
  const timeWarp: Curve = [
    { atFlicks: first, value: seconds(clockFirst), shape: 'free', in: none, out },
    { atFlicks: last, value: seconds(clockLast), shape: 'free', in: into, out: none },
  ];
  return {
    name: `Speed curve on ${existing(project, 'camera', cameraId).name}`,
    operations: moveOperations(project, cameraId, { curves: { ...move.curves, timeWarp } }),
  };
}

/** Everything in the set that moves, in another time. */
export function retimedSubjects(project: Project, mapping: TimeMapping): Operation[] {
  return Object.values(project.placements).flatMap((placement) => {
    const parts = mappedPlacement(placement, mapping);
    return parts ? [patching(project, 'placement', placement.id, parts)] : [];
  });
}

/** The operation that gives a camera other times; none where it holds none. */
export function cameraPatch(project: Project, cameraId: string, parts: Partial<Camera>): Operation[] {
  return Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : [];
}
