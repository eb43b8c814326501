import type { Curve, Key } from './curve';
import { valueAt } from './curve';

/** A curve with fewer keys, and how far it strays from the first at most, in the channel's unit. */
export interface Thinned {
  readonly curve: Curve;
  readonly error: number;
}

/**
 * Leaves out the keys that a smooth curve does not need: the greatest error at any key's time, and halfway between keys,
 * stays within the tolerance. Keys are put back where the error is greatest until it does.
 * @param tolerance in the unit of the curve's values, above 0.
 * @param keep times whose keys stay in any case; where it is left out, only the first and the last do.
 * @param liked whether a key at a time is better kept than one beside it; where it is left out, all are alike.
 */
export function thinned(
  curve: Curve,
  tolerance: number,
  keep: ReadonlySet<number> = new Set(),
  liked: (flicks: number) => boolean = () => true,
): Thinned {
  if (curve.length < 3) return { curve, error: 0 };
  const times = curve.flatMap(({ atFlicks }, i) => {
    const next = curve[i + 1];
    return next ? [atFlicks, (atFlicks + next.atFlicks) / 2] : [atFlicks];
  });
  const wanted = times.map((time) => valueAt(curve, time) ?? 0);
  const kept = new Set([0, curve.length - 1]);
  curve.forEach(({ atFlicks }, i) => keep.has(atFlicks) && kept.add(i));
  for (;;) {
    const fit = curve.filter((_, i) => kept.has(i)).map(({ atFlicks, value }) => smooth(atFlicks, value));
    const worst = worstBetween(fit, times, wanted);
    const error = Math.max(0, ...worst.map(({ off }) => off));
    const before = kept.size;
    // One key goes back into every stretch that strays too far.
    for (const { off, at } of worst) {
      if (off > tolerance) kept.add(freeKeyNear(curve, kept, Math.round(at / 2), liked));
    }
    if (kept.size === before) return { curve: fit, error };
  }
}

const smooth = (atFlicks: number, value: number): Key => ({ atFlicks, value, shape: 'smooth' });

/** The greatest error within each stretch between two keys of the fit, and at which of the times. */
function worstBetween(fit: Curve, times: readonly number[], wanted: readonly number[]): { off: number; at: number }[] {
  const worst: { off: number; at: number }[] = [];
  let stretch = 0;
  times.forEach((time, at) => {
    while (stretch < fit.length - 2 && (fit[stretch + 1]?.atFlicks ?? Infinity) <= time) stretch += 1;
    const off = Math.abs((valueAt(fit, time) ?? 0) - (wanted[at] ?? 0));
    if (off > (worst[stretch]?.off ?? -1)) worst[stretch] = { off, at };
  });
  return worst.filter(Boolean);
}

/** Keys that are liked are looked for so far beside the best place. */
const LIKED_WITHIN = 8;

function freeKeyNear(
  curve: Curve,
  kept: ReadonlySet<number>,
  near: number,
  liked: (flicks: number) => boolean,
): number {
  const isFree = (index: number) => index >= 0 && index < curve.length && !kept.has(index);
  for (let away = 0; away < LIKED_WITHIN; away++) {
    // Not beyond a key that is kept: the stretch that strays lies between two of them.
    for (const step of [-1, 1]) {
      const index = near + step * away;
      const between = Array.from({ length: away }, (_, i) => near + step * i);
      if (isFree(index) && liked((curve[index] as Key).atFlicks) && between.every(isFree)) return index;
    }
  }
  for (let away = 0; away < curve.length; away++) {
    for (const index of [near - away, near + away]) if (isFree(index)) return index;
  }
  return near;
}
