import type { Operation, Project } from '../../model';
import type { CutShot } from '../../sequence';
import { cutOf, sceneEndOf } from '../../sequence';
import { FLICKS_PER_SECOND, flicksPerFrame, framesInFlicks } from '../../time';
import type { Edit } from '../edit';
import { composed, patching, previewed } from '../edit';
import type { LaidShot } from './laid-shot';

/** A shot as it stood before an edit, and where it begins after it, flicks of the cut. */
interface Moved {
  readonly fromFlicks: number;
  readonly endFlicks: number;
  /** Nothing where the edit takes the shot out. */
  readonly toFlicks: number | undefined;
  readonly headFlicks: number;
}

/**
 * What takes sound and markers along when the shots of a sequence come to lie elsewhere: each stays with the picture in which it begins.
 * What began in a shot that goes, or in a gap, stays as far after the shot before it as it was, but not past the one that comes next.
 */
export function soundGoingAlong(project: Project, sequenceId: string, laid: readonly LaidShot[]): Operation[] {
  const moved = movedShots(project, cutOf(project, sequenceId).shots, laid);
  const reordered = isReordered(moved);
  const placeOf = (flicks: number) => Math.max(0, Math.round(movedTime(moved, flicks)));
  const operations: Operation[] = [];
  for (const marker of Object.values(project.markers)) {
    if (marker.sequenceId !== sequenceId) continue;
    const atFlicks = placeOf(marker.atFlicks);
    if (atFlicks !== marker.atFlicks) operations.push(patching(project, 'marker', marker.id, { atFlicks }));
  }
  for (const sound of Object.values(project.sounds)) {
    if (sound.sequenceId !== sequenceId) continue;
    // Music under several shots does not jump with the one it begins in.
    const shot = moved.findLast(({ fromFlicks }) => fromFlicks <= sound.startFlicks);
    const spills = shot !== undefined && sound.startFlicks + sound.lengthS * FLICKS_PER_SECOND > shot.endFlicks;
    const startFlicks = reordered && spills ? sound.startFlicks : placeOf(sound.startFlicks);
    if (startFlicks !== sound.startFlicks) operations.push(patching(project, 'sound', sound.id, { startFlicks }));
  }
  return operations;
}

/** An edit of a cut without what it takes along: sound and markers stay where they are. */
export function withoutSound(edit: Edit): Edit {
  if (!edit.operations.some(({ kind }) => kind === 'shot')) return edit; // an edit of sound itself
  const isTaken = ({ op, kind }: Operation) => op === 'patch' && (kind === 'sound' || kind === 'marker');
  return { ...edit, operations: edit.operations.filter((operation) => !isTaken(operation)) };
}

/**
 * An edit of a cut after which shots that went on with the action of the one before them still do, however that one was changed: they
 * show something else then. The edit's name says how many. What it leaves as it was is returned as it is.
 */
export function withAction(project: Project, sequenceId: string, edit: Edit): Edit {
  const loose = loosenedBy(project, sequenceId, edit);
  if (loose.length === 0) return edit;
  const tied = composed(project, edit.name, [
    () => edit,
    (now) => ({ name: '', operations: loose.map((id) => patching(now, 'shot', id, { continues: true })) }),
  ]);
  const shown = (one: Edit) => cutOf(previewed(project, one), sequenceId).shots.map((shot) => shot.sceneStartFlicks);
  const alone = shown(edit);
  const count = shown(tied).filter((start, i) => start !== alone[i]).length;
  return { ...tied, name: `${edit.name} (${count} ${count === 1 ? 'shot goes' : 'shots go'} along)` };
}

/**
 * Shots that went on with the action of the one before them until an edit let that one end elsewhere: they show what they showed, at a
 * scene time of their own.
 */
function loosenedBy(project: Project, sequenceId: string, edit: Edit): string[] {
  const before = cutOf(project, sequenceId).shots;
  const after = cutOf(previewed(project, edit), sequenceId).shots;
  return after.flatMap((now, i) => {
    const was = before.find(({ shot }) => shot.id === now.shot.id);
    const [previous, wasPrevious] = [after[i - 1], before[(was?.index ?? 0) - 1]];
    if (!was?.shot.continues || now.shot.continues || !previous || previous.shot.id !== wasPrevious?.shot.id) return [];
    const isItself = now.sceneStartFlicks !== was.sceneStartFlicks;
    return isItself || sceneEndOf(previous) === sceneEndOf(wasPrevious) ? [] : [now.shot.id];
  });
}

function movedShots({ head }: Pick<Project, 'head'>, was: readonly CutShot[], laid: readonly LaidShot[]): Moved[] {
  const unit = flicksPerFrame(head.rate);
  const after = new Map<string, { toFlicks: number; headFlicks: number }>();
  let frame = 0;
  for (const { shot, headFlicks = 0 } of laid) {
    frame += framesInFlicks(shot.gapFlicks, head.rate);
    after.set(shot.id, { toFlicks: frame * unit, headFlicks });
    frame += Math.max(1, framesInFlicks(shot.durationFlicks, head.rate));
  }
  return was.map(({ shot, startFrame, frameCount }) => ({
    fromFlicks: startFrame * unit,
    endFlicks: (startFrame + frameCount) * unit,
    toFlicks: after.get(shot.id)?.toFlicks,
    headFlicks: after.get(shot.id)?.headFlicks ?? 0,
  }));
}

function movedTime(moved: readonly Moved[], flicks: number): number {
  const at = moved.findLastIndex(({ fromFlicks }) => fromFlicks <= flicks);
  const own = moved[at];
  const next = moved.slice(at + 1).find(({ toFlicks }) => toFlicks !== undefined);
  if (own?.toFlicks !== undefined && flicks < own.endFlicks) {
    // What was heard in what is taken from its beginning is heard as it begins.
    return own.toFlicks + Math.max(0, flicks - own.fromFlicks - own.headFlicks);
  }
  const before = moved.slice(0, at + 1).findLast(({ toFlicks }) => toFlicks !== undefined);
  const stays = before ? flicks - before.fromFlicks - before.headFlicks + (before.toFlicks ?? 0) : flicks;
  return Math.min(stays, next?.toFlicks ?? Infinity);
}

function isReordered(moved: readonly Moved[]): boolean {
  const places = moved.flatMap(({ toFlicks }) => toFlicks ?? []);
  return places.some((place, i) => i > 0 && place < (places[i - 1] ?? 0));
}
