import type { Mark, Move, Project } from '../model';
import { moveOf } from '../model';
import { FLICKS_PER_SECOND } from '../time';
import { cameraAt } from './camera-at';
import type { CameraState } from './camera-state';
import { sceneAt } from './clock';

/** The scene time at which a mark is seen, flicks: the first at which the clock of its move shows its time. */
export function sceneOfMark(move: Move | undefined, { atFlicks }: Pick<Mark, 'atFlicks'>): number {
  return sceneAt(move, atFlicks) ?? atFlicks;
}

/** The state of a camera at a mark, whether the mark is left out or not. */
export function markState(project: Project, cameraId: string, mark: Mark): CameraState {
  const timeWarp = mark.atFlicks / FLICKS_PER_SECOND;
  return cameraAt(project, cameraId, sceneOfMark(moveOf(project, cameraId), mark), { timeWarp, ...mark.leftOut });
}
