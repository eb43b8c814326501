import type { Curve, Key, KeyMapping } from '../../curve';
import { mapKeys, reversed, spanOf } from '../../curve';
import { CoreError } from '../../error';
import type { Move, Operation, Placement, PlacementMotion, Project } from '../../model';
import { existing, moveOf } from '../../model';
import { FLICKS_PER_SECOND, flicksPerFrame, framesInFlicks } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { moveOperations } from './curves';

const allTimes = (curve: Curve): ReadonlySet<number> => new Set(curve.map((key) => key.atFlicks));

/** First and last moment of a camera's move, marks counted. @throws CoreError when it has none. */
export function moveSpan(project: Project, cameraId: string): readonly [number, number] {
  const move = moveOf(project, cameraId);
  const span = move && spanOf(move.curves);
  if (!span)
    throw new CoreError('unknown-entity', `${existing(project, 'camera', cameraId).name} has no move yet.`, 'move');
  return span;
}

/** Maps all times of a move: its keys, and its marks with them. */
export function mappedMove(
  move: Move,
  mapping: KeyMapping,
  snap?: (flicks: number) => number,
): Pick<Move, 'curves' | 'marks'> {
  const { timeScale = 1, aboutFlicks = 0, shiftFlicks = 0 } = mapping;
  const round = snap ?? Math.round;
  const curves = Object.fromEntries(
    Object.entries(move.curves).map(([channel, curve]) => [
      channel,
      [...mapKeys(curve, allTimes(curve), mapping, round)],
    ]),
  );
  const marks = move.marks.map((mark) => ({
    ...mark,
    atFlicks: Math.max(0, round(aboutFlicks + (mark.atFlicks - aboutFlicks) * timeScale + shiftFlicks)),
  }));
  return { curves, marks };
}

/** Whether subjects that move are retimed with the camera, or go on as they do. */
export interface RetimeOptions {
  readonly subjectsFollow: boolean;
}

/** Stretches a camera's move to another length, its first key staying where it is. Keys land on whole frames. */
export function stretchMove(
  project: Project,
  cameraId: string,
  lengthFlicks: number,
  { subjectsFollow }: RetimeOptions,
): Edit {
  const [first, last] = moveSpan(project, cameraId);
  const frame = flicksPerFrame(project.head.rate);
  if (!(lengthFlicks >= frame)) throw new CoreError('out-of-range', 'A move lasts at least one frame.', 'length');
  if (last === first) throw new CoreError('out-of-range', 'One key has no length. Set another one first.', 'length');
  const whole = Math.round(lengthFlicks / frame) * frame;
  const mapping = { timeScale: whole / (last - first), aboutFlicks: first };
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const onFrames = (flicks: number) => Math.round((flicks - first) / frame) * frame + first;
  const parts = mappedMove(move, mapping, onFrames);
  return {
    name: `Stretch the move of ${existing(project, 'camera', cameraId).name} to ${framesInFlicks(whole, project.head.rate)} frames`,
    operations: [
      patching(project, 'move', move.id, parts),
      ...(subjectsFollow ? retimedSubjects(project, mapping) : []),
    ],
  };
}

/** Moves a whole move to another time. */
export function shiftMove(
  project: Project,
  cameraId: string,
  byFlicks: number,
  { subjectsFollow }: RetimeOptions,
): Edit {
  const [first] = moveSpan(project, cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const mapping = { shiftFlicks: Math.max(-first, Math.round(byFlicks)) };
  return {
    name: `Begin the move of ${existing(project, 'camera', cameraId).name} at another time`,
    operations: [
      patching(project, 'move', move.id, mappedMove(move, mapping)),
      ...(subjectsFollow ? retimedSubjects(project, mapping) : []),
    ],
  };
}

/** Lets a move run backward over the same stretch of time. */
export function reverseMove(project: Project, cameraId: string): Edit {
  const [first, last] = moveSpan(project, cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  // Each curve is turned about the middle of the whole move, not of itself.
  const curves = Object.fromEntries(
    Object.entries(move.curves).map(([channel, curve]) => {
      const keys = reversed(curve, allTimes(curve));
      const [from, to] = [curve[0]?.atFlicks ?? 0, curve.at(-1)?.atFlicks ?? 0];
      const shift = first + last - (from + to);
      return [channel, keys.map((key): Key => ({ ...key, atFlicks: key.atFlicks + shift }))];
    }),
  );
  const marks = move.marks.map((mark) => ({ ...mark, atFlicks: first + last - mark.atFlicks }));
  const name = `Reverse the move of ${existing(project, 'camera', cameraId).name}`;
  return { name, operations: [patching(project, 'move', move.id, { curves, marks })] };
}

/**
 * Lets a move begin at `from` and end at `to` times its even speed, in the same length: a key at both ends and one in the
 * middle of the channel `timeWarp`, which can be edited further like any other.
 */
export function rampMove(project: Project, cameraId: string, from: number, to: number): Edit {
  const [first, last] = moveSpan(project, cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  if (!(from >= 0 && to >= 0 && from + to > 0)) {
    throw new CoreError('out-of-range', 'Speeds are 0 or more, and not both 0.', 'speed');
  }
  const span = last - first;
  const seconds = (flicks: number) => flicks / FLICKS_PER_SECOND;
  // Speed falls or rises evenly from a to b, scaled so that the whole is covered: a cubic with these end slopes.
  const scale = 2 / (from + to);
  const third = Math.round(span / 3);
  const timeWarp: Curve = [
    {
      atFlicks: first,
      value: seconds(first),
      shape: 'free',
      in: { flicks: 0, value: 0 },
      out: { flicks: third, value: seconds(third) * from * scale },
    },
    {
      atFlicks: last,
      value: seconds(last),
      shape: 'free',
      out: { flicks: 0, value: 0 },
      in: { flicks: -third, value: -seconds(third) * to * scale },
    },
  ];
  return {
    name: `Speed curve on ${existing(project, 'camera', cameraId).name}`,
    operations: moveOperations(project, cameraId, { curves: { ...move.curves, timeWarp } }),
  };
}

export function retimedSubjects(project: Project, mapping: KeyMapping): Operation[] {
  return Object.values(project.placements).flatMap((placement) => {
    const parts = retimedPlacement(placement, mapping);
    return parts ? [patching(project, 'placement', placement.id, parts)] : [];
  });
}

function retimedPlacement({ motion, clip }: Placement, mapping: KeyMapping): Partial<Placement> | undefined {
  const { timeScale = 1, aboutFlicks = 0, shiftFlicks = 0 } = mapping;
  const at = (flicks: number) => Math.round(aboutFlicks + (flicks - aboutFlicks) * timeScale + shiftFlicks);
  const parts: { motion?: PlacementMotion; clip?: Placement['clip'] } = {};
  if (motion.kind === 'keys') {
    const curves = Object.fromEntries(
      Object.entries(motion.curves).map(([channel, curve]) => [channel, [...mapKeys(curve, allTimes(curve), mapping)]]),
    ) as typeof motion.curves;
    parts.motion = { ...motion, curves };
  } else if (motion.kind === 'path') {
    parts.motion = {
      ...motion,
      startFlicks: Math.max(0, at(motion.startFlicks)),
      speedMps: motion.speedMps / timeScale,
    };
  }
  if (clip) parts.clip = { ...clip, startFlicks: at(clip.startFlicks), rate: clip.rate / timeScale };
  return Object.keys(parts).length > 0 ? parts : undefined;
}
