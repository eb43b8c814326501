import type { Placement, SubjectPoint } from '../model';
import type { Vector } from '../space';
import { turned } from '../space';
import type { Box } from './piece-shape';
import { eyesAboveFootM, eyesForwardM, pieceBox } from './piece-shape';
import type { Pieces } from './placement-at';
import { isShown, placementAt } from './placement-at';

/** A placement's box along its own axes, in metres of the world: scale counted. */
export function placementBox(pieces: Pieces, { piece, assetId, scale }: Placement): Box {
  const { minM, maxM } = pieceBox(piece, assetId === null ? undefined : pieces.assets[assetId]?.file);
  const [x, y, z] = scale;
  return {
    minM: [minM[0] * x, minM[1] * y, minM[2] * z],
    maxM: [maxM[0] * x, maxM[1] * y, maxM[2] * z],
  };
}

/** Height of a placement's eyes above its foot, metres; `undefined` for what has none. */
export function eyesM({ piece, scale }: Placement): number | undefined {
  const eyes = eyesAboveFootM(piece);
  return eyes === undefined ? undefined : eyes * scale[1];
}

/** Where a point of a subject is in the world at a scene time. Eyes of what has none are taken as its middle. */
export function subjectPointAt(pieces: Pieces, placement: Placement, point: SubjectPoint, atFlicks: number): Vector {
  const { positionM, quaternion } = placementAt(pieces, placement.id, atFlicks);
  const { minM, maxM } = placementBox(pieces, placement);
  const [x, z] = [(minM[0] + maxM[0]) / 2, (minM[2] + maxM[2]) / 2];
  const middle = (minM[1] + maxM[1]) / 2;
  const eyes = eyesM(placement);
  const height = { eyes: eyes ?? middle, middle, top: maxM[1], foot: minM[1] }[point];
  // A figure stands over its foot, not over the middle of its reaching arms; its eyes are on its face.
  const forward = point === 'eyes' ? eyesForwardM(placement.piece) * placement.scale[2] : 0;
  const local: Vector = eyes === undefined ? [x, height, z] : [0, height, -forward];
  const offset = turned(local, quaternion);
  return [positionM[0] + offset[0], positionM[1] + offset[1], positionM[2] + offset[2]];
}

/** The eight corners of a placement's box in the world at a scene time. */
export function boxCornersAt(pieces: Pieces, placement: Placement, atFlicks: number): Vector[] {
  const { positionM, quaternion } = placementAt(pieces, placement.id, atFlicks);
  const { minM, maxM } = placementBox(pieces, placement);
  return Array.from({ length: 8 }, (_, i) => {
    const corner: Vector = [(i & 1 ? maxM : minM)[0], (i & 2 ? maxM : minM)[1], (i & 4 ? maxM : minM)[2]];
    const [x, y, z] = turned(corner, quaternion);
    return [positionM[0] + x, positionM[1] + y, positionM[2] + z];
  });
}

/** What cameras are judged by: subjects that are shown, by name. */
export function subjectsIn(pieces: Pieces): Placement[] {
  return Object.values(pieces.placements)
    .filter((placement) => placement.subject && isShown(pieces, placement))
    .sort((a, b) => a.name.localeCompare(b.name) || a.id.localeCompare(b.id));
}
