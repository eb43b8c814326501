import { CoreError } from '../../error';
import type { Project, Shot } from '../../model';
import { existing } from '../../model';
import { retimeFrom, sceneGoneBy } from '../../sequence';
import { flicksAtFrame, framesInFlicks } from '../../time';
import type { Edit } from '../edit';
import type { LaidShot } from './laid-shot';
import { indexOf, laidOut, relaid, withParts } from './layout';

/** What happens to the shots after one whose length changes: they follow, or they stay and a gap opens or closes. */
export interface Ripple {
  readonly ripple: boolean;
}

/**
 * Moves the end of a shot by so many frames, later where positive. With ripple what follows moves along; without, a gap after it gives
 * way and takes up. No other shot shows anything else.
 * @throws CoreError `too-short` where no frame would be left, or (without ripple) the next shot stands in the way.
 */
export function trimEnd(project: Project, shotId: string, frames: number, { ripple }: Ripple): Edit {
  const { laid, index, shot, frame } = begun(project, shotId);
  const next = laid[index + 1];
  const changed = lengthened(shot, frames * frame);
  const name = `Trim the end of ${shot.name} by ${signed(frames)}`;
  const after = laid.with(index, withParts(laid[index] as LaidShot, changed));
  if (ripple || !next) return relaid(project, shot.sequenceId, name, after);
  const gapFlicks = next.shot.gapFlicks - frames * frame;
  if (gapFlicks < 0) {
    const room = framesInFlicks(next.shot.gapFlicks, project.head.rate);
    throw new CoreError(
      'too-short',
      `${next.shot.name} begins ${room === 0 ? 'right' : `${room} frames`} after ${shot.name}. Trim with ripple, or roll the joint.`,
      'durationFlicks',
    );
  }
  return relaid(project, shot.sequenceId, name, after.with(index + 1, withParts(next, { gapFlicks })));
}

/**
 * Moves the beginning of a shot by so many frames, later where positive: it shows less (or more) of the action's beginning. Without
 * ripple its end stays where it is, and the gap before it takes up what it gives.
 * @throws CoreError `too-short` as {@link trimEnd}, and where the scene has not begun.
 */
export function trimStart(project: Project, shotId: string, frames: number, { ripple }: Ripple): Edit {
  const { laid, index, shot, frame } = begun(project, shotId);
  const own = beginningLater(laid[index] as LaidShot, frames * frame);
  const gapFlicks = ripple ? shot.gapFlicks : shot.gapFlicks + frames * frame;
  if (gapFlicks < 0) {
    throw new CoreError(
      'too-short',
      `Nothing is free before ${shot.name}. Trim with ripple, or roll the joint.`,
      'gapFlicks',
    );
  }
  const name = `Trim the start of ${shot.name} by ${signed(frames)}`;
  return relaid(project, shot.sequenceId, name, laid.with(index, withParts(own, { gapFlicks })));
}

/**
 * Moves the joint before a shot by so many frames, later where positive: the shot before it gets what this one loses, and the cut is as
 * long as it was. A gap between them moves along.
 * @throws CoreError `too-short` where one of them would have no frame left, `out-of-range` before the first shot.
 */
export function rollJoint(project: Project, shotId: string, frames: number): Edit {
  const { laid, index, shot, frame } = begun(project, shotId);
  const before = laid[index - 1];
  if (!before) throw new CoreError('out-of-range', `No shot comes before ${shot.name}: there is no joint to roll.`);
  const rolled = laid
    .with(index - 1, withParts(before, lengthened(before.shot, frames * frame)))
    .with(index, beginningLater(laid[index] as LaidShot, frames * frame));
  const name = `Roll ${before.shot.name} and ${shot.name} by ${signed(frames)}`;
  return relaid(project, shot.sequenceId, name, rolled);
}

/** Shots show what happens so many frames later (or earlier) in the scene, at the same place of the cut. The scene begins at 0. */
export function slipShots(project: Project, shotIds: readonly string[], frames: number): Edit {
  const { laid, shot, frame } = begun(project, shotIds[0] ?? '');
  const slipped = laid.map((one) =>
    shotIds.includes(one.shot.id)
      ? { ...one, sceneStartFlicks: Math.max(0, (one.sceneStartFlicks ?? 0) + frames * frame) }
      : one,
  );
  return relaid(project, shot.sequenceId, `Slip ${named(project, shotIds)} by ${signed(frames)}`, slipped);
}

/**
 * Moves a shot as it is between its neighbours, later where positive: the one before it lasts longer, the one after it begins later
 * in its action. Where there is no neighbour the gap there gives way.
 * @throws CoreError `too-short` where a neighbour would have no frame left.
 */
export function slideShot(project: Project, shotId: string, frames: number): Edit {
  const { laid, index, shot, frame } = begun(project, shotId);
  const by = frames * frame;
  const [before, after] = [laid[index - 1], laid[index + 1]];
  let slid = [...laid];
  if (before) slid = slid.with(index - 1, withParts(before, lengthened(before.shot, by)));
  else slid = slid.with(index, withParts(laid[index] as LaidShot, { gapFlicks: openedBy(shot, by) }));
  if (after) slid = slid.with(index + 1, beginningLater(after, by));
  return relaid(project, shot.sequenceId, `Slide ${shot.name} by ${signed(frames)}`, slid);
}

/** Gives a shot a length in the cut, frames, at its end. @throws CoreError as {@link trimEnd}. */
export function setLength(project: Project, shotId: string, frames: number, how: Ripple): Edit {
  const { durationFlicks } = existing(project, 'shot', shotId);
  return trimEnd(project, shotId, frames - framesInFlicks(durationFlicks, project.head.rate), how);
}

function begun(project: Project, shotId: string) {
  const shot = existing(project, 'shot', shotId);
  const laid = laidOut(project, shot.sequenceId);
  return { laid, index: indexOf(project, laid, shotId), shot, frame: flicksAtFrame(1, project.head.rate) };
}

/** @throws CoreError `too-short`. */
function lengthened(shot: Shot, byFlicks: number): Pick<Shot, 'durationFlicks'> {
  const durationFlicks = shot.durationFlicks + byFlicks;
  if (durationFlicks > 0) return { durationFlicks };
  throw new CoreError('too-short', `${shot.name} would have no frame left. A shot lasts one frame or more.`);
}

/** A shot that begins so much later in what it shows, and ends as it ended. @throws CoreError `too-short`, `out-of-range`. */
export function beginningLater(
  { shot, sceneStartFlicks = shot.sceneStartFlicks }: LaidShot,
  byFlicks: number,
): LaidShot {
  const start = sceneStartFlicks + Math.round(sceneGoneBy(shot.retime, byFlicks));
  if (start < 0) throw new CoreError('out-of-range', `The scene has not begun before what ${shot.name} shows first.`);
  const parts = { ...lengthened(shot, -byFlicks), retime: retimeFrom(shot.retime, byFlicks) };
  return { shot: { ...shot, ...parts }, sceneStartFlicks: start, headFlicks: byFlicks };
}

function openedBy(shot: Shot, byFlicks: number): number {
  if (shot.gapFlicks + byFlicks >= 0) return shot.gapFlicks + byFlicks;
  throw new CoreError('too-short', `Nothing is free before ${shot.name}.`, 'gapFlicks');
}

/** Frames with their sign, as an edit says them: `+3 frames`. */
export function signed(frames: number): string {
  return `${frames > 0 ? '+' : '−'}${Math.abs(frames)} ${Math.abs(frames) === 1 ? 'frame' : 'frames'}`;
}

/** Shots by name, or how many they are. */
export function named({ shots }: Project, shotIds: readonly string[]): string {
  return shotIds.length === 1 ? (shots[shotIds[0] ?? '']?.name ?? '') : `${shotIds.length} shots`;
}
