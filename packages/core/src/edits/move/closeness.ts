import type { Deviation } from '../../camera';
import { deviation, sceneSpanOf } from '../../camera';
import type { Project } from '../../model';
import { existing, moveOf } from '../../model';
import { sceneEndFlicks } from '../../sequence';
import { arrivalFlicks } from '../../set';
import { flicksFromSeconds } from '../../time';
import type { Edit } from '../edit';
import { previewed } from '../edit';

/** An edit, and how closely the camera goes where it went before. */
export interface CloseEdit {
  readonly edit: Edit;
  readonly deviation: Deviation;
}

/** Where nothing says when a scene ends, so much of it is judged, seconds. */
const ENDLESS_S = 10;

/** What lags goes on so many lags after what it follows has stopped. */
const LAGS_ON = 4;

/**
 * All of scene time in which a camera may be seen to move: the scene, its own move, and what moves by itself, as subjects do and
 * a hand. Flicks.
 */
export function judgedSpan(project: Project, cameraId: string): readonly [number, number] {
  const [first, last] = sceneSpanOf(moveOf(project, cameraId)) ?? [0, 0];
  let end = Math.max(last, sceneEndFlicks(project));
  for (const { motion, clip } of Object.values(project.placements)) {
    if (motion.kind === 'path') end = Math.max(end, arrivalFlicks(motion));
    if (motion.kind === 'keys') end = Math.max(end, sceneSpanOf(motion)?.[1] ?? 0);
    if (clip) end = Math.max(end, clip.startFlicks + flicksFromSeconds(ENDLESS_S));
  }
  const { handheld, rig, aim } = existing(project, 'camera', cameraId);
  const lagS = Math.max(rig.kind === 'follow' ? rig.lagS : 0, aim.kind === 'subject' ? aim.smoothingS : 0);
  end += flicksFromSeconds(lagS * LAGS_ON);
  if (handheld.on || end === 0) end = Math.max(end, handheld.toFlicks ?? 0, flicksFromSeconds(ENDLESS_S));
  return [Math.min(0, first), end];
}

/**
 * How far a camera goes from where it went, once an edit is made.
 * @param span from when to when, flicks; all the time in which the camera may be seen to move, before or after, where it is left out.
 */
export function closeness(project: Project, edit: Edit, cameraId: string, span?: readonly [number, number]): Deviation {
  const after = previewed(project, edit);
  const [was, is] = [judgedSpan(project, cameraId), judgedSpan(after, cameraId)];
  const [from, to] = span ?? [Math.min(was[0], is[0]), Math.max(was[1], is[1])];
  return deviation(project, after, cameraId, from, to);
}
