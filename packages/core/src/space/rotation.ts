import type { Vector } from './vector';

/** Pan, tilt and roll in degrees, unwrapped: pan to the right, tilt upward, roll clockwise as the operator sees it. */
export interface HeadAngles {
  readonly panDeg: number;
  readonly tiltDeg: number;
  readonly rollDeg: number;
}

export type Rotation = readonly [number, number, number, number];

const HALF_RADIANS = Math.PI / 360;

/**
 * Rotation from camera to world as a unit quaternion (x, y, z, w), `w` not negative.
 * Applied pan, then tilt, then roll; 0, 0, 0 looks along −Z. Pan of 90° looks along +X.
 */
export function rotationOf({ panDeg, tiltDeg, rollDeg }: HeadAngles): Rotation {
  const panCos = Math.cos(-panDeg * HALF_RADIANS);
  const panSin = Math.sin(-panDeg * HALF_RADIANS);
  const tiltCos = Math.cos(tiltDeg * HALF_RADIANS);
  const tiltSin = Math.sin(tiltDeg * HALF_RADIANS);
  const rollCos = Math.cos(-rollDeg * HALF_RADIANS);
  const rollSin = Math.sin(-rollDeg * HALF_RADIANS);
  const w = panCos * tiltCos;
  const x = panCos * tiltSin;
  const y = panSin * tiltCos;
  const z = -panSin * tiltSin;
  const rolledW = w * rollCos - z * rollSin;
  const sign = rolledW < 0 ? -1 : 1;
  return [
    sign * (x * rollCos + y * rollSin),
    sign * (y * rollCos - x * rollSin),
    sign * (z * rollCos + w * rollSin),
    sign * rolledW,
  ];
}

/** A vector turned by a unit quaternion. */
export function turned([x, y, z]: Vector, [qx, qy, qz, qw]: Rotation): Vector {
  const tx = 2 * (qy * z - qz * y);
  const ty = 2 * (qz * x - qx * z);
  const tz = 2 * (qx * y - qy * x);
  return [x + qw * tx + qy * tz - qz * ty, y + qw * ty + qz * tx - qx * tz, z + qw * tz + qx * ty - qy * tx];
}

/** The rotation that does the second one first: a thing's turn within what carries it, seen from the world. */
export function combined([ax, ay, az, aw]: Rotation, [bx, by, bz, bw]: Rotation): Rotation {
  return [
    aw * bx + ax * bw + ay * bz - az * by,
    aw * by - ax * bz + ay * bw + az * bx,
    aw * bz + ax * by - ay * bx + az * bw,
    aw * bw - ax * bx - ay * by - az * bz,
  ];
}

/** Pan, tilt and roll in degrees of a rotation: pan and roll within ±180°, tilt within ±90°. Inverse of {@link rotationOf}. */
export function anglesOf(rotation: Rotation): HeadAngles {
  const forward = turned([0, 0, -1], rotation);
  const { panDeg, tiltDeg } = anglesToward([0, 0, 0], forward);
  // What is left once pan and tilt are taken back is a turn about the axis.
  const [, , z, w] = combined(inverseRotation(rotationOf({ panDeg, tiltDeg, rollDeg: 0 })), rotation);
  return { panDeg, tiltDeg, rollDeg: unwrappedNear((-2 * Math.atan2(z, w) * 180) / Math.PI, 0) };
}

/** The inverse of a unit quaternion. */
export function inverseRotation([x, y, z, w]: Rotation): Rotation {
  return [-x, -y, -z, w];
}

/** Pan and tilt in degrees that look from one point to another; roll is 0. Straight up or down keeps pan 0. */
export function anglesToward(from: Vector, to: Vector): HeadAngles {
  const dx = to[0] - from[0];
  const dy = to[1] - from[1];
  const dz = to[2] - from[2];
  const degrees = 180 / Math.PI;
  return {
    panDeg: dx === 0 && dz === 0 ? 0 : Math.atan2(dx, -dz) * degrees,
    tiltDeg: Math.atan2(dy, Math.hypot(dx, dz)) * degrees,
    rollDeg: 0,
  };
}

/** `angleDeg` plus the whole turns that bring it within half a turn of `nearDeg`. */
export function unwrappedNear(angleDeg: number, nearDeg: number): number {
  return angleDeg + 360 * Math.round((nearDeg - angleDeg) / 360);
}
