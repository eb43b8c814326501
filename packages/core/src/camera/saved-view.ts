import type { Mark, Project } from '../model';
import type { CameraState } from './camera-state';
import { markState } from './marked';

/** A view that a move goes through: a camera at a time. */
export interface SavedView {
  readonly id: string;
  readonly name: string;
  readonly state: CameraState;
}

/** The marks of a camera as views, those left out too. */
export function viewsOf(project: Project, cameraId: string, marks: readonly Mark[]): SavedView[] {
  return marks.map((mark) => ({ id: mark.id, name: mark.name, state: markState(project, cameraId, mark) }));
}
