import type { CameraState } from '../camera';
import { deliveredWindow, projectedLens } from '../camera';
import type { Placement } from '../model';
import { projectPoint } from '../optics';
import type { Pieces } from '../set';
import { placementAt, placementBox, subjectPointAt, subjectsIn } from '../set';
import { inverseRotation, turned } from '../space';
import type { ShotSize } from './shot-size';
import { shotSize } from './shot-size';

/** How a subject sits in the frame. Shares are of the delivered frame, 0 at its left or top. */
export interface SubjectFraming {
  readonly placement: Placement;
  readonly size: ShotSize;
  /** Along the optical axis, metres. */
  readonly distanceM: number;
  /** Space over the top of the head, share of the frame's height; negative when it is cut. */
  readonly headroom: number;
  /** Space in front of the face, share of the frame's width, and on which side; nothing when it faces the camera or away. */
  readonly lookRoom: { readonly share: number; readonly side: 'left' | 'right' } | undefined;
  readonly eyes: { readonly x: number; readonly y: number };
  readonly inFrame: boolean;
  /** Height of the subject over the height of the frame. */
  readonly heightShare: number;
}

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
  // The way the subject looks, seen from the camera: x to the right.
  const gaze = turned(turned([0, 0, -1], quaternion), inverseRotation(state.quaternion));
  const right = gaze[0] > 0;
  return {
    placement,
    size: shotSize(frameHeightM / statureM(placement, seenM)),
    distanceM: eyes.depthM,
    headroom: top.y,
    lookRoom:
      Math.abs(gaze[0]) < FACING ? undefined : { share: right ? 1 - eyes.x : eyes.x, side: right ? 'right' : 'left' },
    eyes: { x: eyes.x, y: eyes.y },
    inFrame: eyes.x >= 0 && eyes.x <= 1 && eyes.y >= 0 && eyes.y <= 1,
    heightShare: seenM / frameHeightM,
  };
}

/** Height by which a shot size is told: a figure's standing one, so that the same face has the same size sitting. */
function statureM({ piece, scale }: Placement, seenM: number): number {
  return piece.kind === 'figure' ? Math.max(1e-6, piece.heightM * scale[1]) : seenM;
}

/** Height of what the delivered frame shows at a distance along the axis, metres. */
function heightOfFrameM(state: CameraState, depthM: number): number {
  const { parallelMPerMm, focalLengthMm } = projectedLens(state);
  const { heightMm } = state.framing.used;
  return parallelMPerMm === null ? (heightMm * depthM) / focalLengthMm : heightMm * parallelMPerMm;
}

/** The subject a camera is judged by: the chosen one, else the one in the frame whose face is largest. */
export function chosenSubject(pieces: Pieces, state: CameraState, atFlicks: number): SubjectFraming | undefined {
  const chosen = state.framing.subjectId === null ? undefined : pieces.placements[state.framing.subjectId];
  if (chosen) return subjectFraming(pieces, chosen, state, atFlicks);
  return subjectsIn(pieces)
    .flatMap((placement) => subjectFraming(pieces, placement, state, atFlicks) ?? [])
    .filter((framing) => framing.inFrame)
    .sort((a, b) => b.heightShare - a.heightShare)[0];
}
