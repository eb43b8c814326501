import { channelValuesAt, clockAt, restingParts, seenValue } from '../../camera';
import type { AfterLast, Curve, Key } from '../../curve';
import { dividedAt, keyIndexAt, shapedKeys, spanOf, withKey } from '../../curve';
import { CoreError } from '../../error';
import type { Channel, ChannelValues, Move, Operation, Project } from '../../model';
import { boundsOf, CHANNEL_FACES, channelFace, existing, isLightChannel, moveOf, TURNING } from '../../model';
import { unwrappedNear } from '../../space';
import { FLICKS_PER_SECOND } from '../../time';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';

/** Curves by channel. */
export type Curves = Readonly<Record<string, Curve>>;

type MoveParts = Partial<Pick<Move, 'marks' | 'after'>> & { readonly curves?: Curves };

/**
 * The operations that change a camera's move; it is made when there is none, and goes when nothing is left of it. Its id is the
 * camera's, so that two who begin to move the same camera at once meet in one move.
 */
export function moveOperations(project: Project, cameraId: string, parts: MoveParts): Operation[] {
  const move = moveOf(project, cameraId);
  const curves = withinBounds(withoutEmpty(parts.curves ?? move?.curves ?? {}), move?.curves ?? {});
  const marks = parts.marks ?? move?.marks ?? [];
  const after = parts.after ?? move?.after ?? {};
  if (Object.keys(curves).length === 0 && marks.length === 0) return move ? [deletion(project, 'move', move.id)] : [];
  const fields = { curves: curves as Move['curves'], marks, after };
  return [move ? patching(project, 'move', move.id, fields) : creation('move', { id: cameraId, cameraId, ...fields })];
}

function withoutEmpty(curves: Curves): Curves {
  return Object.fromEntries(Object.entries(curves).filter(([, curve]) => curve.length > 0));
}

/** Curves whose keys have values that their channels can have: what was changed is brought within them. */
function withinBounds(curves: Curves, before: Curves): Curves {
  const entries = Object.entries(curves).map(([channel, curve]): [string, Curve] => {
    const { min, max } = boundsOf(channel as Channel);
    const within = curve === before[channel] || curve.every(({ value }) => value >= min && value <= max);
    const clamp = (value: number) => Math.max(min, Math.min(max, value));
    return [channel, within ? curve : curve.map((key) => ({ ...key, value: clamp(key.value) }))];
  });
  return Object.fromEntries(entries);
}

/**
 * Replaces some curves of a camera's move; an empty one goes, and what it moved rests where `atFlicks` has it.
 * @param marks the move's marks where they go along; they stay where they are left out.
 */
export function setCurves(
  project: Project,
  cameraId: string,
  what: string,
  curves: Curves,
  atFlicks: number,
  marks?: Move['marks'],
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const values = channelValuesAt(camera, move, atFlicks);
  const gone = Object.entries(curves).flatMap(([channel, curve]) => (curve.length === 0 ? [channel as Channel] : []));
  const resting = Object.fromEntries(gone.map((channel) => [channel, values[channel]])) as ChannelValues;
  const parts = restingParts(camera, resting);
  return {
    name: `${what} on ${camera.name}`,
    operations: [
      ...moveOperations(project, cameraId, { curves: { ...move?.curves, ...curves }, ...(marks && { marks }) }),
      ...(gone.length > 0 && Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : []),
    ],
  };
}

/** Says what a curve does after its last key. */
export function setAfter(project: Project, cameraId: string, channel: Channel, after: AfterLast): Edit {
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const words = { stay: 'Stay', repeat: 'Repeat', onward: 'Go on' }[after];
  const operations = [patching(project, 'move', move.id, { after: { ...move.after, [channel]: after } })];
  return { name: `${words} after the last key on ${existing(project, 'camera', cameraId).name}`, operations };
}

/**
 * Keys some channels of a camera at a scene time. Angles are written with the whole turns that are nearest to the key before.
 * @throws CoreError `out-of-range` for a value that its channel cannot have.
 */
export function keyChannels(
  project: Project,
  cameraId: string,
  values: ChannelValues,
  atFlicks: number,
  what = 'Key',
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const { timeWarp: _clock, ...others } = values;
  const { curves: before, clockFlicks } =
    Object.keys(others).length > 0 ? keyable(moveOf(project, cameraId), atFlicks) : asItIs(project, cameraId, atFlicks);
  const curves: Record<string, Curve> = { ...before };
  for (const [channel, value] of Object.entries(values) as [Channel, number][]) {
    mustBeWithin(channel, value);
    const time = channel === 'timeWarp' ? atFlicks : clockFlicks;
    curves[channel] = withKey(curves[channel] ?? [], keyNear(curves[channel] ?? [], channel, time, value));
  }
  return { name: `${what} on ${camera.name}`, operations: moveOperations(project, cameraId, { curves }) };
}

const asItIs = (project: Project, cameraId: string, atFlicks: number) => ({
  curves: moveOf(project, cameraId)?.curves ?? {},
  clockFlicks: atFlicks,
});

/** @throws CoreError `out-of-range` for a value that its channel cannot have, with the ends of what it can. */
function mustBeWithin(channel: Channel, value: number): void {
  const { min, max } = boundsOf(channel);
  if (value >= min && value <= max) return;
  const name = isLightChannel(channel) ? 'light' : CHANNEL_FACES[channel].name;
  throw new CoreError('out-of-range', `A key of ${name} lies between ${min} and ${max}.`, channel);
}

/**
 * The curves of a move made ready for a key at a scene time, and the time of its clock at which that key stands. A speed curve
 * stands still before its first and after its last key: it is led on at an even pace, so that what is keyed there is seen there.
 */
export function keyable(
  move: Pick<Move, 'curves'> | undefined,
  sceneFlicks: number,
): { readonly curves: Curves; readonly clockFlicks: number } {
  const curves: Curves = move?.curves ?? {};
  const { timeWarp } = curves;
  const [first, last] = [timeWarp?.[0], timeWarp?.at(-1)];
  if (!timeWarp || !first || !last) return { curves, clockFlicks: sceneFlicks };
  const end = sceneFlicks < first.atFlicks ? first : sceneFlicks > last.atFlicks ? last : undefined;
  const led = end
    ? ledOn(timeWarp, end, {
        atFlicks: sceneFlicks,
        value: end.value + (sceneFlicks - end.atFlicks) / FLICKS_PER_SECOND,
      })
    : timeWarp;
  const next = { ...curves, timeWarp: led };
  return { curves: next, clockFlicks: clockAt({ curves: next }, sceneFlicks) };
}

/** A curve with a new end, a straight way from its old one; up to there it keeps its form. */
function ledOn(curve: Curve, end: Key, to: Pick<Key, 'atFlicks' | 'value'>): Curve {
  const third = { flicks: Math.round((to.atFlicks - end.atFlicks) / 3), value: (to.value - end.value) / 3 };
  const back = { flicks: -third.flicks, value: -third.value };
  const after = to.atFlicks > end.atFlicks;
  const [pinned] = shapedKeys(curve, new Set([end.atFlicks]), 'free').filter((key) => key.atFlicks === end.atFlicks);
  const [joint, tip]: [Key, Key] = after
    ? [
        { ...(pinned ?? end), out: third },
        { ...to, shape: 'free', in: back, out: NO_HANDLE },
      ]
    : [
        { ...(pinned ?? end), in: third },
        { ...to, shape: 'free', in: NO_HANDLE, out: back },
      ];
  return withKey(withKey(shapedKeys(curve, new Set([end.atFlicks]), 'free'), joint), tip);
}

const NO_HANDLE = { flicks: 0, value: 0 };

/**
 * Keys one channel as it is seen at a time, so that nothing changes: in the middle of a way the way keeps its form. The first key
 * of a speed curve comes with one at either end of the move: by itself it would stop the clock.
 */
export function keyHere(project: Project, cameraId: string, channel: Channel, atFlicks: number): Edit {
  const what = `Key ${channelFace(channel, project.lightGroups).name}`;
  const move = moveOf(project, cameraId);
  const curves: Curves = move?.curves ?? {};
  const span = channel === 'timeWarp' && !curves['timeWarp'] ? spanOf(curves) : undefined;
  if (span) {
    const evenly = [...new Set([...span, atFlicks])].sort((a, b) => a - b);
    const keys = evenly.map((flicks): Key => ({
      atFlicks: flicks,
      value: flicks / FLICKS_PER_SECOND,
      shape: 'linear',
    }));
    return setCurves(project, cameraId, what, { timeWarp: keys }, atFlicks);
  }
  const ready = channel === 'timeWarp' ? { curves, clockFlicks: atFlicks } : keyable(move, atFlicks);
  const curve = ready.curves[channel];
  const inside = curve && insideOf(curve, ready.clockFlicks);
  if (!inside) {
    return keyChannels(
      project,
      cameraId,
      { [channel]: seenValue(project, cameraId, channel, atFlicks) },
      atFlicks,
      what,
    );
  }
  const divided = { ...ready.curves, [channel]: dividedAt(curve, ready.clockFlicks) };
  return {
    name: `${what} on ${existing(project, 'camera', cameraId).name}`,
    operations: moveOperations(project, cameraId, { curves: divided }),
  };
}

/** Whether a time lies between the first and the last key of a curve, at none of them. */
function insideOf(curve: Curve, flicks: number): boolean {
  const [first, last] = [curve[0]?.atFlicks ?? Infinity, curve.at(-1)?.atFlicks ?? -Infinity];
  return flicks > first && flicks < last && curve[keyIndexAt(curve, flicks)]?.atFlicks !== flicks;
}

/** A smooth key whose angle goes on from the key before it. */
export function keyNear(curve: Curve, channel: Channel, atFlicks: number, value: number): Key {
  const index = keyIndexAt(curve, atFlicks);
  const there = curve[index]?.atFlicks === atFlicks ? curve[index] : undefined;
  const neighbour = there ?? curve[Math.max(0, index)];
  const near = TURNING.has(channel) && neighbour ? unwrappedNear(value, neighbour.value) : value;
  return there ? { ...there, value: near } : { atFlicks, value: near, shape: 'smooth' };
}

/** Takes all movement from a camera: it rests as it is at a time. */
export function stillMove(project: Project, cameraId: string, atFlicks: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const parts = restingParts(camera, channelValuesAt(camera, move, atFlicks));
  const rest = Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : [];
  return { name: `Take the move from ${camera.name}`, operations: [deletion(project, 'move', move.id), ...rest] };
}
