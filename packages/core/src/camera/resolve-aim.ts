import type { Aim, AllChannelValues } from '../model';
import type { Pieces } from '../set';
import { placementAt, subjectPointAt } from '../set';
import type { HeadAngles, Vector } from '../space';
import { anglesToward, pathThrough, turned, unwrappedNear } from '../space';
import { lagged } from './lag';

/** Within this angle of straight up or down the pan is led over to the head's own, so that nothing flips, degrees. */
const POLE_DEG = 4;

/**
 * Where a head is turned once its aim is counted: pan and tilt toward the target, roll as it was set. The pan goes on from
 * where the head was, so that nothing spins; near straight over or under the camera it is led over to the head's pan.
 */
export function aimed(
  aim: Aim,
  fromM: Vector,
  head: HeadAngles,
  values: AllChannelValues,
  pieces: Pieces,
  atFlicks: number,
): { angles: HeadAngles; aimM: Vector | undefined } {
  const aimM = targetOf(aim, values, pieces, atFlicks);
  if (!aimM) return { angles: head, aimM: undefined };
  const weight = aim.kind === 'subject' ? aim.weight : 1;
  const toward = anglesToward(fromM, aimM);
  const fromPole = Math.min(1, (90 - Math.abs(toward.tiltDeg)) / POLE_DEG);
  const led = fromPole * fromPole * (3 - 2 * fromPole);
  const pan = head.panDeg + (unwrappedNear(toward.panDeg, head.panDeg) - head.panDeg) * led;
  return {
    aimM,
    angles: {
      panDeg: head.panDeg + (pan - head.panDeg) * weight,
      tiltDeg: head.tiltDeg + (toward.tiltDeg - head.tiltDeg) * weight,
      rollDeg: head.rollDeg,
    },
  };
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
  return lagged(aim.smoothingS, atFlicks, (flicks) => [at(flicks)])[0];
}
