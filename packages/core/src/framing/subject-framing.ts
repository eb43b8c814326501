import type { CameraState } from '../camera';
import { deliveredWindow, projectedLens } from '../camera';
import type { Placement } from '../model';
import type { FilmWindow } from '../optics';
import { projectPoint } from '../optics';
import type { Pieces } from '../set';
import { blockedBy, placementAt, placementBox, subjectPointAt } from '../set';
import type { Vector } from '../space';
import { inverseRotation, turned } from '../space';
import type { CutAt, ShotSize } from './shot-size';
import { cutAt, shotSize, shotSizeCut } from './shot-size';

/** How a subject sits in the frame. Shares are of the delivered frame, 0 at its left or top. */
export interface SubjectFraming {
  readonly placement: Placement;
  /** By what is really seen of it: who is cut by the frame's edge is as near as the cut says. */
  readonly size: ShotSize;
  /** Where the frame's lower edge cuts who stands; nothing where the feet are seen, or it is nobody. */
  readonly cutAt: CutAt | undefined;
  /** What stands before its eyes; nothing where they are seen. */
  readonly hidden: Placement | undefined;
  /** Along the optical axis, metres. */
  readonly distanceM: number;
  /** Space over the top of the head, share of the frame's height; negative when it is cut. */
  readonly headroom: number;
  /** Space in front of the face, share of the frame's width, and on which side; nothing when it faces the camera or away. */
  readonly lookRoom: { readonly share: number; readonly side: 'left' | 'right' } | undefined;
  readonly eyes: { readonly x: number; readonly y: number };
  readonly inFrame: boolean;
  /** Height of the frame over the height by which its size is told. */
  readonly frameShare: number;
  /** Height of the subject over the height of the frame. */
  readonly heightShare: number;
}

/** Halvings by which a cut is found: to a thousandth of a figure. */
const HALVINGS = 10;

/** A face turned less than this to the side looks at the camera or away from it, sine of the angle. */
const FACING = 0.26;

/**
 * How a placement sits in a camera's frame at a scene time; `undefined` when its eyes or its top are behind the camera. Its feet may
 * be: a close low angle sees a face over them.
 */
export function subjectFraming(
  pieces: Pieces,
  placement: Placement,
  state: CameraState,
  atFlicks: number,
): SubjectFraming | undefined {
  const lens = projectedLens(state);
  const window = deliveredWindow(state);
  const at = (point: 'eyes' | 'top') =>
    projectPoint(subjectPointAt(pieces, placement, point, atFlicks), state, lens, window);
  const [eyes, top] = [at('eyes'), at('top')];
  if (!eyes || !top) return undefined;
  const { minM, maxM } = placementBox(pieces, placement);
  const seenM = Math.max(1e-6, maxM[1] - minM[1]);
  const frameHeightM = heightOfFrameM(state, eyes.depthM);
  const { quaternion } = placementAt(pieces, placement.id, atFlicks);
  const statureMetres = statureM(placement, seenM);
  const shownM = shownHeightM(state, subjectPointAt(pieces, placement, 'top', atFlicks), seenM, window);
  const cut = isUpright(placement) && shownM < seenM;
  // The way the subject looks, seen from the camera: x to the right.
  const gaze = turned(turned([0, 0, -1], quaternion), inverseRotation(state.quaternion));
  const right = gaze[0] > 0;
  return {
    placement,
    size: cut ? shotSizeCut(frameHeightM / statureMetres, shownM / seenM) : shotSize(frameHeightM / statureMetres),
    cutAt: cut ? cutAt(shownM / seenM) : undefined,
    hidden: blockedBy(pieces, state.positionM, subjectPointAt(pieces, placement, 'eyes', atFlicks), atFlicks, [
      placement.id,
    ]),
    distanceM: eyes.depthM,
    headroom: top.y,
    lookRoom:
      Math.abs(gaze[0]) < FACING ? undefined : { share: right ? 1 - eyes.x : eyes.x, side: right ? 'right' : 'left' },
    eyes: { x: eyes.x, y: eyes.y },
    inFrame: eyes.x >= 0 && eyes.x <= 1 && eyes.y >= 0 && eyes.y <= 1,
    frameShare: frameHeightM / statureMetres,
    heightShare: seenM / frameHeightM,
  };
}

/** Whether it stands on its feet: a figure, or somebody who was imported. */
function isUpright({ piece }: Placement): boolean {
  return piece.kind === 'figure' ? piece.pose !== 'sitting' : piece.kind === 'geometry' && piece.eyesM !== null;
}

/** Height by which a shot size is told: a figure's standing one, so that the same face has the same size sitting. */
function statureM({ piece, scale }: Placement, seenM: number): number {
  return piece.kind === 'figure' ? Math.max(1e-6, piece.heightM * scale[1]) : seenM;
}

/** How much of a subject is over the frame's lower edge, from its top down, metres: found along its own upright line. */
function shownHeightM(state: CameraState, topM: Vector, seenM: number, window: FilmWindow): number {
  const lens = projectedLens(state);
  const isIn = (downM: number) => {
    const at = projectPoint([topM[0], topM[1] - downM, topM[2]], state, lens, window);
    return at !== undefined && at.y <= 1;
  };
  if (isIn(seenM)) return seenM;
  let [inside, outside] = [0, seenM];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (inside + outside) / 2;
    if (isIn(middle)) inside = middle;
    else outside = middle;
  }
  return inside;
}

/** Height of what the delivered frame shows at a distance along the axis, metres. */
function heightOfFrameM(state: CameraState, depthM: number): number {
  const { parallelMPerMm, focalLengthMm } = projectedLens(state);
  const { heightMm } = state.framing.used;
  return parallelMPerMm === null ? (heightMm * depthM) / focalLengthMm : heightMm * parallelMPerMm;
}
