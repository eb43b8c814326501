import type { Camera, CameraState, Placement, Project, WalkPath } from '@arvex/core';
import {
  arrivalFlicks,
  eyesM,
  FLICKS_PER_SECOND,
  pathThrough,
  pieceFootprints,
  placementAt,
  turned,
  unsqueezedWidthMm,
  walkedM,
} from '@arvex/core';

/** A point of the plan: metres east (x) and south (z). */
export type PlanPoint = readonly [number, number];

/** A camera as it is drawn in plan. */
export interface PlanCamera {
  readonly camera: Camera;
  readonly state: CameraState;
  readonly colour: string;
  readonly current: boolean;
}

/** How far the handle at the end of a camera's axis is from it, pixels. */
const AIM_HANDLE_PX = 46;

/** Where that handle is: always as far on the screen. @param perPixel metres that a pixel is wide. */
export function aimHandle({ positionM, panDeg }: CameraState, perPixel: number): { x: number; z: number } {
  const angle = (panDeg * Math.PI) / 180;
  const away = AIM_HANDLE_PX * perPixel;
  return { x: positionM[0] + Math.sin(angle) * away, z: positionM[2] - Math.cos(angle) * away };
}

/** Outline of a part of a thing, as an SVG polygon's points. */
interface PlanOutline {
  readonly points: string;
  readonly topM: number;
}

/** A thing as it lies in the plan at a time. */
export interface PlanPiece {
  readonly placement: Placement;
  readonly outlines: readonly PlanOutline[];
  readonly at: PlanPoint;
  readonly topM: number;
  /** How far across it is, metres. */
  readonly acrossM: number;
  /** Which way somebody looks, on the floor; nothing for what has no eyes. */
  readonly facing: PlanPoint | undefined;
}

/** A thing's outlines and place at a scene time. */
export function planPiece(project: Project, placement: Placement, atFlicks: number): PlanPiece {
  const { positionM, quaternion } = placementAt(project, placement.id, atFlicks);
  const file = placement.assetId === null ? undefined : project.assets[placement.assetId]?.file;
  const [sx, sy, sz] = placement.scale;
  const spread = { minX: Infinity, maxX: -Infinity, minZ: Infinity, maxZ: -Infinity };
  const outlines = pieceFootprints(placement.piece, file).map(({ outline, topM }) => {
    const points = outline.map(([x, z]) => turned([x * sx, 0, z * sz], quaternion));
    for (const [x, , z] of points) {
      spread.minX = Math.min(spread.minX, x);
      spread.maxX = Math.max(spread.maxX, x);
      spread.minZ = Math.min(spread.minZ, z);
      spread.maxZ = Math.max(spread.maxZ, z);
    }
    return {
      topM: positionM[1] + topM * sy,
      points: points.map(([x, , z]) => `${round(x + positionM[0])},${round(z + positionM[2])}`).join(' '),
    };
  });
  const acrossM = Math.max(0, spread.maxX - spread.minX, spread.maxZ - spread.minZ);
  const topM = outlines.reduce((top, outline) => Math.max(top, outline.topM), positionM[1]);
  const [fx, , fz] = turned([0, 0, -1], quaternion);
  const facing = eyesM(placement) === undefined ? undefined : ([fx, fz] as const);
  return { placement, outlines, at: [positionM[0], positionM[2]], topM, acrossM, facing };
}

/** A walk as it is drawn: its line, its nodes, and where it has come to at each whole second. */
export interface PlanWalk {
  readonly line: string;
  readonly nodes: readonly PlanPoint[];
  readonly seconds: readonly { readonly at: PlanPoint; readonly second: number }[];
}

const MOST_SECONDS = 240;

/** The way of a walk that starts within the plan's own axes (nothing carries whoever walks). */
export function planWalk(walk: WalkPath): PlanWalk {
  const path = pathThrough(walk.nodesM, walk.closed);
  const steps = Math.min(400, Math.max(16, Math.ceil(path.lengthM / 0.4)));
  const line = Array.from({ length: steps + 1 }, (_, i) => path.pointAt((path.lengthM * i) / steps));
  const lasts = Math.ceil((arrivalFlicks(walk) - walk.startFlicks) / FLICKS_PER_SECOND);
  const seconds = Array.from({ length: Math.min(MOST_SECONDS, lasts) }, (_, second) => {
    const [x, , z] = path.pointAt(walkedM(walk, walk.startFlicks + second * FLICKS_PER_SECOND));
    return { second, at: [x, z] as const };
  });
  return {
    line: line.map(([x, , z]) => `${round(x)},${round(z)}`).join(' '),
    nodes: walk.nodesM.map(([x, , z]) => [x, z] as const),
    seconds,
  };
}

/** Unit vector on the floor toward which a camera's horizontal field has turned by `offsetDeg`. */
function floorDirection(state: CameraState, offsetDeg: number): PlanPoint {
  const angle = ((state.panDeg + offsetDeg) * Math.PI) / 180;
  return [Math.sin(angle), -Math.cos(angle)];
}

/** Edges of what is delivered, degrees from the axis to the left and right, lens shift counted. */
function fieldEdgesDeg(state: CameraState): [number, number] {
  const { lens, framing, filmBack } = state;
  const shift = lens.shiftXMm * filmBack.squeeze;
  const half = framing.used.widthMm / 2;
  return [shift - half, shift + half].map((mm) => (Math.atan(mm / lens.focalLengthMm) * 180) / Math.PI) as [
    number,
    number,
  ];
}

/** Corners of the field at a distance along the axis: to the left and to the right. Parallel sight is as wide everywhere. */
function fieldAt(state: CameraState, depthM: number): [PlanPoint, PlanPoint] {
  const [x, , z] = state.positionM;
  const { parallelWidthM } = state.lens;
  if (parallelWidthM !== null) {
    const half = (parallelWidthM * state.framing.used.widthMm) / unsqueezedWidthMm(state.filmBack) / 2;
    const [dx, dz] = floorDirection(state, 0);
    const corner = (side: number): PlanPoint => [x + dx * depthM - dz * side, z + dz * depthM + dx * side];
    return [corner(-half), corner(half)];
  }
  return fieldEdgesDeg(state).map((edgeDeg): PlanPoint => {
    const [dx, dz] = floorDirection(state, edgeDeg);
    const away = depthM / Math.cos((edgeDeg * Math.PI) / 180);
    return [x + dx * away, z + dz * away];
  }) as [PlanPoint, PlanPoint];
}

const spot = ([x, z]: PlanPoint): string => `${round(x)} ${round(z)}`;

/** The field from `nearM` to `farM` along the axis as an SVG path. Limits are planes across the axis, not arcs. */
export function fieldPath(state: CameraState, nearM: number, farM: number): string {
  const [nearLeft, nearRight] = fieldAt(state, nearM);
  const [farLeft, farRight] = fieldAt(state, farM);
  return `M${spot(nearLeft)}L${spot(farLeft)}L${spot(farRight)}L${spot(nearRight)}Z`;
}

/** The two sides of the field, open at their end: what a lens sees goes on. */
export function fieldSides(state: CameraState, nearM: number, farM: number): string {
  const [near, far] = [fieldAt(state, nearM), fieldAt(state, farM)];
  return `M${spot(near[0])}L${spot(far[0])}M${spot(near[1])}L${spot(far[1])}`;
}

/** A plane across the field at a distance, with the place of its name. */
export function acrossField(state: CameraState, depthM: number): { readonly path: string; readonly end: PlanPoint } {
  const [left, right] = fieldAt(state, depthM);
  return { path: `M${spot(left)}L${spot(right)}`, end: right };
}

const round = (value: number): number => Math.round(value * 1000) / 1000;

/** A round length, 1, 2 or 5 times a power of ten of a unit, at most `metres`; `unitM` is the unit's size. */
export function roundLengthM(metres: number, unitM = 1): number {
  const count = metres / unitM;
  const power = 10 ** Math.floor(Math.log10(count));
  return ([5, 2, 1].find((step) => step * power <= count) ?? 1) * power * unitM;
}

/** Lightness share of a thing by its height: floors faint, towers strong. Each fourfold height adds a step. */
export function heightShade(topM: number): number {
  return Math.max(0.35, Math.min(1, 0.45 + 0.13 * Math.log2(Math.max(0.25, topM) + 0.5)));
}
