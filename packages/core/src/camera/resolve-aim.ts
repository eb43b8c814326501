import type { Aim, AllChannelValues, Camera } from '../model';
import type { Pieces } from '../set';
import { placementAt, subjectPointAt } from '../set';
import type { HeadAngles, Vector } from '../space';
import { anglesToward, distanceBetween, pathThrough, turned, unwrappedNear } from '../space';
import { lagged } from './lag';
import { carriedBy } from './resolve-rig';

/** Within this angle of straight up or down the pan is led over to the head's own, so that nothing flips, degrees. */
const POLE_DEG = 1.7;

/** What is as near as this to the camera has no direction, metres. */
const HERE_M = 1e-6;

/**
 * Where a head is turned once its aim is counted: pan and tilt toward the target, roll as it was set. Straight over or under the
 * camera, the pan is led over to the head's own; what weighs less than all is led over by its share of the angles.
 * @param nearDeg the pan goes on from there, so that nothing spins; the head's own where it is left out.
 */
export function aimed(
  aim: Aim,
  fromM: Vector,
  head: HeadAngles,
  values: AllChannelValues,
  pieces: Pieces,
  atFlicks: number,
  nearDeg = head.panDeg,
): { angles: HeadAngles; aimM: Vector | undefined } {
  const aimM = targetOf(aim, values, pieces, atFlicks);
  if (!aimM) return { angles: head, aimM: undefined };
  if (distanceBetween(fromM, aimM) < HERE_M) return { angles: { ...head, panDeg: nearDeg }, aimM };
  const weight = aim.kind === 'subject' ? aim.weight : 1;
  const toward = anglesToward(fromM, aimM);
  const fromPole = Math.min(1, (90 - Math.abs(toward.tiltDeg)) / POLE_DEG);
  const led = fromPole * fromPole * (3 - 2 * fromPole) * weight;
  return {
    aimM,
    angles: {
      panDeg: head.panDeg + (unwrappedNear(toward.panDeg, nearDeg) - head.panDeg) * led,
      tiltDeg: head.tiltDeg + (toward.tiltDeg - head.tiltDeg) * weight,
      rollDeg: head.rollDeg,
    },
  };
}

/** Where a camera would look with all its aim, from where its rig holds it; `undefined` when it is not aimed, or at itself. */
export function sightOf(
  { rig, aim }: Camera,
  values: AllChannelValues,
  pieces: Pieces,
  atFlicks: number,
): HeadAngles | undefined {
  const aimM = targetOf(aim, values, pieces, atFlicks);
  if (!aimM) return undefined;
  const { positionM } = carriedBy(rig, values, pieces, atFlicks);
  return distanceBetween(positionM, aimM) < HERE_M ? undefined : anglesToward(positionM, aimM);
}

function targetOf(aim: Aim, values: AllChannelValues, pieces: Pieces, atFlicks: number): Vector | undefined {
  if (aim.kind === 'free') return undefined;
  if (aim.kind === 'point') return [values.aimX, values.aimY, values.aimZ];
  if (aim.kind === 'path') return pathThrough(aim.nodesM, aim.closed).pointAt(values.aimAlong);
  const placement = pieces.placements[aim.placementId];
  if (!placement) return undefined;
  const at = (flicks: number): Vector => {
    const point = subjectPointAt(pieces, placement, aim.point, flicks);
    const offset = turned(aim.offsetM, placementAt(pieces, placement.id, flicks).quaternion);
    return [point[0] + offset[0], point[1] + offset[1], point[2] + offset[2]];
  };
  return lagged(aim.smoothingS, atFlicks, at);
}
