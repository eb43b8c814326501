import type { Stereo } from './order';

/** Parallax on the film of what lies at a distance, as a share of the frame's width: positive lies behind the screen. */
export function parallaxShare(
  stereo: Pick<Stereo, 'eyeDistanceMm' | 'convergenceM'>,
  focalLengthMm: number,
  widthMm: number,
  distanceM: number,
): number {
  const { eyeDistanceMm, convergenceM } = stereo;
  return (eyeDistanceMm * focalLengthMm * (1 / (convergenceM * 1000) - 1 / (distanceM * 1000))) / widthMm;
}

/** Shares of the frame's width within which most people look without strain: 1/30 before and behind the screen (Mendiburu, 3D Movie Making, 2009, ch. 5). */
export const MOST_PARALLAX_SHARE = 1 / 30;

/** Where an eye is from the middle between both, metres to the right; `swapped` gives each the other's picture. */
export function eyeOffsetM({ eyeDistanceMm, swapped }: Stereo, eye: 'left' | 'right'): number {
  const side = (eye === 'left') === swapped ? 1 : -1;
  return (side * eyeDistanceMm) / 2000;
}
