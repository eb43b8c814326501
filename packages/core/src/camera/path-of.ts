import type { Project } from '../model';
import { combined, inverseRotation } from '../space';
import { flicksPerFrame } from '../time';
import { cameraAt } from './camera-at';
import type { CameraState } from './camera-state';

/** Most frames of a move that are looked at one by one: ten minutes at 60 a second. */
const MOST_FRAMES = 36_000;

/** A camera at every frame of a stretch of scene time, both ends included. */
export function statesOf(project: Project, cameraId: string, fromFlicks: number, toFlicks: number): CameraState[] {
  const frame = flicksPerFrame(project.head.rate);
  const count = Math.min(MOST_FRAMES, Math.max(0, Math.round((toFlicks - fromFlicks) / frame)));
  return Array.from({ length: count + 1 }, (_, i) => cameraAt(project, cameraId, fromFlicks + i * frame));
}

/** How far two cameras are from each other: metres, and the angle between their heads in degrees. */
export interface Deviation {
  readonly metres: number;
  readonly degrees: number;
}

/** The greatest deviation between a camera of two projects over every frame of a stretch. */
export function deviation(a: Project, b: Project, cameraId: string, fromFlicks: number, toFlicks: number): Deviation {
  const others = statesOf(b, cameraId, fromFlicks, toFlicks);
  let [metres, degrees] = [0, 0];
  statesOf(a, cameraId, fromFlicks, toFlicks).forEach((state, i) => {
    const other = others[i] ?? state;
    const [x, y, z] = state.positionM.map((value, axis) => value - (other.positionM[axis] ?? 0));
    metres = Math.max(metres, Math.hypot(x ?? 0, y ?? 0, z ?? 0));
    degrees = Math.max(degrees, angleBetweenDeg(state, other));
  });
  return { metres, degrees };
}

/** The angle by which one camera's head is turned against another's, degrees, 0 to 180. */
export function angleBetweenDeg(a: Pick<CameraState, 'quaternion'>, b: Pick<CameraState, 'quaternion'>): number {
  const [x, y, z, w] = combined(inverseRotation(a.quaternion), b.quaternion);
  return (2 * Math.atan2(Math.hypot(x, y, z), Math.abs(w)) * 180) / Math.PI;
}
