import type { Project } from '../model';
import { placementBox } from './subject';

/** What is longer or wider than this is ground, sea or a shore that other things stand on, metres. */
const GROUND_SIDE_M = 120;

/** Whether a size from above is that of ground: what stands on it is drawn before it and casts shadows on it. */
export function isGroundSize(acrossM: number): boolean {
  return acrossM > GROUND_SIDE_M;
}

/** Whether a placement is ground. */
export function isGround(
  pieces: Pick<Project, 'placements' | 'assets'>,
  placement: Project['placements'][string],
): boolean {
  const { minM, maxM } = placementBox(pieces, placement);
  return isGroundSize(Math.max(maxM[0] - minM[0], maxM[2] - minM[2]));
}
