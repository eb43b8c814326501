import type { Curve } from '../curve';
import { valueAt } from '../curve';
import type { AllChannelValues, Camera, Rack, SubjectPoint } from '../model';
import type { KitLens } from '../optics';
import { apertureMm, blurLimitMm, focusLimits, nearestFocusMm, tStopOf } from '../optics';
import type { Pieces } from '../set';
import { subjectPointAt } from '../set';
import type { Frame, Vector } from '../space';
import { inverseRotation, turned } from '../space';

/** A camera's focus with its limits, all distances in metres from the entrance pupil along the axis. */
export interface ResolvedFocus {
  readonly distanceM: number;
  /** What drives the distance at this moment. A follower whose subject is gone is driven by hand. */
  readonly drivenBy: 'manual' | 'follow' | 'auto';
  readonly subjectId: string | null;
  /** The focus on its way from one subject to another: share of the way gone, 0 to 1. */
  readonly rack: { readonly toId: string; readonly share: number } | null;
  readonly fStop: number;
  /** `null` when the lens has none. */
  readonly tStop: number | null;
  /** Diameter of the entrance pupil, mm. */
  readonly apertureMm: number;
  readonly blurLimitMm: number;
  readonly nearM: number;
  /** `Infinity` when everything behind the near limit is sharp. */
  readonly farM: number;
  readonly hyperfocalM: number;
}

/** Nothing is focused nearer than this, metres: a follower whose subject is behind the camera stays here. */
const NEAREST_M = 0.05;

/**
 * A camera's focus at a time: by hand, on a subject, or as it was measured under a point of the frame.
 * @param measured distances under that point; where nothing has been measured yet the focus is where the hand left it.
 */
export function resolveFocus(
  { focus, filmBack, lens }: Camera,
  values: AllChannelValues,
  { pose, kitLens, pixelMm }: { pose: Frame; kitLens: KitLens | undefined; pixelMm: number },
  pieces: Pieces,
  atFlicks: number,
  measured?: Curve,
): ResolvedFocus {
  const {
    distanceM: asked,
    drivenBy,
    subjectId,
    rack,
  } = driven(focus, values.focusDistance, pose, pieces, atFlicks, measured);
  const distanceM = Math.max(asked, nearestFocusMm(values.focalLength) / 1000);
  const limitMm = blurLimitMm(focus.criterion, filmBack, pixelMm);
  const limits = focusLimits(values.focalLength, values.fStop, distanceM * 1000, limitMm);
  return {
    distanceM,
    drivenBy,
    subjectId,
    rack,
    fStop: values.fStop,
    tStop: tStopOf(kitLens, values.fStop),
    apertureMm: apertureMm(values.focalLength, values.fStop),
    blurLimitMm: limitMm,
    // Parallel sight has no opening, so nothing blurs.
    nearM: lens.parallelWidthM === null ? limits.nearMm / 1000 : 0,
    farM: lens.parallelWidthM === null ? limits.farMm / 1000 : Infinity,
    hyperfocalM: limits.hyperfocalMm / 1000,
  };
}

type Driven = Pick<ResolvedFocus, 'distanceM' | 'drivenBy' | 'subjectId' | 'rack'>;

function driven(
  focus: Camera['focus'],
  manualM: number,
  pose: Frame,
  pieces: Pieces,
  atFlicks: number,
  measured: Curve | undefined,
): Driven {
  const followed = focus.mode === 'follow' ? racked(focus, manualM, pose, pieces, atFlicks) : undefined;
  if (followed) return { ...followed, drivenBy: 'follow' };
  const seenM = focus.mode === 'auto' && measured ? valueAt(measured, atFlicks) : undefined;
  if (seenM !== undefined) {
    return { distanceM: Math.max(NEAREST_M, seenM), drivenBy: 'auto', subjectId: null, rack: null };
  }
  return { distanceM: manualM, drivenBy: 'manual', subjectId: null, rack: null };
}

/**
 * Focus on the subject that is followed now, or on its way to the next one; from where the hand left it where the first is gone.
 * Nothing when no subject is left, or none has come yet.
 */
function racked(
  { subjectId, point, racks }: Camera['focus'],
  manualM: number,
  pose: Frame,
  pieces: Pieces,
  atFlicks: number,
): Omit<Driven, 'drivenBy'> | undefined {
  const distanceTo = (id: string | null, on: SubjectPoint): number | undefined => {
    const subject = id === null ? undefined : pieces.placements[id];
    return subject && Math.max(NEAREST_M, distanceAlongAxis(pose, subjectPointAt(pieces, subject, on, atFlicks)));
  };
  const first = distanceTo(subjectId, point);
  let [at, from, begun] = [first ?? manualM, first === undefined ? null : subjectId, first !== undefined];
  for (const one of racks) {
    if (atFlicks < one.startFlicks) break;
    const to = distanceTo(one.subjectId, one.point);
    if (to === undefined) continue;
    begun = true;
    const share = rackShare(one, atFlicks);
    if (share < 1) {
      // The ring turns evenly in dioptres, about as the scale of a lens is cut.
      const distanceM: number = 1 / ((1 - share) / at + share / to);
      return { distanceM, subjectId: from, rack: { toId: one.subjectId, share } };
    }
    [at, from] = [to, one.subjectId];
  }
  return begun ? { distanceM: at, subjectId: from, rack: null } : undefined;
}

/** How far a rack has gone at a time, 0 to 1: evenly, or eased at both ends by its share `ease`. */
function rackShare({ startFlicks, durationFlicks, ease }: Rack, atFlicks: number): number {
  const u = durationFlicks > 0 ? Math.max(0, Math.min(1, (atFlicks - startFlicks) / durationFlicks)) : 1;
  return u + (u * u * (3 - 2 * u) - u) * ease;
}

/** Distance of a point along the optical axis of a pose, metres; negative behind it. */
export function distanceAlongAxis({ positionM, quaternion }: Frame, [x, y, z]: Vector): number {
  const [cx, cy, cz] = positionM;
  return -turned([x - cx, y - cy, z - cz], inverseRotation(quaternion))[2];
}
