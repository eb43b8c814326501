import type { Project } from '../model';
import { combined, distanceBetween, inverseRotation } from '../space';
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

/**
 * A short stretch is compared at about so many moments: slowed down, what lies between halves of a frame is seen. Twice as many as
 * baking samples, so that some lie between its keys.
 */
const SHORT_MOMENTS = 480;

/**
 * The greatest deviation between a camera of two projects over a stretch: at every frame and between each two, as a shutter sees
 * it; more finely where the stretch is short, and at 72 000 moments, evenly, where it is longer than ten minutes.
 */
export function deviation(a: Project, b: Project, cameraId: string, fromFlicks: number, toFlicks: number): Deviation {
  const half = flicksPerFrame(a.head.rate) / 2;
  const span = toFlicks - fromFlicks;
  const parts = Math.max(1, Math.ceil((SHORT_MOMENTS * half) / Math.max(span, half)));
  const step = Math.max(half / parts, span / (2 * MOST_FRAMES));
  let [metres, degrees] = [0, 0];
  for (let i = 0; i <= Math.round(span / step); i++) {
    const at = Math.round(fromFlicks + i * step);
    const [state, other] = [cameraAt(a, cameraId, at), cameraAt(b, cameraId, at)];
    metres = Math.max(metres, distanceBetween(state.positionM, other.positionM));
    degrees = Math.max(degrees, angleBetweenDeg(state, other));
  }
  return { metres, degrees };
}

/** The angle by which one camera's head is turned against another's, degrees, 0 to 180. */
export function angleBetweenDeg(a: Pick<CameraState, 'quaternion'>, b: Pick<CameraState, 'quaternion'>): number {
  const [x, y, z, w] = combined(inverseRotation(a.quaternion), b.quaternion);
  return (2 * Math.atan2(Math.hypot(x, y, z), Math.abs(w)) * 180) / Math.PI;
}
