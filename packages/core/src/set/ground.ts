import type { Project } from '../model';
import type { Box } from './piece-shape';
import { placementBox } from './subject';

/** What is longer or wider than this, and lies flat, is ground, sea or a shore that other things stand on, metres. */
const GROUND_SIDE_M = 120;

/** What is so much narrower than high stands, however long it is: a quay or a city wall casts its shadow. */
const FLAT_RATIO = 4;

/** Whether a box is that of ground by its size: what stands on it is drawn before it and casts shadows on it. */
function isGroundSize({ minM, maxM }: Box): boolean {
  const [width, height, depth] = [maxM[0] - minM[0], maxM[1] - minM[1], maxM[2] - minM[2]];
  return Math.max(width, depth) > GROUND_SIDE_M && Math.min(width, depth) > FLAT_RATIO * height;
}

/** Whether a placement is ground: a piece of that kind of any size, or what is as large and flat as ground is. */
export function isGround(
  pieces: Pick<Project, 'placements' | 'assets'>,
  placement: Project['placements'][string],
): boolean {
  return placement.piece.kind === 'ground' || isGroundSize(placementBox(pieces, placement));
}
