import type { Rotation } from './rotation';
import { combined, inverseRotation, turned } from './rotation';
import type { Vector } from './vector';

/** A place, metres, and a turn. */
export interface Frame {
  readonly positionM: Vector;
  readonly quaternion: Rotation;
}

/** A place and turn of the world as seen within a frame. */
export function within(frame: Frame, { positionM: [x, y, z], quaternion }: Frame): Frame {
  const back = inverseRotation(frame.quaternion);
  const [fx, fy, fz] = frame.positionM;
  return { positionM: turned([x - fx, y - fy, z - fz], back), quaternion: combined(back, quaternion) };
}
