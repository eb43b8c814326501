import type { CameraState } from '../camera';
import { cameraAt, channelValuesAt } from '../camera';
import type { Placement, Project } from '../model';
import { moveOf, trackShape } from '../model';
import type { CutShot } from '../sequence';
import { sceneTimeOf } from '../sequence';
import { isGround, isShown, placementAt, placementBox, pieceFootprints } from '../set';
import type { Vector } from '../space';
import { difference, inverseRotation, pathThrough, turned } from '../space';

/** Room that a camera with its lens and head takes round its entrance pupil, metres. */
export const CAMERA_BODY_M = 0.25;
/** Frames of a shot that are looked at, at most. */
const MOST_FRAMES = 160;

/** Why a shot could not be taken so, over which frames of the project, and how much is missing. */
export interface RigTrouble {
  readonly kind: 'too-near' | 'under-ground' | 'off-the-rail' | 'closest-focus';
  readonly message: string;
  readonly fromFrame: number;
  readonly toFrame: number;
  /** Where it is worst. */
  readonly atM: Vector;
  readonly shotFrame: number;
}

/** What is wrong with one frame, and by how much, metres: the more the worse. */
interface Wrong {
  readonly kind: RigTrouble['kind'];
  readonly what: string;
  readonly by: number;
  readonly words: (by: number) => string;
}

/**
 * Whether a crew could take a shot so: its camera clear of the pieces of the set and over the ground, its rig within reach, its focus
 * possible. How near imported geometry is is measured on the stage, which knows its surfaces.
 */
export function riggingOf(project: Project, placed: CutShot): RigTrouble[] {
  const { cameraId } = placed.shot;
  if (cameraId === null || placed.shot.insideId !== null || !project.cameras[cameraId]) return [];
  const { rate, firstFrame } = project.head;
  const step = Math.max(1, Math.ceil(placed.frameCount / MOST_FRAMES));
  const solids = Object.values(project.placements).filter((one) => isShown(project, one) && isComputed(one));
  const found = new Map<string, { worst: Wrong; first: number; last: number; at: number; atM: Vector }>();
  for (let frame = 0; frame < placed.frameCount; frame += step) {
    const atFlicks = sceneTimeOf(placed, frame, rate);
    const state = cameraAt(project, cameraId, atFlicks);
    for (const wrong of [
      ...nearness(project, solids, state, atFlicks),
      ...reach(project, cameraId, atFlicks),
      ...focus(state),
    ]) {
      const key = `${wrong.kind} ${wrong.what}`;
      const known = found.get(key);
      const isWorst = !known || wrong.by > known.worst.by;
      found.set(key, {
        worst: isWorst ? wrong : known.worst,
        first: known?.first ?? frame,
        last: frame,
        at: isWorst ? frame : known.at,
        atM: isWorst ? state.positionM : known.atM,
      });
    }
  }
  const number = (frame: number) => firstFrame + placed.startFrame + frame;
  return [...found.values()].map(({ worst, first, last, at, atM }) => ({
    kind: worst.kind,
    message: `${worst.words(worst.by)}, frames ${number(first)} to ${number(last)}`,
    fromFrame: number(first),
    toFrame: number(last),
    atM,
    shotFrame: at,
  }));
}

/** Whether the distance to a thing can be worked out from its sizes. For imported geometry and for subjects the stage measures it. */
export function isComputed({ piece, subject }: Placement): boolean {
  return !subject && piece.kind !== 'geometry';
}

/** What of the set is nearer than the camera's body has room, and ground that it is under. */
function nearness(
  project: Project,
  solids: readonly Placement[],
  { positionM }: CameraState,
  atFlicks: number,
): Wrong[] {
  return solids.flatMap((placement): Wrong[] => {
    const frame = placementAt(project, placement.id, atFlicks);
    const local = turned(difference(positionM, frame.positionM), inverseRotation(frame.quaternion));
    if (placement.piece.kind === 'ground' || isGround(project, placement)) {
      const over = local[1] - groundTop(project, placement);
      if (placement.piece.kind !== 'ground' || over >= CAMERA_BODY_M || isBeside(project, placement, local)) return [];
      const words = (by: number) =>
        `the camera has ${(CAMERA_BODY_M - by).toFixed(2)} m over ${placement.name}, and takes ${CAMERA_BODY_M} m`;
      return [{ kind: 'under-ground', what: placement.id, by: CAMERA_BODY_M - over, words }];
    }
    const away = distanceTo(project, placement, local);
    if (away >= CAMERA_BODY_M) return [];
    const words = (by: number) =>
      by >= CAMERA_BODY_M
        ? `the camera is inside ${placement.name}`
        : `${placement.name} is ${(CAMERA_BODY_M - by).toFixed(2)} m from the camera, which takes ${CAMERA_BODY_M} m`;
    return [{ kind: 'too-near', what: placement.id, by: CAMERA_BODY_M - away, words }];
  });
}

const groundTop = (project: Project, placement: Placement): number => placementBox(project, placement).maxM[1];

/** Whether a place is off a ground by more than a camera's body, seen from above. */
function isBeside(project: Project, placement: Placement, [x, , z]: Vector): boolean {
  const {
    minM: [west, , north],
    maxM: [east, , south],
  } = placementBox(project, placement);
  const outline = [
    [west, north],
    [east, north],
    [east, south],
    [west, south],
  ] as const;
  return outsideOf(outline, x, z) >= CAMERA_BODY_M;
}

/** How far a place is from the parts of a thing, metres, by their outlines from above and their heights; 0 inside. */
function distanceTo(project: Project, placement: Placement, [x, y, z]: Vector): number {
  const { assetId, piece, scale } = placement;
  const file = assetId === null ? undefined : project.assets[assetId]?.file;
  let nearest = Infinity;
  for (const { outline, bottomM, topM } of pieceFootprints(piece, file)) {
    const [low, high] = [bottomM * scale[1], topM * scale[1]];
    const vertical = Math.max(low - y, y - high, 0);
    if (vertical >= CAMERA_BODY_M) continue;
    const points = outline.map(([px, pz]) => [px * scale[0], pz * scale[2]] as const);
    nearest = Math.min(nearest, Math.hypot(vertical, outsideOf(points, x, z)));
  }
  return nearest;
}

/** How far a place is outside of a convex outline, metres; 0 inside. */
function outsideOf(points: readonly (readonly [number, number])[], x: number, z: number): number {
  let [nearest, sides] = [Infinity, 0];
  for (const [i, [ax, az]] of points.entries()) {
    const [bx, bz] = points[(i + 1) % points.length] ?? [ax, az];
    const [dx, dz] = [bx - ax, bz - az];
    const length = dx * dx + dz * dz;
    const along = length === 0 ? 0 : Math.max(0, Math.min(1, ((x - ax) * dx + (z - az) * dz) / length));
    nearest = Math.min(nearest, Math.hypot(x - ax - along * dx, z - az - along * dz));
    sides += Math.sign(dx * (z - az) - dz * (x - ax));
  }
  return Math.abs(sides) === points.length ? 0 : nearest;
}

/** Whether a camera on a rail is kept within its track. */
function reach(project: Project, cameraId: string, atFlicks: number): Wrong[] {
  const camera = project.cameras[cameraId];
  if (camera?.rig.kind !== 'rail' || camera.rig.closed) return [];
  const typed = channelValuesAt(camera, moveOf(project, cameraId), atFlicks).along;
  const { lengthM } = pathThrough(camera.rig.nodesM, camera.rig.closed, trackShape(camera.rig));
  const along = camera.rig.by === 'share' ? (typed / 100) * lengthM : typed;
  const past = Math.max(-along, along - lengthM);
  if (past <= 1e-3) return [];
  const words = (by: number) => `the dolly is ${by.toFixed(2)} m past the end of its ${lengthM.toFixed(2)} m track`;
  return [{ kind: 'off-the-rail', what: 'rail', by: past, words }];
}

/** Whether the lens can be focused so near. */
function focus({ focus: { distanceM }, lens: { kitLens } }: CameraState): Wrong[] {
  const closest = kitLens?.closestM;
  if (closest === undefined || distanceM >= closest) return [];
  const words = (by: number) => `the focus is at ${(closest - by).toFixed(2)} m, and the lens begins at ${closest} m`;
  return [{ kind: 'closest-focus', what: 'lens', by: closest - distanceM, words }];
}
