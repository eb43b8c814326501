import type { Placement, PieceOf } from '../model';
import type { Vector } from '../space';
import { difference, inverseRotation, turned } from '../space';
import type { Pieces } from './placement-at';
import { isShown, placementAt } from './placement-at';
import { eyesM, placementBox } from './subject';

/** Kinds that fill their box so well that what lies behind it is not seen. */
const FILLS_BOX: ReadonlySet<string> = new Set(['box', 'wall', 'cylinder', 'column', 'figure', 'animal', 'vehicle']);

/** What of a body's box it fills across: one sees past shoulders and legs. */
const BODY = 0.8;

/** How close to either end of the sight something may be and still block nothing, share of its length. */
const ENDS = 0.01;

/** What stands first between two places at a scene time, of what is solid and not left out; `undefined` when the sight is free. */
export function blockedBy(
  pieces: Pieces,
  fromM: Vector,
  toM: Vector,
  atFlicks: number,
  leftOut: readonly string[] = [],
): Placement | undefined {
  let [nearest, first] = [1 - ENDS, undefined as Placement | undefined];
  for (const placement of Object.values(pieces.placements)) {
    if (leftOut.includes(placement.id) || !isSolid(placement) || !isShown(pieces, placement)) continue;
    const at = enteredAt(pieces, placement, fromM, toM, atFlicks);
    if (at !== undefined && at > ENDS && at < nearest) [nearest, first] = [at, placement];
  }
  return first;
}

/** Imported geometry is taken as its box only where it is somebody: a house is not solid. */
function isSolid(placement: Placement): boolean {
  return FILLS_BOX.has(placement.piece.kind) || (placement.piece.kind === 'geometry' && eyesM(placement) !== undefined);
}

/** Share of the way at which it enters a placement's box; `undefined` when it passes by, or through an opening. */
function enteredAt(
  pieces: Pieces,
  placement: Placement,
  fromM: Vector,
  toM: Vector,
  atFlicks: number,
): number | undefined {
  const frame = placementAt(pieces, placement.id, atFlicks);
  const inverse = inverseRotation(frame.quaternion);
  const from = turned(difference(fromM, frame.positionM), inverse);
  const way = difference(turned(difference(toM, frame.positionM), inverse), from);
  const { minM, maxM } = placementBox(pieces, placement);
  const slim = eyesM(placement) === undefined ? 1 : BODY;
  let [enter, leave] = [-Infinity, Infinity];
  for (const axis of [0, 1, 2] as const) {
    const factor = axis === 1 ? 1 : slim;
    const [low, high] = [minM[axis] * factor - from[axis], maxM[axis] * factor - from[axis]];
    if (way[axis] === 0) {
      if (low > 0 || high < 0) return undefined;
      continue;
    }
    const [a, b] = [low / way[axis], high / way[axis]];
    enter = Math.max(enter, Math.min(a, b));
    leave = Math.min(leave, Math.max(a, b));
  }
  if (enter > leave || leave < 0) return undefined;
  const { piece, scale } = placement;
  if (piece.kind === 'wall') {
    const middle = (Math.max(0, enter) + Math.min(1, leave)) / 2;
    const [x, y] = [(from[0] + way[0] * middle) / scale[0], (from[1] + way[1] * middle) / scale[1]];
    if (inOpening(piece, x, y)) return undefined;
  }
  return enter;
}

function inOpening({ widthM: wall, openings }: PieceOf<'wall'>, x: number, y: number): boolean {
  return openings.some(({ atM, widthM, sillM, heightM }) => {
    const left = atM - wall / 2;
    return x >= left && x <= left + widthM && y >= sillM && y <= sillM + heightM;
  });
}
