import type { Vector } from './vector';
import { difference, dot } from './vector';

/** A half line: from a point, in a direction (unit vector). */
export interface Ray {
  readonly fromM: Vector;
  readonly direction: Vector;
}

/** Lines closer to parallel than this have no nearest point worth naming. */
const PARALLEL = 1e-6;

/**
 * How far along an axis (unit vector through `originM`) the point lies that comes nearest to a ray, metres.
 * `undefined` when both run the same way.
 */
export function alongAxis({ fromM, direction }: Ray, originM: Vector, axis: Vector): number | undefined {
  const between = difference(fromM, originM);
  const b = dot(direction, axis);
  const across = 1 - b * b;
  if (across < PARALLEL) return undefined;
  return (dot(axis, between) - b * dot(direction, between)) / across;
}

/** Where a ray meets the plane through `originM` with a normal; `undefined` when it runs along it or away from it. */
export function onPlane({ fromM, direction }: Ray, originM: Vector, normal: Vector): Vector | undefined {
  const toward = dot(direction, normal);
  if (Math.abs(toward) < PARALLEL) return undefined;
  const t = dot(difference(originM, fromM), normal) / toward;
  if (t < 0) return undefined;
  return [fromM[0] + direction[0] * t, fromM[1] + direction[1] * t, fromM[2] + direction[2] * t];
}

/** The nearest whole multiple of a step, without the noise of its last digits; a step of 0 leaves the value. */
export function snapped(value: number, step: number): number {
  return step > 0 ? Number((Math.round(value / step) * step).toPrecision(12)) : value;
}
