import { CoreError } from '../../error';
import type { Project, Shot } from '../../model';
import { existing, SHOT_DEFAULTS, shotsInOrder } from '../../model';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { indexOf, laidOut, relaid } from './layout';
import { nextShotName } from './names';

/** What a new shot is to be; all but these parts is as {@link SHOT_DEFAULTS} say. */
export type NewShot = Partial<Shot> & Pick<Shot, 'id' | 'cameraId' | 'sceneStartFlicks' | 'durationFlicks'>;

/** Puts a shot right after the shot `afterId`; without one, or where there is none of this id, at the end. Times in flicks. */
export function addShot(project: Project, sequenceId: string, shot: NewShot & { readonly afterId?: string }): Edit {
  const { afterId, ...own } = shot;
  const laid = laidOut(project, sequenceId);
  const name = own.name ?? nextShotName(shotsInOrder(project, sequenceId));
  const made: Shot = { ...SHOT_DEFAULTS, order: '', revision: '', ...own, sequenceId, name };
  const index = laid.findIndex((one) => one.shot.id === afterId);
  const place = index < 0 ? laid.length : index + 1;
  const row = laid.toSpliced(place, 0, { shot: made, sceneStartFlicks: own.sceneStartFlicks });
  return relaid(project, sequenceId, `Add shot ${name}`, row);
}

/** Changes parts of a shot, named for undo by `what`. @throws CoreError `too-short`. */
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

/**
 * Lets a shot go on with the action of the one before it, or gives it a scene time of its own: the one that it shows now.
 * @throws CoreError `out-of-range` where no shot comes before it.
 */
export function setContinues(project: Project, shotId: string, continues: boolean): Edit {
  const { name, sequenceId } = existing(project, 'shot', shotId);
  const laid = laidOut(project, sequenceId);
  const index = laid.findIndex(({ shot }) => shot.id === shotId);
  if (continues && index <= 0)
    throw new CoreError('out-of-range', `No shot comes before ${name} that it could go on from.`);
  const changed = laid.map((one, i) => {
    if (i !== index) return one;
    return { shot: { ...one.shot, continues }, sceneStartFlicks: continues ? undefined : one.sceneStartFlicks };
  });
  const what = continues ? 'goes on with the action' : 'a scene time of its own';
  return relaid(project, sequenceId, `${name}: ${what}`, changed);
}

/** Gives a shot a scene time of its own, flicks, from 0. */
export function setSceneStart(project: Project, shotId: string, sceneStartFlicks: number): Edit {
  const { name, sequenceId } = existing(project, 'shot', shotId);
  const laid = laidOut(project, sequenceId);
  const index = indexOf(project, laid, shotId);
  const changed = laid.map((one, i) =>
    i === index ? { shot: { ...one.shot, continues: false }, sceneStartFlicks } : one,
  );
  return relaid(project, sequenceId, `Scene time on ${name}`, changed);
}
