import { CoreError } from '../../error';
import type { Project, Shot } from '../../model';
import { existing, orderBetween, shotsInOrder } from '../../model';
import type { Edit } from '../edit';
import { creation, deletion, patching } from '../edit';

/** Gap between the names of neighbouring shots, so that others can be put between. */
const NAME_STEP = 10;

/** The next free name after the last shot's: `SL_030` after `SL_020`. */
export function nextShotName(shots: readonly Shot[]): string {
  const numbered = shots.map((shot) => /^(.*?)(\d+)$/.exec(shot.name)).filter((match) => match !== null);
  const last = numbered.at(-1);
  const highest = Math.max(0, ...numbered.map((match) => Number(match[2])));
  const digits = last?.[2]?.length ?? 3;
  const next = Math.floor(highest / NAME_STEP) * NAME_STEP + NAME_STEP;
  return `${last?.[1] ?? 'SH_'}${String(next).padStart(digits, '0')}`;
}

/** Puts a shot of a camera right after the shot `afterId`; without one, or where there is none of this id, at the end. Times in flicks. */
export function addShot(
  project: Project,
  sequenceId: string,
  shot: { id: string; cameraId: string; sceneStartFlicks: number; durationFlicks: number; afterId?: string },
): Edit {
  const shots = shotsInOrder(project, sequenceId);
  const { afterId, ...own } = shot;
  const index = afterId === undefined ? -1 : shots.findIndex((one) => one.id === afterId);
  const before = index < 0 ? shots.at(-1) : shots[index];
  const after = index < 0 ? undefined : shots[index + 1];
  const name = nextShotName(shots);
  const entity = { ...own, sequenceId, name, order: orderBetween(before?.order, after?.order, own.id) };
  return { name: `Add shot ${name}`, operations: [creation('shot', entity)] };
}

/** Changes parts of a shot, named for undo by `what`. */
export function setShot(
  project: Project,
  shotId: string,
  what: string,
  parts: Partial<Omit<Shot, 'id' | 'revision' | 'sequenceId'>>,
): Edit {
  if (parts.durationFlicks !== undefined && parts.durationFlicks < 1) {
    throw new CoreError('too-short', 'A shot lasts one frame or more.', 'durationFlicks');
  }
  const { name } = existing(project, 'shot', shotId);
  return { name: `${what} on ${name}`, operations: [patching(project, 'shot', shotId, parts)] };
}

/** Moves a shot to another place in its sequence, counted from 0 among the other shots. */
export function moveShot(project: Project, shotId: string, toIndex: number): Edit {
  const shot = existing(project, 'shot', shotId);
  const others = shotsInOrder(project, shot.sequenceId).filter((one) => one.id !== shotId);
  const order = orderBetween(others[toIndex - 1]?.order, others[toIndex]?.order, shotId);
  return { name: `Move shot ${shot.name}`, operations: [patching(project, 'shot', shotId, { order })] };
}

/** Takes a shot out of its sequence. */
export function deleteShot(project: Project, shotId: string): Edit {
  const { name } = existing(project, 'shot', shotId);
  return { name: `Delete shot ${name}`, operations: [deletion(project, 'shot', shotId)] };
}
