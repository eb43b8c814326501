import * as z from 'zod';
import { CoreError } from '../error';
import type { FilmBack } from './film-back';
import { markedStopAtLeast, SMALLEST_STOP } from './lens-kit';

/** Film back diagonals in one blur-circle limit, the usual criterion for motion pictures. */
const DIAGONAL_SHARE = 1500;

/** How large a blur still looks sharp: by the film back, by pixels of the delivery frame, or typed. */
export const blurCriterionSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('back') }),
  z.object({ kind: z.literal('pixels'), count: z.number().min(0.1).max(50) }),
  z.object({ kind: z.literal('typed'), mm: z.number().min(0.0001).max(5) }),
]);

export type BlurCriterion = z.infer<typeof blurCriterionSchema>;

/** Limits of what looks sharp, in millimetres from the entrance pupil along the axis. */
export interface FocusLimits {
  readonly hyperfocalMm: number;
  readonly nearMm: number;
  /** `Infinity` at or beyond the hyperfocal distance. */
  readonly farMm: number;
}

/** Blur-circle limit by default: the film back's diagonal as the film lies, without squeeze, divided by 1500, mm. */
function defaultBlurLimitMm(back: FilmBack): number {
  return Math.hypot(back.widthMm, back.heightMm) / DIAGONAL_SHARE;
}

/** Blur-circle limit in mm by a criterion; `pixelMm` is the height of a delivered pixel on the film: the vertical blur is judged. */
export function blurLimitMm(criterion: BlurCriterion, back: FilmBack, pixelMm: number): number {
  if (criterion.kind === 'typed') return criterion.mm;
  return criterion.kind === 'pixels' ? criterion.count * pixelMm : defaultBlurLimitMm(back);
}

/**
 * Diameter in mm on the film back of the blur of a point at `objectMm` when focused at `focusMm` (thin lens). Either may be
 * infinite. Focused at or inside its focal length a lens makes no picture: the blur has no end.
 */
export function blurCircleMm(focalLengthMm: number, fStop: number, focusMm: number, objectMm: number): number {
  if (focusMm === objectMm) return 0;
  if (!(focusMm > focalLengthMm)) return Infinity;
  if (focusMm === Infinity) return focalLengthMm ** 2 / (fStop * objectMm);
  const perShare = focalLengthMm ** 2 / (fStop * (focusMm - focalLengthMm));
  return objectMm === Infinity ? perShare : (perShare * Math.abs(objectMm - focusMm)) / objectMm;
}

/** Nearest distance that a thin lens is focused at here, mm: there the picture on the film is as large as what it shows. */
export function nearestFocusMm(focalLengthMm: number): number {
  return 2 * focalLengthMm;
}

/** Diameter of the entrance pupil, mm: 50 mm at f/2 is 25. */
export function apertureMm(focalLengthMm: number, fStop: number): number {
  return focalLengthMm / fStop;
}

/**
 * Focal length that acts at a focus distance when the lens breathes: the image distance `f·d/(d − f)`, mm.
 * At or inside the focal length nothing focuses, and the focal length itself is given.
 */
export function breathingFocalLengthMm(focalLengthMm: number, focusMm: number): number {
  return focusMm > focalLengthMm ? (focalLengthMm * focusMm) / (focusMm - focalLengthMm) : focalLengthMm;
}

/**
 * Near and far limit and hyperfocal distance of a thin lens, all in mm.
 * 50 mm at f/2.8, limit 0.029, focused at 3000: hyperfocal 30838.177, near 2737.686, far 3317.909.
 */
export function focusLimits(focalLengthMm: number, fStop: number, focusMm: number, limitMm: number): FocusLimits {
  const hyperfocalMm = focalLengthMm ** 2 / (fStop * limitMm) + focalLengthMm;
  const reach = hyperfocalMm - focalLengthMm;
  if (!Number.isFinite(focusMm)) return { hyperfocalMm, nearMm: reach, farMm: Infinity };
  return {
    hyperfocalMm,
    nearMm: (focusMm * reach) / (hyperfocalMm + focusMm - 2 * focalLengthMm),
    farMm: focusMm < hyperfocalMm ? (focusMm * reach) / (hyperfocalMm - focusMm) : Infinity,
  };
}

/** Focus distance and f-stop that hold both `nearMm` and `farMm` just sharp. A far limit may be infinite. */
export function holdSharp(focalLengthMm: number, nearMm: number, farMm: number, limitMm: number) {
  const focusMm = farMm === Infinity ? 2 * nearMm : (2 * nearMm * farMm) / (nearMm + farMm);
  const fStop = (focalLengthMm ** 2 * (focusMm - nearMm)) / (limitMm * nearMm * (focusMm - focalLengthMm));
  return { focusMm, fStop };
}

/** A stop at which two distances are sharp, or as nearly as the lens can; limits in mm. */
export interface HeldSharp {
  readonly focusMm: number;
  readonly fStop: number;
  /** Whether both are. Where they are not, the limits say what is. */
  readonly holds: boolean;
  readonly nearMm: number;
  readonly farMm: number;
}

/**
 * As {@link holdSharp}, at the nearest marked stop that still holds both, not wider than the lens opens. Where it would have to close
 * beyond its smallest stop, that one is given, and what it holds.
 * @throws CoreError `out-of-range` unless the near distance lies before the far one, and beyond the focal length.
 */
export function holdSharpMarked(
  focalLengthMm: number,
  nearMm: number,
  farMm: number,
  limitMm: number,
  widestStop: number,
): HeldSharp {
  if (!(nearMm > focalLengthMm && farMm > nearMm)) {
    throw new CoreError('out-of-range', 'The near distance lies before the far one, and before the lens.', 'near');
  }
  const { focusMm, fStop } = holdSharp(focalLengthMm, nearMm, farMm, limitMm);
  const wanted = markedStopAtLeast(Math.max(fStop, widestStop));
  const closed = Math.max(SMALLEST_STOP, widestStop);
  const held = Math.min(wanted, closed);
  const limits = focusLimits(focalLengthMm, held, focusMm, limitMm);
  return { focusMm, fStop: held, holds: wanted <= closed, nearMm: limits.nearMm, farMm: limits.farMm };
}
