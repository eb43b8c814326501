/** Ends of the focus ruler's logarithmic scale, metres; beyond lies infinity. */
export const CLOSEST_M = 0.3;
export const FARTHEST_M = 100;
export const TICKS_M = [0.5, 1, 2, 3, 5, 8, 15, 30, 60];

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
