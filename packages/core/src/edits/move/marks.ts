import { channelValuesAt, markChannels, restingParts, sceneOfMark } from '../../camera';
import type { Curve, Key } from '../../curve';
import { withKey, withoutKey } from '../../curve';
import { CoreError } from '../../error';
import type { Camera, Channel, ChannelValues, Mark, Move, Project } from '../../model';
import { existing, marksInOrder, moveOf } from '../../model';
import { FLICKS_PER_SECOND } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import type { Curves } from './curves';
import { keyable, keyNear, moveOperations } from './curves';

/** `A` to `Z`, then `A2`…: the first letter that no mark has. */
function nextMarkName(marks: readonly Pick<Mark, 'name'>[]): string {
  const taken = new Set(marks.map((mark) => mark.name));
  for (let round = 1; ; round++) {
    for (let letter = 65; letter <= 90; letter++) {
      const name = String.fromCharCode(letter) + (round === 1 ? '' : String(round));
      if (!taken.has(name)) return name;
    }
  }
}

/**
 * Keeps the camera's pose and lens at a time as a mark: a key on every mark channel. A mark already there is overwritten.
 * @param trial values tried out at the moment; the others are as the camera has them at that time.
 */
export function setMark(
  project: Project,
  cameraId: string,
  atFlicks: number,
  markId: string,
  trial: ChannelValues = {},
): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = moveOf(project, cameraId);
  const values = channelValuesAt(camera, move, atFlicks, trial);
  const ready = keyable(move, atFlicks);
  const { clockFlicks } = ready;
  const curves: Record<string, Curve> = { ...ready.curves };
  const { timeWarp: _clock, ...tried } = trial;
  const kept = new Set<Channel>([...markChannels(camera), ...(Object.keys(tried) as Channel[])]);
  for (const channel of kept) {
    const curve = curves[channel] ?? [];
    curves[channel] = withKey(curve, keyNear(curve, channel, clockFlicks, values[channel] ?? 0));
  }
  const marks = move?.marks ?? [];
  const there = marks.find((mark) => mark.atFlicks === clockFlicks);
  const mark: Mark = there
    ? { id: there.id, name: there.name, atFlicks: clockFlicks, leftOut: null }
    : { id: markId, name: nextMarkName(marks), atFlicks: clockFlicks, leftOut: null };
  const others = marks.filter((one) => one !== there);
  return {
    name: `${there ? 'Overwrite' : 'Set'} mark ${mark.name} on ${camera.name}`,
    operations: moveOperations(project, cameraId, { curves, marks: [...others, mark] }),
  };
}

/** Takes a mark out with its keys. What moves by nothing else then rests as it was at that mark. */
export function removeMark(project: Project, cameraId: string, markId: string): Edit {
  const { camera, move, mark } = found(project, cameraId, markId);
  const name = `Remove mark ${mark.name} from ${camera.name}`;
  const marks = move.marks.filter((one) => one !== mark);
  const curves = mark.leftOut ? move.curves : withoutKeysAt(move.curves, mark.atFlicks);
  const values = channelValuesAt(camera, move, sceneOfMark(move, mark), {
    timeWarp: mark.atFlicks / FLICKS_PER_SECOND,
  });
  const emptied = Object.keys(curves).filter((channel) => curves[channel]?.length === 0) as Channel[];
  const parts = restingParts(camera, Object.fromEntries(emptied.map((channel) => [channel, values[channel]])));
  const rest = Object.keys(parts).length > 0 ? [patching(project, 'camera', cameraId, parts)] : [];
  const left = Object.entries(curves).some(([channel, curve]) => channel !== 'timeWarp' && curve.length > 0);
  const kept = left || marks.length > 0 ? curves : {};
  return { name, operations: [...moveOperations(project, cameraId, { curves: kept, marks }), ...rest] };
}

export function renameMark(project: Project, cameraId: string, markId: string, name: string): Edit {
  const { move, mark } = found(project, cameraId, markId);
  const marks = move.marks.map((one) => (one === mark ? { ...one, name } : one));
  return { name: `Name mark ${mark.name} ${name}`, operations: [patching(project, 'move', move.id, { marks })] };
}

/** Leaves a mark out of the move, with its keys kept by it; or takes it in again. */
export function leaveOutMark(project: Project, cameraId: string, markId: string, out: boolean): Edit {
  const { camera, move, mark } = found(project, cameraId, markId);
  const name = `${out ? 'Leave out' : 'Take in'} mark ${mark.name} on ${camera.name}`;
  if (out === (mark.leftOut !== null)) return { name, operations: [] };
  const curves: Record<string, Curve> = { ...(out ? withoutKeysAt(move.curves, mark.atFlicks) : move.curves) };
  for (const [channel, value] of Object.entries(mark.leftOut ?? {})) {
    const key: Key = mark.leftOutKeys?.[channel] ?? { atFlicks: mark.atFlicks, value, shape: 'smooth' };
    curves[channel] = withKey(curves[channel] ?? [], { ...key, atFlicks: mark.atFlicks });
  }
  const leftOutKeys = keysAt(move.curves, mark.atFlicks);
  const leftOut = Object.fromEntries(Object.entries(leftOutKeys).map(([channel, { value }]) => [channel, value]));
  const { leftOutKeys: _keys, ...plain } = mark;
  const now: Mark = out ? { ...plain, leftOut, leftOutKeys } : { ...plain, leftOut: null };
  const marks = move.marks.map((one) => (one === mark ? now : one));
  return { name, operations: moveOperations(project, cameraId, { curves, marks }) };
}

/**
 * Gives marks new times, their keys going with them. Keys that belong to no mark stay where they are.
 * @param times new flicks by mark id; marks that are not named keep theirs.
 * @throws CoreError `out-of-range` when two marks would stand at one time.
 */
function retimeMarks(project: Project, cameraId: string, what: string, times: ReadonlyMap<string, number>): Edit {
  const camera = existing(project, 'camera', cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const marks = move.marks.map((mark) => ({ ...mark, atFlicks: times.get(mark.id) ?? mark.atFlicks }));
  if (new Set(marks.map((mark) => mark.atFlicks)).size < marks.length) {
    throw new CoreError('out-of-range', 'Two marks cannot stand at the same frame. Give them more time.', 'marks');
  }
  const newTime = new Map(move.marks.map((mark) => [mark.atFlicks, times.get(mark.id) ?? mark.atFlicks]));
  const curves = Object.fromEntries(
    Object.entries(move.curves).map(([channel, curve]) => [
      channel,
      curve
        .map((key) => ({ ...key, atFlicks: newTime.get(key.atFlicks) ?? key.atFlicks }))
        .sort((a, b) => a.atFlicks - b.atFlicks)
        .filter((key, i, all) => key.atFlicks !== all[i - 1]?.atFlicks),
    ]),
  );
  const operations = moveOperations(project, cameraId, { curves, marks });
  return { name: `${what} on ${camera.name}`, operations };
}

/**
 * Marks after keys of their move were given new times. A mark goes with its keys when all of them go to one time; it stays, and is
 * moved off, when they go apart.
 * @param movedTo the new time of a key of a channel; its own time where it was not moved.
 */
export function marksWithKeys(
  { marks, curves }: Pick<Move, 'marks' | 'curves'>,
  movedTo: (channel: string, atFlicks: number) => number,
): Mark[] {
  const taken = new Set<number>();
  return marks.map((mark) => {
    const keyed = Object.entries(curves).filter(
      ([channel, curve]) => channel !== 'timeWarp' && curve.some(({ atFlicks }) => atFlicks === mark.atFlicks),
    );
    const times = new Set(keyed.map(([channel]) => movedTo(channel, mark.atFlicks)));
    const [to] = times;
    const goes = !mark.leftOut && times.size === 1 && to !== undefined && to !== mark.atFlicks && !taken.has(to);
    const at = goes ? to : mark.atFlicks;
    taken.add(at);
    return goes ? { ...mark, atFlicks: at } : mark;
  });
}

/**
 * Whether the keys that a mark was composed with are no longer where it stands: what is seen at it is not what was marked. A mark
 * that is left out keeps its keys by itself.
 */
export function isMovedOff({ curves }: Pick<Move, 'curves'>, camera: Camera, mark: Mark): boolean {
  if (mark.leftOut) return false;
  const keyed = markChannels(camera).filter((channel) => (curves[channel]?.length ?? 0) > 0);
  const here = keyed.filter((channel) => curves[channel]?.some(({ atFlicks }) => atFlicks === mark.atFlicks));
  return keyed.length > 0 && here.length < keyed.length;
}

/** Gives one mark another time, its keys going with it; the others stay. @throws CoreError `out-of-range` where another stands. */
export function moveMark(project: Project, cameraId: string, markId: string, atFlicks: number): Edit {
  const { mark } = found(project, cameraId, markId);
  return retimeMarks(
    project,
    cameraId,
    `Move mark ${mark.name}`,
    new Map([[markId, Math.max(0, Math.round(atFlicks))]]),
  );
}

/** Spaces the marks evenly between the first and the last, at whole frames. */
export function spaceMarks(project: Project, cameraId: string, frameFlicks: number): Edit {
  const marks = marksInOrder(moveOf(project, cameraId));
  const [first, last] = [marks[0]?.atFlicks ?? 0, marks.at(-1)?.atFlicks ?? 0];
  const times = marks.map(({ id }, i): [string, number] => {
    const at = first + ((last - first) * i) / Math.max(1, marks.length - 1);
    return [id, i === 0 ? first : i === marks.length - 1 ? last : Math.round(at / frameFlicks) * frameFlicks];
  });
  return retimeMarks(project, cameraId, 'Space marks evenly', new Map(times));
}

/** Gives the leg to the next mark another length; the later marks move with it. */
export function setLeg(project: Project, cameraId: string, markId: string, legFlicks: number): Edit {
  const marks = marksInOrder(moveOf(project, cameraId));
  const index = marks.findIndex((mark) => mark.id === markId);
  const [from, to] = [marks[index], marks[index + 1]];
  if (!from || !to) throw new CoreError('unknown-entity', 'There is no mark after this one.', 'mark');
  if (!(legFlicks > 0)) throw new CoreError('out-of-range', 'A leg lasts longer than nothing.', 'seconds');
  const shift = Math.round(legFlicks) - (to.atFlicks - from.atFlicks);
  const times = marks.slice(index + 1).map((mark): [string, number] => [mark.id, mark.atFlicks + shift]);
  return retimeMarks(project, cameraId, `Leg from ${from.name} to ${to.name}`, new Map(times));
}

/** Puts a mark at another place in the order: the poses change their order, the times stay. */
export function reorderMark(project: Project, cameraId: string, markId: string, toIndex: number): Edit {
  const marks = marksInOrder(moveOf(project, cameraId));
  const mark = marks.find((one) => one.id === markId);
  const others = marks.filter((one) => one !== mark);
  const order = mark ? [...others.slice(0, toIndex), mark, ...others.slice(toIndex)] : others;
  const times = order.map((one, i): [string, number] => [one.id, marks[i]?.atFlicks ?? one.atFlicks]);
  return retimeMarks(project, cameraId, `Order of mark ${mark?.name ?? ''}`, new Map(times));
}

function found(project: Project, cameraId: string, markId: string) {
  const camera = existing(project, 'camera', cameraId);
  const move = existing(project, 'move', moveOf(project, cameraId)?.id ?? cameraId);
  const mark = move.marks.find((one) => one.id === markId);
  if (!mark) throw new CoreError('unknown-entity', `There is no mark ${markId} on ${camera.name}.`, 'mark');
  return { camera, move, mark };
}

function withoutKeysAt(curves: Curves, atFlicks: number): Curves {
  return Object.fromEntries(Object.entries(curves).map(([channel, curve]) => [channel, withoutKey(curve, atFlicks)]));
}

function keysAt(curves: Curves, atFlicks: number): Record<string, Key> {
  const keys = Object.entries(curves).flatMap(([channel, curve]) => {
    const key = curve.find((one) => one.atFlicks === atFlicks);
    return key ? [[channel, key] as const] : [];
  });
  return Object.fromEntries(keys);
}
