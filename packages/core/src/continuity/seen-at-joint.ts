import type { CameraState } from '../camera';
import { cameraAt } from '../camera';
import type { SubjectFraming } from '../framing';
import { chosenSubject } from '../framing';
import type { Project } from '../model';
import type { CutShot } from '../sequence';
import { sceneTimeOf } from '../sequence';

/** One side of a joint: the frame that is seen there, through which camera, and whom it is about. */
export interface JointSide {
  readonly placed: CutShot;
  readonly sceneFlicks: number;
  readonly state: CameraState;
  readonly subject: SubjectFraming | undefined;
}

/** The frame of a shot that meets its neighbour: its last, or its first. Nothing where it has no camera, or shows a sequence. */
export function jointSide(project: Project, placed: CutShot, end: 'first' | 'last'): JointSide | undefined {
  const { cameraId, insideId } = placed.shot;
  if (cameraId === null || insideId !== null || !project.cameras[cameraId]) return undefined;
  const sceneFlicks = sceneTimeOf(placed, end === 'first' ? 0 : placed.frameCount - 1, project.head.rate);
  const state = cameraAt(project, cameraId, sceneFlicks);
  return { placed, sceneFlicks, state, subject: chosenSubject(project, state, sceneFlicks) };
}
