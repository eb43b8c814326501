import type { Vector } from '../space';
import type { DisplayUnit } from '../units';
import { METRES_PER_UNIT } from '../units';

/** Sides that things for a set plausibly have, metres: from a cup to a landscape, none higher than a tower. */
const PLAUSIBLE_SIDE_M = { min: 0.05, max: 10_000 } as const;

const PLAUSIBLE_HEIGHT_M = 60;

/** What is so much wider than high is a landscape, and may be as high as its hills are. */
const LANDSCAPE_RATIO = 20;

/** How much less often geometry is made in a unit, as a factor of size that it is set back by. */
const SET_BACK = { cm: 1, mm: 1, in: 2 } as const;

/** Longest side of a middling thing, furniture or a figure: of several units that fit, the one that comes nearest is guessed. */
const USUAL_SIDE_M = 1.7;

/**
 * The unit a file was probably made in, when its size taken as metres is not plausible: a figure 182 high was made in
 * centimetres, one 1820 high in millimetres. `undefined` when metres are plausible, or when nothing fits.
 */
export function guessUnit(sizeM: Vector): DisplayUnit | undefined {
  const fits = (scale: number) => {
    const largest = Math.max(...sizeM) * scale;
    const inRange = largest >= PLAUSIBLE_SIDE_M.min && largest <= PLAUSIBLE_SIDE_M.max;
    const landscape = Math.max(...sizeM) > LANDSCAPE_RATIO * sizeM[1];
    return inRange && (landscape || sizeM[1] * scale <= PLAUSIBLE_HEIGHT_M);
  };
  if (fits(1)) return undefined;
  return (['cm', 'mm', 'in'] as const)
    .filter((unit) => fits(METRES_PER_UNIT[unit]))
    .map((unit) => {
      const side = Math.max(...sizeM) * METRES_PER_UNIT[unit];
      return { unit, away: Math.abs(Math.log(side / USUAL_SIDE_M)) + Math.log(SET_BACK[unit]) };
    })
    .sort((a, b) => a.away - b.away)[0]?.unit;
}
