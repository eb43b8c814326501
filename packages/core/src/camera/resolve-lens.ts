import type { Camera } from '../model';
import type { KitLens } from '../optics';
import {
  angleOfViewDeg,
  breathingFocalLengthMm,
  distortionK1,
  STRONGEST_BARREL_PERCENT,
  unsqueezedWidthMm,
} from '../optics';
import type { CameraState } from './camera-state';
import type { CameraValues } from './channel-values';

export function resolveLens(
  { lens, filmBack }: Camera,
  { focalLength: focalLengthMm, shiftX, shiftY }: CameraValues,
  focusM: number,
  kitLens: KitLens | undefined,
): CameraState['lens'] {
  const actingMm = lens.breathing ? breathingFocalLengthMm(focalLengthMm, focusM * 1000) : focalLengthMm;
  const corner = Math.hypot(unsqueezedWidthMm(filmBack), filmBack.heightMm) / 2;
  return {
    focalLengthMm,
    actingMm,
    shiftXMm: shiftX,
    shiftYMm: shiftY,
    horizontalDeg: angleOfViewDeg(actingMm, filmBack, 'horizontal'),
    verticalDeg: angleOfViewDeg(actingMm, filmBack, 'vertical'),
    diagonalDeg: angleOfViewDeg(actingMm, filmBack, 'diagonal'),
    k1:
      lens.distortionPercent === 0
        ? 0
        : distortionK1(Math.max(STRONGEST_BARREL_PERCENT, lens.distortionPercent), corner / actingMm),
    edgeStops: lens.edgeStops,
    parallelWidthM: lens.parallelWidthM,
    iris: { blades: lens.blades, roundness: lens.roundness, rotationDeg: lens.irisDeg },
    kitLens,
  };
}
