import { CoreError } from '../error';
import type { FilmBack } from './film-back';
import { unsqueezedWidthMm } from './film-back';

/** A side of the film back along which an angle of view is measured. */
export type AngleSide = 'horizontal' | 'vertical' | 'diagonal';

const DEGREES = 180 / Math.PI;

/** Length of a side in mm, squeeze undone. */
function sideMm(back: FilmBack, side: AngleSide): number {
  const width = unsqueezedWidthMm(back);
  if (side === 'horizontal') return width;
  return side === 'vertical' ? back.heightMm : Math.hypot(width, back.heightMm);
}

/**
 * Angle of view in degrees, `2·atan(side / 2f)`: 36 × 24 mm with 50 mm sees 39.5978° horizontally.
 * The lens is taken as focused at infinity, without shift.
 */
export function angleOfViewDeg(focalLengthMm: number, back: FilmBack, side: AngleSide): number {
  return 2 * Math.atan(sideMm(back, side) / (2 * focalLengthMm)) * DEGREES;
}

/**
 * Focal length in mm that gives an angle of view in degrees: the inverse of {@link angleOfViewDeg}.
 * @throws CoreError `out-of-range` unless the angle lies between 0° and 180°, both excluded.
 */
export function focalLengthForAngleMm(angleDeg: number, back: FilmBack, side: AngleSide): number {
  if (!(angleDeg > 0 && angleDeg < 180)) {
    throw new CoreError('out-of-range', `An angle of view lies between 0° and 180°; ${angleDeg}° does not.`);
  }
  return sideMm(back, side) / (2 * Math.tan(angleDeg / 2 / DEGREES));
}

/** Focal length in mm that sees the same horizontal angle on another film back. */
export function equivalentFocalLengthMm(focalLengthMm: number, from: FilmBack, to: FilmBack): number {
  return (focalLengthMm * unsqueezedWidthMm(to)) / unsqueezedWidthMm(from);
}
