import type { Curve, Key } from './curve';
import { valueAt } from './curve';

/** How chosen keys are moved: scaled about a time and a value, then shifted. Flicks, and the channel's unit. */
export interface KeyMapping {
  readonly timeScale?: number;
  readonly aboutFlicks?: number;
  readonly shiftFlicks?: number;
  readonly valueScale?: number;
  readonly aboutValue?: number;
  readonly shiftValue?: number;
}

/** Whether a key is chosen, by its time. */
export type ChosenKeys = ReadonlySet<number>;

/** A curve's chosen keys, moved; where one lands on a key that was not chosen, it takes its place. */
export function mapKeys(curve: Curve, chosen: ChosenKeys, mapping: KeyMapping, snap = Math.round): Curve {
  const moved = curve.filter((key) => chosen.has(key.atFlicks)).map((key) => mapped(key, mapping, snap));
  return merged(
    curve.filter((key) => !chosen.has(key.atFlicks)),
    moved,
  );
}

function mapped(key: Key, mapping: KeyMapping, snap: (flicks: number) => number): Key {
  const { timeScale = 1, aboutFlicks = 0, shiftFlicks = 0 } = mapping;
  const { valueScale = 1, aboutValue = 0, shiftValue = 0 } = mapping;
  const handle = (side: Key['in']): Key['in'] =>
    side && { flicks: Math.round(side.flicks * timeScale), value: side.value * valueScale };
  const [into, out] = timeScale < 0 ? [handle(key.out), handle(key.in)] : [handle(key.in), handle(key.out)];
  const { in: _in, out: _out, ...rest } = key;
  return {
    ...rest,
    atFlicks: Math.max(0, snap(aboutFlicks + (key.atFlicks - aboutFlicks) * timeScale + shiftFlicks)),
    value: aboutValue + (key.value - aboutValue) * valueScale + shiftValue,
    ...(into && { in: into }),
    ...(out && { out }),
  };
}

/** Keys put into a curve, in order of time; a new key takes the place of one at the same time. */
export function merged(curve: Curve, keys: readonly Key[]): Curve {
  const byTime = new Map(curve.map((key) => [key.atFlicks, key]));
  for (const key of keys) byTime.set(key.atFlicks, key);
  return [...byTime.values()].sort((a, b) => a.atFlicks - b.atFlicks);
}

/** The curve backward: what came last comes first, over the same stretch of time. */
export function reversed(curve: Curve, chosen: ChosenKeys): Curve {
  const times = [...chosen];
  const about = (Math.min(...times) + Math.max(...times)) / 2;
  const turned = mapKeys(curve, chosen, { timeScale: -1, aboutFlicks: about });
  // How a curve leaves a key was said by the key before it: with time turned, that is the key after it.
  const kept = turned.filter((key) => key.shape === 'free' || key.shape === 'smooth');
  if (kept.length === turned.length) return turned;
  const shapes = curve.filter((key) => chosen.has(key.atFlicks)).map((key) => key.shape);
  return turned.map((key, i) => {
    const from = shapes[shapes.length - 2 - i];
    return from === 'linear' || from === 'hold' ? { ...key, shape: from } : key;
  });
}

/**
 * The chosen keys again, so many times more, each time later by `lengthFlicks`. A key that comes to stand where one of them
 * stands already stays out: what ends where it began goes on without a seam.
 */
export function looped(curve: Curve, chosen: ChosenKeys, lengthFlicks: number, times = 1): Curve {
  const keys = curve.filter((key) => chosen.has(key.atFlicks));
  const copies = Array.from({ length: times }, (_, i) =>
    keys.map((key) => ({ ...key, atFlicks: key.atFlicks + lengthFlicks * (i + 1) })),
  );
  return merged(
    curve,
    copies.flat().filter(({ atFlicks }) => !chosen.has(atFlicks)),
  );
}

/** The curve leaves the chosen keys in another way; `free` keys begin with the handles that keep its present form. */
export function shapedKeys(curve: Curve, chosen: ChosenKeys, shape: Key['shape']): Curve {
  return curve.map((key, i) => {
    if (!chosen.has(key.atFlicks)) return key;
    const { in: into, out, ...rest } = key;
    if (shape !== 'free') return { ...rest, shape };
    const fits = (side: -1 | 1): NonNullable<Key['in']> => {
      const neighbour = curve[i + side];
      if (!neighbour) return { flicks: 0, value: 0 };
      const flicks = Math.round((neighbour.atFlicks - key.atFlicks) / 3);
      return { flicks, value: slopeBeside(curve, key, side) * flicks };
    };
    return { ...rest, shape, in: into ?? fits(-1), out: out ?? fits(1) };
  });
}

/** Slope of a curve close beside a key, value per flick. */
function slopeBeside(curve: Curve, key: Key, side: -1 | 1): number {
  const step = 1000 * side;
  return ((valueAt(curve, key.atFlicks + step) ?? key.value) - key.value) / step;
}

/**
 * Eases a curve out of and into its chosen keys: the handles lie flat, as long as a share (0 to 1) of the way to the
 * neighbouring key. 0 leaves the key at full speed.
 */
export function easedKeys(
  curve: Curve,
  chosen: ChosenKeys,
  shares: { readonly in: number; readonly out: number },
): Curve {
  return curve.map((key, i) => {
    if (!chosen.has(key.atFlicks)) return key;
    const flat = (share: number, side: -1 | 1): NonNullable<Key['in']> => {
      const neighbour = curve[i + side];
      if (!neighbour) return { flicks: 0, value: 0 };
      const span = neighbour.atFlicks - key.atFlicks;
      // Without ease the handle points straight at the neighbour.
      return share > 0
        ? { flicks: Math.round(span * share), value: 0 }
        : { flicks: Math.round(span / 3), value: (neighbour.value - key.value) / 3 };
    };
    return { ...key, shape: 'free', in: flat(shares.in, -1), out: flat(shares.out, 1) };
  });
}

/** A curve with fewer keys, and how far it strays from the first at most, in the channel's unit. */
export interface Thinned {
  readonly curve: Curve;
  readonly error: number;
}

/**
 * Leaves out the keys that a smooth curve does not need: the greatest error at any key's time, and halfway between keys,
 * stays within the tolerance. Keys are put back where the error is greatest until it does.
 * @param tolerance in the unit of the curve's values, above 0.
 */
export function thinned(curve: Curve, tolerance: number): Thinned {
  if (curve.length < 3) return { curve, error: 0 };
  const times = curve.flatMap(({ atFlicks }, i) => {
    const next = curve[i + 1];
    return next ? [atFlicks, (atFlicks + next.atFlicks) / 2] : [atFlicks];
  });
  const wanted = times.map((time) => valueAt(curve, time) ?? 0);
  const kept = new Set([0, curve.length - 1]);
  for (;;) {
    const fit = curve.filter((_, i) => kept.has(i)).map(({ atFlicks, value }) => smooth(atFlicks, value));
    const worst = worstBetween(fit, times, wanted);
    const error = Math.max(0, ...worst.map(({ off }) => off));
    const before = kept.size;
    // One key goes back into every stretch that strays too far.
    for (const { off, at } of worst) if (off > tolerance) kept.add(freeKeyNear(kept, Math.round(at / 2), curve.length));
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

function freeKeyNear(kept: ReadonlySet<number>, near: number, count: number): number {
  for (let away = 0; away < count; away++) {
    for (const index of [near - away, near + away]) if (index >= 0 && index < count && !kept.has(index)) return index;
  }
  return near;
}
