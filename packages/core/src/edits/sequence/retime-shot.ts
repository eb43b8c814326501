import { CoreError } from '../../error';
import type { Project, Retime, Shot, SpeedKey } from '../../model';
import { existing, FASTEST, TRUE_SPEED } from '../../model';
import { sceneGoneBy, speedAfter } from '../../sequence';
import { flicksAtFrame, framesInFlicks } from '../../time';
import type { Edit } from '../edit';
import { indexOf, laidOut, relaid } from './layout';
import { named } from './trim';

/** What stays when a shot's speed changes: how long it is in the cut, or what of the action it shows. */
export type RetimeKeeps = 'length' | 'action';

/**
 * Gives a shot one speed, times the true one; backward it shows the same stretch from its end. No other shot shows anything else.
 * @throws CoreError `out-of-range` beyond {@link FASTEST}, and for a still that is to keep its action.
 */
export function setSpeed(project: Project, shotId: string, speed: number, keeps: RetimeKeeps): Edit {
  const shot = existing(project, 'shot', shotId);
  if (!(Math.abs(speed) <= FASTEST)) {
    throw new CoreError('out-of-range', `A shot runs at ${FASTEST * 100} % at most, forward or backward.`, 'speed');
  }
  const percent = `${Math.round(speed * 1000) / 10} %`;
  if (keeps === 'length') return retimed(project, shot, percent, { ...TRUE_SPEED, speed }, shot.durationFlicks);
  if (speed === 0) throw new CoreError('out-of-range', 'A still shows no action. Keep its length instead.', 'speed');
  const gone = sceneGoneBy(shot.retime, shot.durationFlicks);
  return retimed(project, shot, percent, { ...TRUE_SPEED, speed }, Math.abs(gone / speed));
}

/**
 * Gives a shot so many frames for the action that it shows now, which makes its speed.
 * @throws CoreError `out-of-range` where that is beyond {@link FASTEST}, or nothing goes by in it.
 */
export function fitAction(project: Project, shotId: string, frames: number): Edit {
  const { retime, durationFlicks } = existing(project, 'shot', shotId);
  const gone = sceneGoneBy(retime, durationFlicks);
  if (gone === 0) throw new CoreError('out-of-range', 'Nothing goes by in this shot: it has no action to be fitted.');
  return setSpeed(project, shotId, gone / flicksAtFrame(Math.max(1, frames), project.head.rate), 'action');
}

/** Turns a shot round: it shows the same stretch of the action backward, at the same speeds. */
export function reverseShot(project: Project, shotId: string): Edit {
  const shot = existing(project, 'shot', shotId);
  const { retime, durationFlicks } = shot;
  const held = retime.holds.reduce((sum, hold) => sum + hold.durationFlicks, 0);
  // From its first frame to its last: what was shown last is shown first.
  const runs = durationFlicks - held - flicksAtFrame(1, project.head.rate);
  const turned: Retime = {
    speed: -retime.speed,
    ramp: mirroredRamp(retime.ramp, runs),
    holds: retime.holds.map((hold) => ({ ...hold, afterFlicks: runs - hold.afterFlicks })).reverse(),
  };
  return retimed(project, shot, 'backward', turned, durationFlicks, true);
}

/** A ramp backward: the ease between two keys belongs to the one that comes first now. A jump of speed is two keys a flick apart. */
function mirroredRamp(ramp: readonly SpeedKey[], runs: number): SpeedKey[] {
  return ramp.toReversed().flatMap(({ afterFlicks, speed }, n): SpeedKey[] => {
    const before = ramp[ramp.length - 2 - n];
    const at = runs - afterFlicks;
    if (before?.ease !== 'held') return [{ afterFlicks: at, speed: -speed, ease: before?.ease ?? 'even' }];
    const jumped: SpeedKey = { afterFlicks: at, speed: -before.speed, ease: 'held' };
    return before.speed === speed ? [jumped] : [{ afterFlicks: at - 1, speed: -speed, ease: 'held' }, jumped];
  });
}

/** Where a frame is held: at the shot's beginning, at its end, or at a frame of it, counted from 0. */
export type HoldAt = 'in' | 'out' | number;

/** Holds a frame for so many more frames: the shot is longer by them, and shows the same action. @throws CoreError `too-short`. */
export function holdFrame(project: Project, shotId: string, at: HoldAt, frames: number): Edit {
  const shot = existing(project, 'shot', shotId);
  const { rate } = project.head;
  if (frames < 1) throw new CoreError('too-short', 'A frame is held for one frame or more.', 'frames');
  const unit = flicksAtFrame(1, rate);
  const last = framesInFlicks(shot.durationFlicks, rate) - 1;
  const frame = at === 'in' ? 0 : at === 'out' ? last : Math.max(0, Math.min(last, at));
  const before = shot.retime.holds.reduce(
    (sum, hold) => sum + Math.min(hold.durationFlicks, Math.max(0, frame * unit - hold.afterFlicks - sum)),
    0,
  );
  const hold = { afterFlicks: frame * unit - before, durationFlicks: frames * unit };
  const others = shot.retime.holds.filter(({ afterFlicks }) => afterFlicks !== hold.afterFlicks);
  const same = shot.retime.holds.find(({ afterFlicks }) => afterFlicks === hold.afterFlicks);
  const held = { ...hold, durationFlicks: hold.durationFlicks + (same?.durationFlicks ?? 0) };
  const holds = [...others, held].sort((a, b) => a.afterFlicks - b.afterFlicks);
  const retime = { ...shot.retime, holds };
  return retimed(project, shot, `hold frame ${frame + 1}`, retime, shot.durationFlicks + hold.durationFlicks);
}

/** Lets a shot's speed follow keys: at least one; those at the same time give way to the last. Its length stays. */
export function setRamp(project: Project, shotId: string, keys: readonly SpeedKey[]): Edit {
  const shot = existing(project, 'shot', shotId);
  const ramp = [...new Map(keys.map((key) => [key.afterFlicks, key])).values()].sort(
    (a, b) => a.afterFlicks - b.afterFlicks,
  );
  return retimed(project, shot, 'speed ramp', { ...shot.retime, ramp }, shot.durationFlicks);
}

/** A ramp that is as the shot runs now, to be changed: its speed at both ends. */
export function rampOf({ retime, durationFlicks }: Pick<Shot, 'retime' | 'durationFlicks'>): SpeedKey[] {
  if (retime.ramp.length > 0) return [...retime.ramp];
  const held = retime.holds.reduce((sum, hold) => sum + hold.durationFlicks, 0);
  const speed = speedAfter({ ...retime, holds: [] }, 0);
  return [
    { afterFlicks: 0, speed, ease: 'eased' },
    { afterFlicks: durationFlicks - held, speed, ease: 'eased' },
  ];
}

/** A shot as it happens again, as long as it is. */
export function trueSpeed(project: Project, shotId: string): Edit {
  const shot = existing(project, 'shot', shotId);
  return retimed(project, shot, 'true speed', TRUE_SPEED, shot.durationFlicks);
}

/** A shot that goes by in another way; where it comes to run backward, or forward again, from the other end of what it showed. */
function retimed(
  project: Project,
  shot: Shot,
  what: string,
  retime: Retime,
  durationFlicks: number,
  turned = isBackward(shot.retime) !== isBackward(retime),
): Edit {
  const laid = laidOut(project, shot.sequenceId);
  const index = indexOf(project, laid, shot.id);
  const { rate } = project.head;
  const unit = flicksAtFrame(1, rate);
  const length = Math.max(1, framesInFlicks(durationFlicks, rate)) * unit;
  const start = laid[index]?.sceneStartFlicks ?? shot.sceneStartFlicks;
  // The last frame that was shown is the first one now.
  const last = start + Math.round(sceneGoneBy(shot.retime, shot.durationFlicks - unit));
  const changed = laid.with(index, {
    shot: { ...shot, retime, durationFlicks: length },
    sceneStartFlicks: turned ? Math.max(0, last) : start,
  });
  return relaid(project, shot.sequenceId, `${named(project, [shot.id])}: ${what}`, changed);
}

function isBackward({ speed, ramp }: Retime): boolean {
  return (ramp[0]?.speed ?? speed) < 0;
}
