import { SATURATION_LUMINANCE } from './exposure-value';

/** Calibration constant of reflected-light meters (ISO 2720, K = 12.5): luminance is K/100 times 2^EV100. */
const METERED_LUMINANCE = 0.125;

/** What part of the picture a meter reads. */
export const METERING = ['spot', 'centre', 'whole'] as const;

export type Metering = (typeof METERING)[number];

/** Radius of the spot and of the centre's weight, share of the picture's height. */
const SPOT_RADIUS = 0.03;

const CENTRE_SIGMA = 0.25;

/** What is brighter than the plain mean by more stops than this, as a glint or a bare lamp, counts as if it were no brighter. */
const HIGHLIGHT_STOPS = 4;

/** EV100 at which a luminance (cd/m²) comes out as the meter's mid-tone: 0.125 cd/m² is EV 0. */
export function meteredEv(luminanceCdM2: number): number {
  return Math.log2(luminanceCdM2 / METERED_LUMINANCE);
}

/** Picture value (clipping is 1) of the meter's mid-tone: 0.104. */
export const MID_TONE = METERED_LUMINANCE / SATURATION_LUMINANCE;

/**
 * Mean luminance that a meter reads from a picture of luminances (cd/m², rows from the top). A spot reads what it is aimed at; the
 * others clip what lies more than four stops above the plain mean, so that a glint does not close the iris on a scene.
 * @param at centre of a spot, 0…1 from the left and the top.
 */
export function meterLuminance(
  luminances: ArrayLike<number>,
  width: number,
  height: number,
  metering: Metering,
  at: readonly [number, number] = [0.5, 0.5],
): number {
  const mean = (mostCdM2: number) => {
    let [sum, weights] = [0, 0];
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        const away = Math.hypot(((x + 0.5) / width - at[0]) * (width / height), (y + 0.5) / height - at[1]);
        const weight = weightAt(metering, away, height);
        sum += weight * Math.min(mostCdM2, luminances[y * width + x] ?? 0);
        weights += weight;
      }
    }
    return weights > 0 ? sum / weights : 0;
  };
  const plain = mean(Infinity);
  return metering === 'spot' ? plain : mean(plain * 2 ** HIGHLIGHT_STOPS);
}

function weightAt(metering: Metering, away: number, height: number): number {
  if (metering === 'whole') return 1;
  if (metering === 'centre') return Math.exp(-((away / CENTRE_SIGMA) ** 2) / 2);
  // A spot never falls between pixels.
  return away <= Math.max(SPOT_RADIUS, 0.75 / height) ? 1 : 0;
}
