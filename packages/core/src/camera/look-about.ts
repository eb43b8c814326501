import type { Pose } from '../model';
import type { Vector } from '../space';
import { inverseRotation, rotationOf, turned } from '../space';

/** Looking straighter up or down than this would leave no way to tell which way is up, degrees. */
const STEEPEST_TILT_DEG = 89;

/** Closest the wheel brings the eye to the point it approaches, metres. */
const CLOSEST_APPROACH_M = 0.05;

/**
 * Turns a view about a point in the world, which stays where it is in the picture.
 * @param panDeg to the right, @param tiltDeg upward; the tilt stops at ±89°.
 */
export function turnAbout(pose: Pose, pivot: Vector, panDeg: number, tiltDeg: number): Pose {
  const tilt = Math.max(-STEEPEST_TILT_DEG, Math.min(STEEPEST_TILT_DEG, pose.tiltDeg + tiltDeg));
  const angles = { panDeg: pose.panDeg + panDeg, tiltDeg: tilt, rollDeg: pose.rollDeg };
  const [x, y, z] = pose.positionM;
  const offset: Vector = [x - pivot[0], y - pivot[1], z - pivot[2]];
  const moved = turned(turned(offset, inverseRotation(rotationOf(pose))), rotationOf(angles));
  return { ...angles, positionM: [pivot[0] + moved[0], pivot[1] + moved[1], pivot[2] + moved[2]] };
}

/** Slides a view along its own right and up axes, metres. */
export function slide(pose: Pose, rightM: number, upM: number): Pose {
  const [dx, dy, dz] = turned([rightM, upM, 0], rotationOf(pose));
  const [x, y, z] = pose.positionM;
  return { ...pose, positionM: [x + dx, y + dy, z + dz] };
}

/** Moves a view toward a point (`factor` under 1) or away from it (over 1): its distance is multiplied by `factor`. */
export function approach(pose: Pose, target: Vector, factor: number): Pose {
  const [x, y, z] = pose.positionM;
  const distance = Math.hypot(x - target[0], y - target[1], z - target[2]);
  if (distance === 0 || (factor < 1 && distance * factor < CLOSEST_APPROACH_M)) return pose;
  return {
    ...pose,
    positionM: [
      target[0] + (x - target[0]) * factor,
      target[1] + (y - target[1]) * factor,
      target[2] + (z - target[2]) * factor,
    ],
  };
}
