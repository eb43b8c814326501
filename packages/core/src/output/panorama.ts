import type { Vector } from '../space';
import type { Panorama } from './order';
import { CUBE_FACES } from './frame-files';
import type { CubeFaceName } from './frame-files';

/** Axes of a face of the cube round a camera: where it looks, its right and its up. x is to the right, y up, −z ahead. */
export interface FaceAxes {
  readonly ahead: Vector;
  readonly right: Vector;
  readonly up: Vector;
}

const UP: Vector = [0, 1, 0];

/** The faces of a cube: up and down adjoin the front face by their lower and upper edge. */
export const FACE_AXES: Readonly<Record<CubeFaceName, FaceAxes>> = {
  front: { ahead: [0, 0, -1], right: [1, 0, 0], up: UP },
  right: { ahead: [1, 0, 0], right: [0, 0, 1], up: UP },
  back: { ahead: [0, 0, 1], right: [-1, 0, 0], up: UP },
  left: { ahead: [-1, 0, 0], right: [0, 0, -1], up: UP },
  up: { ahead: UP, right: [1, 0, 0], up: [0, 0, 1] },
  down: { ahead: [0, -1, 0], right: [1, 0, 0], up: [0, 0, -1] },
};

/** Column and row of each face in a cross of four by three. */
export const CROSS_PLACES: Readonly<Record<CubeFaceName, readonly [column: number, row: number]>> = {
  left: [0, 1],
  front: [1, 1],
  right: [2, 1],
  back: [3, 1],
  up: [1, 0],
  down: [1, 2],
};

/** How a panorama is laid out: one of its kinds, or a single face of a cube. */
export type PanoramaLayout =
  | { readonly kind: 'sphere' }
  | { readonly kind: 'cylinder'; readonly halfHeight: number }
  | { readonly kind: 'cross' | 'strip' }
  | { readonly kind: 'face'; readonly face: CubeFaceName };

/** @param face of a cube in six files. */
export function layoutOf({ kind, cube, heightDeg }: Panorama, face?: CubeFaceName): PanoramaLayout {
  if (kind === 'sphere') return { kind };
  if (kind === 'cylinder') return { kind, halfHeight: Math.tan((heightDeg * Math.PI) / 360) };
  if (cube !== 'six') return { kind: cube };
  return { kind: 'face', face: face ?? 'front' };
}

/**
 * The direction that a place of a panorama shows, not of length 1: `x`, `y` from 0 to 1 from the left and the top. The middle of a
 * sphere or cylinder, and of the front face, is straight ahead, the horizon level. `undefined` in the corners of a cross.
 */
export function panoramaDirection(layout: PanoramaLayout, x: number, y: number): Vector | undefined {
  if (layout.kind === 'sphere' || layout.kind === 'cylinder') {
    const longitude = (x - 0.5) * 2 * Math.PI;
    if (layout.kind === 'cylinder') {
      return [Math.sin(longitude), (1 - 2 * y) * layout.halfHeight, -Math.cos(longitude)];
    }
    const latitude = (0.5 - y) * Math.PI;
    const flat = Math.cos(latitude);
    return [Math.sin(longitude) * flat, Math.sin(latitude), -Math.cos(longitude) * flat];
  }
  const [face, u, v] = faceAt(layout, x, y);
  if (!face) return undefined;
  const { ahead, right, up } = FACE_AXES[face];
  return ahead.map((value, i) => value + u * (right[i] ?? 0) + v * (up[i] ?? 0)) as unknown as Vector;
}

/** The face at a place, and where on it: from −1 to 1 to the right and up. */
function faceAt(
  layout: Extract<PanoramaLayout, { kind: 'cross' | 'strip' | 'face' }>,
  x: number,
  y: number,
): readonly [face: CubeFaceName | undefined, u: number, v: number] {
  const [columns, rows] = layout.kind === 'cross' ? [4, 3] : layout.kind === 'strip' ? [6, 1] : [1, 1];
  const column = Math.min(columns - 1, Math.floor(x * columns));
  const row = Math.min(rows - 1, Math.floor(y * rows));
  const within = [x * columns - column, y * rows - row] as const;
  const face =
    layout.kind === 'face'
      ? layout.face
      : layout.kind === 'strip'
        ? CUBE_FACES[column]
        : CUBE_FACES.find((name) => CROSS_PLACES[name][0] === column && CROSS_PLACES[name][1] === row);
  return [face, 2 * within[0] - 1, 1 - 2 * within[1]];
}
