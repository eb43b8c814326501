import { sceneSpanOf } from '../../camera';
import { CoreError } from '../../error';
import type { Project, Shot } from '../../model';
import { existing, moveOf, SHOT_DEFAULTS, shotsInOrder } from '../../model';
import type { CutShot } from '../../sequence';
import { sceneEndOf } from '../../sequence';
import { flicksAtFrame, framesPerSecond } from '../../time';
import type { Edit } from '../edit';
import { patching } from '../edit';
import { indexOf, laidOut, relaid } from './layout';
import { nextShotName } from './names';
import { named } from './trim';

/** What a new shot is to be; all but these parts is as {@link SHOT_DEFAULTS} say. */
export type NewShot = Partial<Shot> & Pick<Shot, 'id' | 'cameraId' | 'sceneStartFlicks' | 'durationFlicks'>;

/** Length of a new shot of a camera that stands still, seconds. */
const STILL_SHOT_S = 4;

/**
 * A shot of a camera, as long as what is to be seen of it. It goes on with the action of the shot before while the camera's move
 * lasts, to the end of the move; where the action is past the move or before it, it shows the whole move. A camera that stands still
 * is seen for 4 s, from where the shot before ends.
 * @param before the shot that it comes after; without one the camera is seen from `atFlicks` of scene time on.
 */
export function shotOfCamera(
  project: Project,
  cameraId: string,
  id: string,
  before: Pick<CutShot, 'shot' | 'sceneStartFlicks'> | undefined,
  atFlicks: number,
): NewShot {
  const { rate } = project.head;
  const frame = flicksAtFrame(1, rate);
  const from = Math.max(0, before ? sceneEndOf(before) : atFlicks);
  const span = sceneSpanOf(moveOf(project, cameraId));
  const continues = before !== undefined;
  if (!span || span[0] === span[1]) {
    const durationFlicks = flicksAtFrame(Math.round(STILL_SHOT_S * framesPerSecond(rate)), rate);
    return { id, cameraId, sceneStartFlicks: from, durationFlicks, continues };
  }
  // The frame of the last key is seen too.
  const framesFrom = (flicks: number) => flicksAtFrame(Math.round((span[1] - flicks) / frame) + 1, rate);
  const goesOn = before !== undefined && from >= span[0] && from < span[1];
  const sceneStartFlicks = goesOn ? from : span[0];
  return { id, cameraId, sceneStartFlicks, durationFlicks: framesFrom(sceneStartFlicks), continues: goesOn };
}

/** Puts a shot right after the shot `afterId`; without one, or where there is none of this id, at the end. Times in flicks. */
export function addShot(project: Project, sequenceId: string, shot: NewShot & { readonly afterId?: string }): Edit {
  const { afterId, ...own } = shot;
  const laid = laidOut(project, sequenceId);
  const name = own.name ?? nextShotName(shotsInOrder(project, sequenceId));
  const index = laid.findIndex((one) => one.shot.id === afterId);
  const scene = laid[index]?.shot.scene ?? laid.at(-1)?.shot.scene ?? '';
  const made: Shot = { ...SHOT_DEFAULTS, scene, order: '', revision: '', ...own, sequenceId, name };
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

/** Says of which scene shots are; an empty text is none. */
export function setScene(project: Project, shotIds: readonly string[], scene: string): Edit {
  const operations = shotIds.map((id) => patching(project, 'shot', id, { scene }));
  return { name: scene === '' ? 'No scene' : `Scene ${scene}`, operations };
}

/**
 * Calls what was found in shots meant, so that it is said no more; or no longer.
 * @param found what a shot keeps of each (`meantKey`), and the shot.
 */
export function setMeant(
  project: Project,
  found: readonly { readonly key: string; readonly shotId: string }[],
  meant: boolean,
): Edit {
  const ids = [...new Set(found.map(({ shotId }) => shotId))];
  const operations = ids.map((id) => {
    const keys = found.filter(({ shotId }) => shotId === id).map(({ key }) => key);
    const others = existing(project, 'shot', id).meant.filter((key) => !keys.includes(key));
    return patching(project, 'shot', id, { meant: meant ? [...others, ...keys] : others });
  });
  const what = found.length === 1 ? named(project, ids) : `${found.length} things`;
  return { name: meant ? `Meant: ${what}` : `Not meant: ${what}`, operations };
}
