import { Matrix4 } from 'three/src/math/Matrix4.js';
import { Quaternion } from 'three/src/math/Quaternion.js';
import { Vector3 } from 'three/src/math/Vector3.js';
import type { Vector } from '../space';
import { difference, inverseRotation, scaled, sum, turned } from '../space';
import { distortionFactor, foldSquared, undistortionFactor } from './distortion';

/** A window on the plane of the film, in mm from the optical axis, squeeze undone; right and up are positive. */
export interface FilmWindow {
  readonly leftMm: number;
  readonly rightMm: number;
  readonly bottomMm: number;
  readonly topMm: number;
}

/** What a projection needs to know of a camera. */
export interface ProjectedLens {
  /** With breathing, where the camera counts it. */
  readonly focalLengthMm: number;
  readonly squeeze: number;
  /** Lens shift on the film back, mm; right and up in the picture are positive. */
  readonly shiftXMm: number;
  readonly shiftYMm: number;
  readonly nearM: number;
  readonly farM: number;
  /** Radial distortion; 0 for none. */
  readonly k1: number;
  /** Metres of the world for each mm of film, when lines of sight run parallel; `null` for a perspective. */
  readonly parallelMPerMm: number | null;
}

/** Where a camera stands: entrance pupil in metres, rotation from camera to world. */
export interface ProjectedPose {
  readonly positionM: Vector;
  readonly quaternion: readonly [number, number, number, number];
}

/** The window of `widthMm` × `heightMm` centred on the film back. */
export function centredWindow(widthMm: number, heightMm: number): FilmWindow {
  return { leftMm: -widthMm / 2, rightMm: widthMm / 2, bottomMm: -heightMm / 2, topMm: heightMm / 2 };
}

/** Points along each side of a window that are followed through distortion. */
const SIDE_POINTS = 16;

/**
 * Projection matrix for a window on the film plane: an off-axis frustum (shift moves it without turning the camera), or
 * a box for parallel sight. Distortion is not a matrix: pictures are drawn through {@link idealWindow} and bent after.
 * Clip space as in OpenGL (z from −1 to 1). Every picture, pick, overlay and export uses this one matrix.
 */
export function projectionMatrix(lens: ProjectedLens, window: FilmWindow): Matrix4 {
  const shiftX = lens.shiftXMm * lens.squeeze;
  const sides = [
    window.leftMm + shiftX,
    window.rightMm + shiftX,
    window.topMm + lens.shiftYMm,
    window.bottomMm + lens.shiftYMm,
  ] as const;
  const scale = lens.parallelMPerMm ?? lens.nearM / lens.focalLengthMm;
  const [left, right, top, bottom] = sides.map((mm) => mm * scale) as [number, number, number, number];
  const matrix = new Matrix4();
  return lens.parallelMPerMm === null
    ? matrix.makePerspective(left, right, top, bottom, lens.nearM, lens.farM)
    : matrix.makeOrthographic(left, right, top, bottom, lens.nearM, lens.farM);
}

/** The window on the film of the same lens without distortion in which everything lies that a distorted window shows. */
export function idealWindow(lens: ProjectedLens, window: FilmWindow): FilmWindow {
  if (lens.k1 === 0) return window;
  const { leftMm, rightMm, bottomMm, topMm } = window;
  const ideal = { leftMm: Infinity, rightMm: -Infinity, bottomMm: Infinity, topMm: -Infinity };
  for (let i = 0; i <= SIDE_POINTS; i++) {
    const [x, y] = [leftMm + ((rightMm - leftMm) * i) / SIDE_POINTS, bottomMm + ((topMm - bottomMm) * i) / SIDE_POINTS];
    for (const [xMm, yMm] of [
      [x, topMm],
      [x, bottomMm],
      [leftMm, y],
      [rightMm, y],
    ] as const) {
      const [idealX, idealY] = undistorted(lens, xMm, yMm);
      ideal.leftMm = Math.min(ideal.leftMm, idealX);
      ideal.rightMm = Math.max(ideal.rightMm, idealX);
      ideal.bottomMm = Math.min(ideal.bottomMm, idealY);
      ideal.topMm = Math.max(ideal.topMm, idealY);
    }
  }
  return ideal;
}

/** A point of the film plane (mm, shift not counted) with distortion undone. */
function undistorted(lens: ProjectedLens, xMm: number, yMm: number): [number, number] {
  const [shiftX, shiftY] = [lens.shiftXMm * lens.squeeze, lens.shiftYMm];
  const [x, y] = [(xMm + shiftX) / lens.focalLengthMm, (yMm + shiftY) / lens.focalLengthMm];
  const factor = undistortionFactor(lens.k1, x, y);
  return [x * factor * lens.focalLengthMm - shiftX, y * factor * lens.focalLengthMm - shiftY];
}

/** Matrix from camera to world: right-handed, +Y up, the camera looks along its −Z. */
export function cameraToWorld(pose: ProjectedPose): Matrix4 {
  return new Matrix4().compose(
    new Vector3(...pose.positionM),
    new Quaternion(...pose.quaternion),
    new Vector3(1, 1, 1),
  );
}

/** A point in the window: 0, 0 is the top left corner and 1, 1 the bottom right; `depthM` is along the axis. */
export interface WindowPoint {
  readonly x: number;
  readonly y: number;
  readonly depthM: number;
}

/**
 * Where a world point (metres) falls in the window. `undefined` for points beside or behind the entrance pupil, and for those that
 * a barrel distortion folds back: no ray brings them to the film.
 */
export function projectPoint(
  point: Vector,
  pose: ProjectedPose,
  lens: ProjectedLens,
  window: FilmWindow,
): WindowPoint | undefined {
  const [right, up, back] = turned(difference(point, pose.positionM), inverseRotation(pose.quaternion));
  if (back >= 0) return undefined;
  const depthM = -back;
  const { focalLengthMm, parallelMPerMm, k1 } = lens;
  const perMetre = parallelMPerMm === null ? focalLengthMm / depthM : 1 / parallelMPerMm;
  const [axisX, axisY] = [right * perMetre, up * perMetre];
  const [x, y] = [axisX / focalLengthMm, axisY / focalLengthMm];
  if (x * x + y * y > foldSquared(k1)) return undefined;
  const factor = distortionFactor(k1, x, y);
  const xMm = axisX * factor - lens.shiftXMm * lens.squeeze;
  const yMm = axisY * factor - lens.shiftYMm;
  return {
    x: (xMm - window.leftMm) / (window.rightMm - window.leftMm),
    y: (window.topMm - yMm) / (window.topMm - window.bottomMm),
    depthM,
  };
}

/** The line of sight through a window point (0…1, top left origin): where it starts, metres, and its unit direction. */
export function sightThrough(
  x: number,
  y: number,
  pose: ProjectedPose,
  lens: ProjectedLens,
  window: FilmWindow,
): { fromM: Vector; direction: Vector } {
  const [xMm, yMm] = undistorted(
    lens,
    window.leftMm + x * (window.rightMm - window.leftMm),
    window.topMm - y * (window.topMm - window.bottomMm),
  );
  const [axisX, axisY] = [xMm + lens.shiftXMm * lens.squeeze, yMm + lens.shiftYMm];
  if (lens.parallelMPerMm === null) {
    const length = Math.hypot(axisX, axisY, lens.focalLengthMm);
    const along = scaled([axisX, axisY, -lens.focalLengthMm], 1 / length);
    return { fromM: pose.positionM, direction: turned(along, pose.quaternion) };
  }
  const aside = turned(scaled([axisX, axisY, 0], lens.parallelMPerMm), pose.quaternion);
  return { fromM: sum(pose.positionM, aside), direction: turned([0, 0, -1], pose.quaternion) };
}
