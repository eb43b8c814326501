/** A table of colours over a cube: red changes fastest, as in the file. */
export interface Lut {
  /** Points along each side. */
  readonly size: number;
  /** Red, green and blue of each point. */
  readonly values: Float32Array;
  /** What the first and the last point of each side stand for. */
  readonly from: readonly [number, number, number];
  readonly to: readonly [number, number, number];
}

/**
 * A colour through a table, between its points as the corners of the tetrahedron have it in which it lies (Kasson et al., 1995). Beyond
 * the table it is taken at its side. Written into `colour`.
 */
export function throughLut(colour: [number, number, number], { size, values, from, to }: Lut): void {
  const most = size - 1;
  const at = (i: 0 | 1 | 2) => Math.min(1, Math.max(0, (colour[i] - from[i]) / (to[i] - from[i]))) * most;
  const [x, y, z] = [at(0), at(1), at(2)];
  const base = (value: number) => Math.min(most - 1, Math.floor(value));
  const [bx, by, bz] = [base(x), base(y), base(z)];
  const [fx, fy, fz] = [x - bx, y - by, z - bz];
  const corner = (dx: number, dy: number, dz: number) => ((bz + dz) * size * size + (by + dy) * size + bx + dx) * 3;
  // From the first corner to the last one along the axes, the farthest first.
  const [one, two] = wayThrough(fx, fy, fz);
  const [high, middle, low] = [fx, fy, fz].sort((a, b) => b - a) as [number, number, number];
  const [c0, c1, c2, c3] = [corner(0, 0, 0), corner(...one), corner(...two), corner(1, 1, 1)];
  for (let i = 0 as 0 | 1 | 2; i < 3; i++) {
    colour[i] =
      (1 - high) * (values[c0 + i] ?? 0) +
      (high - middle) * (values[c1 + i] ?? 0) +
      (middle - low) * (values[c2 + i] ?? 0) +
      low * (values[c3 + i] ?? 0);
  }
}

type Corner = readonly [number, number, number];

function wayThrough(fx: number, fy: number, fz: number): readonly [Corner, Corner] {
  if (fx >= fy) {
    if (fy >= fz) return [X, XY];
    return fx >= fz ? [X, XZ] : [Z, XZ];
  }
  if (fx >= fz) return [Y, XY];
  return fy >= fz ? [Y, YZ] : [Z, YZ];
}

const X: Corner = [1, 0, 0];
const Y: Corner = [0, 1, 0];
const Z: Corner = [0, 0, 1];
const XY: Corner = [1, 1, 0];
const XZ: Corner = [1, 0, 1];
const YZ: Corner = [0, 1, 1];
