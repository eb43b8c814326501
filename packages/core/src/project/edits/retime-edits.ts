import { CoreError } from '../../core-error';
import type { CameraValues } from '../../motion/camera-at';
import { channelValuesAt } from '../../motion/camera-at';
import type { Channel, NamedChannel } from '../../motion/channel';
import type { Curve, Key } from '../../motion/curve';
import type { KeyMapping } from '../../motion/curve-tools';
import { mapKeys, reversed } from '../../motion/curve-tools';
import { spanOf } from '../../motion/path-of';
import type { PlacementMotion } from '../../set/placement-motion';
import type { Rate } from '../../time/rate';
import { FLICKS_PER_SECOND, flicksPerFrame, framesInFlicks, framesPerSecond, rateLabel } from '../../time/rate';
import type { Operation } from '../change';
import type { Camera, Move, Placement } from '../entities';
import type { Project } from '../project';
import { moveOf } from '../project';
import type { Edit } from './edit';
import { existing, patching } from './edit';
import type { Curves } from './move-edits';
import { moveOperations, restingParts } from './move-edits';

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
function mappedMove(
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
 * middle of the channel `moveTime`, which can be edited further like any other.
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
  const moveTime: Curve = [
    {
      ...{ atFlicks: first, value: seconds(first), shape: 'free', in: { flicks: 0, value: 0 } },
      out: { flicks: third, value: seconds(third) * from * scale },
    },
    {
      ...{ atFlicks: last, value: seconds(last), shape: 'free', out: { flicks: 0, value: 0 } },
      in: { flicks: -third, value: -seconds(third) * to * scale },
    },
  ];
  return {
    name: `Speed curve on ${existing(project, 'camera', cameraId).name}`,
    operations: moveOperations(project, cameraId, move.id, { curves: { ...move.curves, moveTime } }),
  };
}

function retimedSubjects(project: Project, mapping: KeyMapping): Operation[] {
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

/** What a change of rate keeps: how long things last, or how many frames. */
export type RateKeeps = 'seconds' | 'frames';

/** What a change of rate does to one thing, for the preview. */
export interface RateEffect {
  readonly what: string;
  readonly framesBefore: number;
  readonly framesAfter: number;
  readonly secondsBefore: number;
  readonly secondsAfter: number;
}

/** How long the shots last at another rate, by both ways of keeping. */
export function rateEffects(project: Project, rate: Rate, keep: RateKeeps): RateEffect[] {
  const shots = Object.values(project.shots).sort((a, b) => a.order - b.order);
  return shots.map(({ name, durationFlicks }) => {
    const framesBefore = framesInFlicks(durationFlicks, project.head.rate);
    const framesAfter = keep === 'frames' ? framesBefore : Math.max(1, framesInFlicks(durationFlicks, rate));
    return {
      what: name,
      framesBefore,
      framesAfter,
      secondsBefore: framesBefore / framesPerSecond(project.head.rate),
      secondsAfter: framesAfter / framesPerSecond(rate),
    };
  });
}

/**
 * Gives the project another frame rate. Keeping seconds leaves every key where it is in time and rounds shots to whole
 * frames; keeping frames moves every key so that it stays on its frame number.
 */
export function changeRate(project: Project, rate: Rate, keep: RateKeeps, { subjectsFollow }: RetimeOptions): Edit {
  const scale = flicksPerFrame(rate) / flicksPerFrame(project.head.rate);
  const frame = flicksPerFrame(rate);
  const mapping = { timeScale: keep === 'frames' ? scale : 1 };
  const time = (flicks: number) => Math.round((flicks * mapping.timeScale) / frame) * frame;
  const operations: Operation[] = [patching(project, 'project', project.head.id, { rate: { ...rate } })];
  for (const shot of Object.values(project.shots)) {
    const timed = {
      sceneStartFlicks: time(shot.sceneStartFlicks),
      durationFlicks: Math.max(frame, time(shot.durationFlicks)),
    };
    operations.push(patching(project, 'shot', shot.id, timed));
  }
  if (keep === 'frames') {
    for (const move of Object.values(project.moves)) {
      operations.push(patching(project, 'move', move.id, mappedMove(move, mapping)));
    }
    if (subjectsFollow) operations.push(...retimedSubjects(project, mapping));
  }
  return { name: `${rateLabel(rate)} frames a second, ${keep} kept`, operations };
}

/** How a copied move is laid: at the same places of the world, or begun from where the other camera stands. */
export type CopyHow = 'world' | 'relative';

const POSITION: readonly NamedChannel[] = ['positionX', 'positionY', 'positionZ'];
const HEAD: readonly NamedChannel[] = ['pan', 'tilt', 'roll'];

/** Channels of a move in the groups that people copy. */
export const COPY_GROUPS = {
  place: [
    ...POSITION,
    'rigX',
    'rigY',
    'rigZ',
    'rigTurn',
    'along',
    'swing',
    'pitch',
    'arm',
    'orbit',
    'radius',
    'height',
    'offsetX',
    'offsetY',
    'offsetZ',
  ],
  head: [...HEAD, 'aimX', 'aimY', 'aimZ', 'aimAlong'],
  lens: ['focalLength', 'shiftX', 'shiftY'],
  focus: ['focusDistance', 'fStop'],
  exposure: ['ev'],
} as const satisfies Record<string, readonly Channel[]>;
export type CopyGroup = keyof typeof COPY_GROUPS;

/**
 * Copies a move, or groups of its channels, to other cameras; with its place go the rig and, with its head, the aim. Relative
 * to where the other camera stands, the whole move is carried over and turned so that it begins there.
 */
export function copyMove(
  project: Project,
  fromId: string,
  to: readonly { readonly cameraId: string; readonly moveId: string }[],
  groups: readonly CopyGroup[],
  how: CopyHow,
): Edit {
  const from = existing(project, 'camera', fromId);
  const [first] = moveSpan(project, fromId);
  const source = existing(project, 'move', moveOf(project, fromId)?.id ?? fromId);
  const channels = new Set<string>(groups.flatMap((group): readonly string[] => COPY_GROUPS[group]));
  const operations = to.flatMap(({ cameraId, moveId }) => {
    const camera = existing(project, 'camera', cameraId);
    const start = channelValuesAt(from, source, first);
    const here = channelValuesAt(camera, moveOf(project, cameraId), first);
    const carry = how === 'relative' ? carrying(start, here, groups) : (_: string, curve: Curve) => curve;
    const copied = Object.entries(source.curves).filter(([channel]) => channels.has(channel));
    const whole = Object.fromEntries(copied) as Curves;
    const curves: Record<string, Curve> = { ...moveOf(project, cameraId)?.curves };
    for (const [channel] of copied) curves[channel] = carry(channel, whole[channel] ?? [], whole);
    const parts: Partial<Camera> = {
      ...(groups.includes('place') && from.rig.kind !== 'sticks' && { rig: from.rig }),
      ...(groups.includes('head') && from.aim.kind !== 'free' && { aim: from.aim }),
      ...restingParts(camera, {}),
    };
    return [
      ...(Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : []),
      ...moveOperations(project, cameraId, moveId, {
        curves,
        after: { ...moveOf(project, cameraId)?.after, ...source.after },
      }),
    ];
  });
  return {
    name: `Copy the move of ${from.name} to ${to.length} ${to.length === 1 ? 'camera' : 'cameras'}`,
    operations,
  };
}

/** Carries curves of a place over to another start, turned with the difference of the pans. */
function carrying(start: CameraValues, here: CameraValues, groups: readonly CopyGroup[]) {
  const turnDeg = groups.includes('head') ? here.pan - start.pan : 0;
  const angle = (turnDeg * Math.PI) / 180;
  const [cos, sin] = [Math.cos(angle), Math.sin(angle)];
  return (channel: string, curve: Curve, whole: Curves): Curve => {
    const offset = here[channel as NamedChannel] - start[channel as NamedChannel];
    const flat = channel === 'positionX' || channel === 'positionZ';
    if (!flat) {
      if (channel === 'positionY' || HEAD.includes(channel as NamedChannel)) return shifted(curve, offset);
      return curve;
    }
    const other = whole[channel === 'positionX' ? 'positionZ' : 'positionX'] ?? [];
    const partner = new Map(other.map((key) => [key.atFlicks, key]));
    const otherStart = channel === 'positionX' ? start.positionZ : start.positionX;
    const sign = channel === 'positionX' ? -1 : 1;
    return curve.map((key) => {
      const mate = partner.get(key.atFlicks);
      const mix = (own: number, others: number) => own * cos + sign * others * sin;
      const handle = (side: 'in' | 'out') =>
        key[side] && { flicks: key[side].flicks, value: mix(key[side].value, mate?.[side]?.value ?? 0) };
      const [into, out] = [handle('in'), handle('out')];
      const own = key.value - start[channel];
      const value = here[channel] + mix(own, (mate?.value ?? otherStart) - otherStart);
      return { ...key, value, ...(into && { in: into }), ...(out && { out }) };
    });
  };
}

function shifted(curve: Curve, by: number): Curve {
  return curve.map((key) => ({ ...key, value: key.value + by }));
}
