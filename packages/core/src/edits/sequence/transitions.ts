import { CoreError } from '../../error';
import type { Entry, Fade, Project } from '../../model';
import { CUT, existing } from '../../model';
import { cutOf, reachOfTransition } from '../../sequence';
import type { Edit } from '../edit';
import { setShot } from './shots';

const NAMES: Readonly<Record<Entry['kind'], string>> = { cut: 'Cut', dissolve: 'Dissolve', fade: 'Fade in' };

/**
 * Says how the picture goes over to a shot.
 * @throws CoreError `out-of-range` where a dissolve has nothing to come out of; `too-short` where it is longer than a shot on its side of
 * the joint.
 */
export function setEntry(project: Project, shotId: string, entry: Entry): Edit {
  const { name, sequenceId } = existing(project, 'shot', shotId);
  const { shots } = cutOf(project, sequenceId);
  const index = shots.findIndex(({ shot }) => shot.id === shotId);
  const [before, placed] = [shots[index - 1], shots[index]];
  if (entry.kind === 'dissolve' && (!before || (placed?.gapFrames ?? 0) > 0)) {
    throw new CoreError('out-of-range', `Nothing lies right before ${name} that could dissolve into it. Use a fade.`);
  }
  const reach = reachOfTransition(entry, project.head.rate);
  if (entry.kind !== 'cut' && reach.before + reach.after < 1)
    return setShot(project, shotId, NAMES.cut, { entry: CUT });
  const tooLong =
    reach.after > (placed?.frameCount ?? 0) ? name : before && reach.before > before.frameCount && before.shot.name;
  if (tooLong) {
    throw new CoreError('too-short', `${tooLong} is shorter than its side of the ${NAMES[entry.kind].toLowerCase()}.`);
  }
  return setShot(project, shotId, NAMES[entry.kind], { entry });
}

/** Lets a shot fade into a colour at its end, or not. @throws CoreError `too-short` where the fade is longer than the shot. */
export function setFadeOut(project: Project, shotId: string, fadeOut: Fade | null): Edit {
  const { name, durationFlicks } = existing(project, 'shot', shotId);
  if (fadeOut && fadeOut.durationFlicks > durationFlicks) {
    throw new CoreError('too-short', `${name} is shorter than its fade.`, 'fadeOut');
  }
  return setShot(project, shotId, fadeOut ? 'Fade out' : 'No fade out', { fadeOut });
}
