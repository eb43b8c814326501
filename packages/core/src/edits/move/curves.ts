import { channelValuesAt, restingParts, seenValue } from '../../camera';
import type { AfterLast, Curve, Key } from '../../curve';
import { keyIndexAt, spanOf, withKey } from '../../curve';
import { CoreError } from '../../error';
import type { Channel, ChannelValues, Move, Operation, Project } from '../../model';
import { channelFace, existing, moveOf, TURNING } from '../../model';
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
  const curves = withoutEmpty(parts.curves ?? move?.curves ?? {});
  const marks = parts.marks ?? move?.marks ?? [];
  const after = parts.after ?? move?.after ?? {};
  if (Object.keys(curves).length === 0 && marks.length === 0) return move ? [deletion(project, 'move', move.id)] : [];
  const fields = { curves: curves as Move['curves'], marks, after };
  return [move ? patching(project, 'move', move.id, fields) : creation('move', { id: cameraId, cameraId, ...fields })];
}

function withoutEmpty(curves: Curves): Curves {
  return Object.fromEntries(Object.entries(curves).filter(([, curve]) => curve.length > 0));
}

/** Replaces some curves of a camera's move; an empty one goes, and what it moved rests where `atFlicks` has it. */
export function setCurves(project: Project, cameraId: string, what: string, curves: Curves, atFlicks: number): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const values = channelValuesAt(camera, move, atFlicks);
  const gone = Object.entries(curves).flatMap(([channel, curve]) => (curve.length === 0 ? [channel as Channel] : []));
  const resting = Object.fromEntries(gone.map((channel) => [channel, values[channel]])) as ChannelValues;
  const parts = restingParts(camera, resting);
  return {
    name: `${what} on ${camera.name}`,
    operations: [
      ...moveOperations(project, cameraId, { curves: { ...move?.curves, ...curves } }),
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

/** Keys some channels of a camera at a time. Angles are written with the whole turns that are nearest to the key before. */
export function keyChannels(
  project: Project,
  cameraId: string,
  values: ChannelValues,
  atFlicks: number,
  what = 'Key',
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const curves: Record<string, Curve> = { ...moveOf(project, cameraId)?.curves };
  for (const [channel, value] of Object.entries(values) as [Channel, number][]) {
    if (!Number.isFinite(value)) throw new CoreError('out-of-range', `${channel} needs a number to be keyed.`, channel);
    curves[channel] = withKey(curves[channel] ?? [], keyNear(curves[channel] ?? [], channel, atFlicks, value));
  }
  return { name: `${what} on ${camera.name}`, operations: moveOperations(project, cameraId, { curves }) };
}

/**
 * Keys one channel as it is seen at a time, so that nothing changes. The first key of a speed curve comes with one at
 * either end of the move: by itself it would stop the clock.
 */
export function keyHere(project: Project, cameraId: string, channel: Channel, atFlicks: number): Edit {
  const what = `Key ${channelFace(channel, project.lightGroups).name}`;
  const curves = moveOf(project, cameraId)?.curves ?? {};
  const span = channel === 'timeWarp' && !curves['timeWarp'] ? spanOf(curves) : undefined;
  if (!span)
    return keyChannels(
      project,
      cameraId,
      { [channel]: seenValue(project, cameraId, channel, atFlicks) },
      atFlicks,
      what,
    );
  const evenly = [...new Set([...span, atFlicks])].sort((a, b) => a - b);
  const keys = evenly.map((flicks): Key => ({ atFlicks: flicks, value: flicks / FLICKS_PER_SECOND, shape: 'linear' }));
  return setCurves(project, cameraId, what, { timeWarp: keys }, atFlicks);
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
