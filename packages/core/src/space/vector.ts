/** Three numbers along X (east), Y (up) and Z (south): a place or a way in metres, or a direction of length 1. */
export type Vector = readonly [number, number, number];

/** a + b. */
export const sum = (a: Vector, b: Vector): Vector => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];

/** a − b: the way from b to a. */
export const difference = (a: Vector, b: Vector): Vector => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];

/** a, `factor` times as long. */
export const scaled = (a: Vector, factor: number): Vector => [a[0] * factor, a[1] * factor, a[2] * factor];

/** The scalar product: for unit vectors the cosine of the angle between them. */
export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
/** How far two places are from each other. */
export const distanceBetween = (a: Vector, b: Vector): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** A vector made axis by axis: 0 is X, 1 is Y, 2 is Z. */
export const eachAxis = (value: (axis: 0 | 1 | 2) => number): Vector => [value(0), value(1), value(2)];

/** A vector with another number on one axis. */
export const withAxis = (vector: Vector, axis: number, value: number): Vector =>
  eachAxis((one) => (one === axis ? value : vector[one]));
