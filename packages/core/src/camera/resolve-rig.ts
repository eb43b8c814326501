import type { AllChannelValues, ChannelValues, Rig, RigOf } from '../model';
import { trackShape } from '../model';
import type { Pieces } from '../set';
import { facingDegAt, subjectPointAt } from '../set';
import type { HeadAngles, Rotation, Vector } from '../space';
import {
  anglesOf,
  anglesToward,
  combined,
  difference,
  inverseRotation,
  pathThrough,
  rotationOf,
  sum,
  turned,
  unwrappedNear,
} from '../space';
import { lagged } from './lag';

/** What a rig does with the camera: where it holds it, and how what carries the head is turned (unwrapped degrees). */
export interface Carried {
  readonly positionM: Vector;
  readonly turn: HeadAngles;
}

const STILL: HeadAngles = { panDeg: 0, tiltDeg: 0, rollDeg: 0 };

const heading = (panDeg: number): HeadAngles => ({ panDeg, tiltDeg: 0, rollDeg: 0 });

/** Where a rig holds its camera. */
export function carriedBy(rig: Rig, values: AllChannelValues, pieces: Pieces, atFlicks: number): Carried {
  if (rig.kind === 'sticks') return { positionM: [values.positionX, values.positionY, values.positionZ], turn: STILL };
  const base: Vector = [values.rigX, values.rigY, values.rigZ];
  if (rig.kind === 'rail') return onRail(rig, values, base);
  if (rig.kind === 'crane') {
    const turn = { panDeg: values.swing + values.rigTurn, tiltDeg: values.pitch, rollDeg: 0 };
    const arm = turned([0, 0, -values.arm], rotationOf(turn));
    return { positionM: sum(sum(base, [0, rig.columnM + rig.riserM, 0]), arm), turn };
  }
  if (rig.kind === 'orbit') {
    const middle = orbitCentre(rig, base, pieces, atFlicks);
    const angle = values.orbit + values.rigTurn;
    const out = turned([0, values.height, -values.radius], rotationOf(heading(angle)));
    // What carries the head looks at the middle.
    return { positionM: sum(middle, out), turn: heading(angle + 180) };
  }
  const { positionM, panDeg } = followed(rig, pieces, atFlicks);
  const turn = heading((rig.axes === 'subject' ? panDeg : 0) + values.rigTurn);
  const offset = turned([values.offsetX, values.offsetY, values.offsetZ], rotationOf(turn));
  return { positionM: sum(positionM, offset), turn };
}

/** Middle of an orbit at a time. */
export function orbitCentre(rig: RigOf<'orbit'>, base: Vector, pieces: Pieces, atFlicks: number): Vector {
  const subject = rig.subjectId === null ? undefined : pieces.placements[rig.subjectId];
  return subject ? sum(subjectPointAt(pieces, subject, rig.point, atFlicks), base) : base;
}

/** The subject that is followed, as late as the camera lags: its point, and which way it faces, whole turns counted. */
function followed(rig: RigOf<'follow'>, pieces: Pieces, atFlicks: number): { positionM: Vector; panDeg: number } {
  const subject = rig.subjectId === null ? undefined : pieces.placements[rig.subjectId];
  if (!subject) return { positionM: rig.atM, panDeg: 0 };
  const [x, y, z, panDeg] = lagged(rig.lagS, atFlicks, (flicks): [number, number, number, number] => {
    const facing = rig.axes === 'subject' ? facingDegAt(pieces, subject, flicks) : 0;
    return [...subjectPointAt(pieces, subject, rig.point, flicks), facing];
  });
  return { positionM: [x, y, z], panDeg };
}

/** Distance of a rail's trolley from its start, metres. */
function trolleyM({ by, closed }: RigOf<'rail'>, lengthM: number, along: number): number {
  const metres = by === 'share' ? (along / 100) * lengthM : along;
  if (!closed || lengthM === 0) return Math.max(0, Math.min(lengthM, metres));
  return ((metres % lengthM) + lengthM) % lengthM;
}

/** Heading of a rail at its trolley, whole turns counted along the track and from round to round. */
function onRail(rig: RigOf<'rail'>, values: AllChannelValues, base: Vector): Carried {
  const track = pathThrough(rig.nodesM, rig.closed, trackShape(rig));
  const at = trolleyM(rig, track.lengthM, values.along);
  const metres = rig.by === 'share' ? (values.along / 100) * track.lengthM : values.along;
  const rounds = rig.closed && track.lengthM > 0 ? Math.round((metres - at) / track.lengthM) : 0;
  const way = track.headingDegAt(at) + rounds * track.turnDeg;
  const [right, up, on] = rig.cameraM;
  const inRig = sum(track.pointAt(at), turned([right, up, -on], rotationOf(heading(way))));
  return {
    positionM: sum(base, turned(inRig, rotationOf(heading(values.rigTurn)))),
    turn: heading(way + values.rigTurn),
  };
}

/** A head's own angles once what carries it is counted: unwrapped near the plain sum, so that nothing spins. */
export function headAngles(rig: Rig, own: HeadAngles, turn: HeadAngles): HeadAngles {
  if (rig.kind === 'sticks' || rig.head === 'world') return own;
  if (turn.tiltDeg === 0 && turn.rollDeg === 0) return { ...own, panDeg: own.panDeg + turn.panDeg };
  const angles = anglesOf(combined(rotationOf(turn), rotationOf(own)));
  return { ...angles, panDeg: unwrappedNear(angles.panDeg, own.panDeg + turn.panDeg) };
}

/** The head's own angles that look in a direction of the world from what carries it. */
export function ownAngles(rig: Rig, inWorld: HeadAngles, turn: HeadAngles): HeadAngles {
  if (rig.kind === 'sticks' || rig.head === 'world') return inWorld;
  if (turn.tiltDeg === 0 && turn.rollDeg === 0) return { ...inWorld, panDeg: inWorld.panDeg - turn.panDeg };
  const own = anglesOf(combined(inverseRotation(rotationOf(turn)), rotationOf(inWorld)));
  return { ...own, panDeg: unwrappedNear(own.panDeg, inWorld.panDeg - turn.panDeg) };
}

/**
 * A rig's numbers that bring its camera to a place, or as near as it goes: the inverse of {@link carriedBy}. Angles come
 * without whole turns.
 * @param near the number of a trolley that it is near already: only its surroundings are looked at; the whole track where it is left out.
 */
export function numbersFor(
  rig: Rig,
  toM: Vector,
  values: AllChannelValues,
  pieces: Pieces,
  atFlicks: number,
  near?: number,
): ChannelValues {
  const [x, y, z] = toM;
  if (rig.kind === 'sticks') return { positionX: x, positionY: y, positionZ: z };
  const base: Vector = [values.rigX, values.rigY, values.rigZ];
  const back = (turnDeg: number): Rotation => inverseRotation(rotationOf(heading(turnDeg)));
  if (rig.kind === 'rail')
    return { along: nearestAlong(rig, turned(difference(toM, base), back(values.rigTurn)), near) };
  if (rig.kind === 'crane') {
    const pivot = sum(base, [0, rig.columnM + rig.riserM, 0]);
    const { panDeg, tiltDeg } = anglesToward(pivot, toM);
    return {
      swing: panDeg - values.rigTurn,
      pitch: tiltDeg,
      arm: Math.max(0.1, Math.hypot(...difference(toM, pivot))),
    };
  }
  if (rig.kind === 'orbit') {
    const middle = orbitCentre(rig, base, pieces, atFlicks);
    const out = difference(toM, middle);
    return {
      orbit: anglesToward([0, 0, 0], [out[0], 0, out[2]]).panDeg - values.rigTurn,
      radius: Math.max(0.01, Math.hypot(out[0], out[2])),
      height: out[1],
    };
  }
  const { positionM, panDeg } = followed(rig, pieces, atFlicks);
  const turnDeg = (rig.axes === 'subject' ? panDeg : 0) + values.rigTurn;
  const [offsetX, offsetY, offsetZ] = turned(difference(toM, positionM), back(turnDeg));
  return { offsetX, offsetY, offsetZ };
}

/** Places of a rail that are looked at first, and halvings of the best one's surroundings after that. */
const RAIL_LOOKS = 400;

/** So many of them to either side, where it is known what it is near. */
const RAIL_LOOKS_NEAR = 20;

const RAIL_HALVINGS = 36;

/** Where on a rail its camera is nearest to a place (in the rig's axes): metres, or per cent where it goes by share. */
function nearestAlong(rig: RigOf<'rail'>, [x, y, z]: Vector, near?: number): number {
  const { lengthM } = pathThrough(rig.nodesM, rig.closed, trackShape(rig));
  const unit = rig.by === 'share' && lengthM > 0 ? 100 / lengthM : 1;
  const away = (metres: number): number => {
    const still = { ...NO_NUMBERS, along: metres * unit };
    const { positionM } = onRail(rig, still, [0, 0, 0]);
    return Math.hypot(positionM[0] - x, positionM[1] - y, positionM[2] - z);
  };
  let best = near === undefined ? 0 : Math.max(0, Math.min(lengthM, near / unit));
  const looks = near === undefined ? [0, RAIL_LOOKS] : [-RAIL_LOOKS_NEAR, RAIL_LOOKS_NEAR];
  const middle = near === undefined ? 0 : best;
  for (let i = looks[0] ?? 0; i <= (looks[1] ?? 0); i++) {
    const at = middle + (i / RAIL_LOOKS) * lengthM;
    if (at >= 0 && at <= lengthM && away(at) < away(best)) best = at;
  }
  let width = lengthM / RAIL_LOOKS;
  for (let i = 0; i < RAIL_HALVINGS; i++, width /= 1.7) {
    for (const at of [best - width, best + width]) {
      if (at >= 0 && at <= lengthM && away(at) < away(best)) best = at;
    }
  }
  return best * unit;
}

const NO_NUMBERS = { rigTurn: 0 } as AllChannelValues;
