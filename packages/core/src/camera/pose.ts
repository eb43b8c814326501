import type { Camera, ChannelValues, Pose } from '../model';
import type { Vector } from '../space';
import { turned } from '../space';
import type { CameraState } from './camera-state';

/** The pose in a camera's state. */
export function poseOf({ positionM: [x, y, z], panDeg, tiltDeg, rollDeg }: CameraState): Camera['pose'] {
  return { positionM: [x, y, z], panDeg, tiltDeg, rollDeg };
}

/** The point a camera is focused on, on its axis. */
export function ahead({ positionM: [x, y, z], quaternion, focus }: CameraState): Vector {
  const [dx, dy, dz] = turned([0, 0, -Math.min(1000, focus.distanceM)], quaternion);
  return [x + dx, y + dy, z + dz];
}

/** A pose as channel values of the world. */
export function worldValues({ positionM, panDeg, tiltDeg, rollDeg }: Pose): ChannelValues {
  const [positionX, positionY, positionZ] = positionM;
  return { positionX, positionY, positionZ, pan: panDeg, tilt: tiltDeg, roll: rollDeg };
}
