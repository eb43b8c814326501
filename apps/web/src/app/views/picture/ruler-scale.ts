import type { DisplayUnit } from '@arvex/core';
import { METRES_PER_UNIT } from '@arvex/core';

/** Ends of the focus ruler's logarithmic scale, metres; beyond lies infinity. */
export const CLOSEST_M = 0.3;
export const FARTHEST_M = 100;

/** Ticks of the ruler, round in the unit that is shown, and that unit's size in metres. */
const TICKS: Readonly<Record<DisplayUnit, readonly number[]>> = {
  m: [0.5, 1, 2, 3, 5, 8, 15, 30, 60],
  cm: [50, 100, 200, 300, 500, 800, 1500, 3000, 6000],
  mm: [500, 1000, 2000, 3000, 5000, 8000, 15_000, 30_000, 60_000],
  ft: [1.5, 3, 5, 8, 12, 20, 40, 80, 200],
  in: [18, 36, 60, 100, 150, 250, 500, 1000, 2400],
};

/** Places of the ticks, metres, with what stands at them. */
export function ticksIn(unit: DisplayUnit): { readonly metres: number; readonly text: string }[] {
  return TICKS[unit].map((count) => ({ metres: count * METRES_PER_UNIT[unit], text: String(count) }));
}

/** Place of a distance on the ruler, per cent from its left end. */
export function placeOf(metres: number): number {
  const share = Math.log(metres / CLOSEST_M) / Math.log(FARTHEST_M / CLOSEST_M);
  return Math.max(0, Math.min(1, share)) * 100;
}

/** Distance at a share (0…1) of the ruler, metres. */
export function distanceAt(share: number): number {
  const metres = CLOSEST_M * (FARTHEST_M / CLOSEST_M) ** Math.max(0, Math.min(1, share));
  return Number(metres.toPrecision(4));
}
