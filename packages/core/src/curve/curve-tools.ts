import { CoreError } from '../error';
import type { Curve, Key } from './curve';
import { actingHandle, bezierParameter, keyIndexAt, slopeAt, valueAt, withKey } from './curve';

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

/**
 * A curve's chosen keys, moved; where one lands on a key that was not chosen, it takes its place. They stop together at scene
 * time 0: none of them melts into another there.
 * @throws CoreError `out-of-range` when two of the chosen keys would stand at one time.
 */
export function mapKeys(curve: Curve, chosen: ChosenKeys, mapping: KeyMapping, snap = Math.round): Curve {
  const own = curve.filter((key) => chosen.has(key.atFlicks));
  if (own.length === 0) return curve;
  const moved = own.map((key) => mapped(key, mapping, snap));
  if ((mapping.timeScale ?? 1) < 0) moved.reverse();
  const early = Math.max(0, -Math.min(...moved.map((key) => key.atFlicks)));
  const kept = early === 0 ? moved : moved.map((key) => ({ ...key, atFlicks: key.atFlicks + early }));
  if (kept.some((key, i) => i > 0 && key.atFlicks <= (kept[i - 1] as Key).atFlicks)) {
    throw new CoreError('out-of-range', 'Two keys would fall on one frame. Give them more time.', 'keys');
  }
  return merged(
    curve.filter((key) => !chosen.has(key.atFlicks)),
    kept,
  );
}

/** A whole curve in another time: exact, wherever its keys come to stand. `timeScale` is above 0. */
export function mappedCurve(curve: Curve, mapping: KeyMapping): Curve {
  return curve
    .map((key) => mapped(key, mapping, Math.round))
    .filter((key, i, all) => i === 0 || key.atFlicks > (all[i - 1] as Key).atFlicks);
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
    atFlicks: snap(aboutFlicks + (key.atFlicks - aboutFlicks) * timeScale + shiftFlicks),
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

/** The chosen keys backward: what came last comes first, over the same stretch of time. */
export function reversed(curve: Curve, chosen: ChosenKeys): Curve {
  const own = curve.filter((key) => chosen.has(key.atFlicks));
  const [first, last] = [own[0], own.at(-1)];
  if (!first || !last) return curve;
  return merged(
    curve.filter((key) => !chosen.has(key.atFlicks)),
    mirrored(own, first.atFlicks + last.atFlicks),
  );
}

/**
 * A curve seen in a mirror of time: at `sumFlicks` − t it has the value that it had at t, whatever the shapes of its keys. How
 * a curve goes between two keys is said by the earlier one, which is the later one then; where that leaves no shape to say it,
 * keys become free. A value that was held begins a flick after the key that came after it.
 */
export function mirrored(curve: Curve, sumFlicks: number): Curve {
  const time = (flicks: number) => sumFlicks - flicks || 0;
  const turned = (side: Key['in']): Key['in'] => side && { flicks: -side.flicks || 0, value: side.value };
  const holds = curve.some((key, i) => key.shape === 'hold' && i < curve.length - 1);
  return [...curve].reverse().flatMap((key, place): Key[] => {
    const i = curve.length - 1 - place;
    const before = curve[i - 1];
    const { in: _into, out: _out, ...rest } = { ...key, atFlicks: time(key.atFlicks) };
    // Beside a value that was held, every slope has to be said: the key that is put there would change it.
    const into = turned(holds ? handleAt(curve, i, 'out') : actingHandle(key, 'out'));
    const out = turned(holds ? handleAt(curve, i, 'in') : actingHandle(key, 'in'));
    if (before?.shape === 'hold') {
      const held: Key = { atFlicks: rest.atFlicks + 1, value: before.value, shape: 'hold' };
      return [{ ...rest, shape: 'linear', ...(into && { in: into }) }, held];
    }
    if (before?.shape === 'linear') return [{ ...rest, shape: 'linear', ...(into && { in: into }) }];
    if (!into && !out) return [{ ...rest, shape: before || key.shape === 'free' ? 'smooth' : key.shape }];
    return [{ ...rest, shape: 'free', ...(into && { in: into }), ...(out && { out }) }];
  });
}

/** A key's handle that keeps the form of the way beside it, whatever its shape. */
export function handleAt(curve: Curve, i: number, side: 'in' | 'out'): NonNullable<Key['in']> {
  const [key, other] = [curve[i], curve[side === 'in' ? i - 1 : i + 1]];
  if (!key || !other) return { flicks: 0, value: 0 };
  const { shape } = side === 'in' ? other : key;
  const own = actingHandle(key, side);
  if (own && shape !== 'linear' && shape !== 'hold') return own;
  const span = other.atFlicks - key.atFlicks;
  const slope = shape === 'linear' ? (other.value - key.value) / span : slopeAt(curve, i);
  const flicks = Math.round(span / 3);
  return { flicks, value: slope * flicks };
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
  if (shape === 'free') return freed(curve, indicesOf(curve, chosen));
  return curve.map((key) => {
    if (!chosen.has(key.atFlicks)) return key;
    const { in: _into, out: _out, ...rest } = key;
    return { ...rest, shape };
  });
}

function indicesOf(curve: Curve, chosen: ChosenKeys): ReadonlySet<number> {
  return new Set(curve.flatMap((key, i) => (chosen.has(key.atFlicks) ? [i] : [])));
}

/**
 * The curve with some keys free, their handles such that it keeps its form. A straight way stays one by the handles of both its
 * ends, so the key at its other end becomes free too.
 */
function freed(curve: Curve, indices: ReadonlySet<number>): Curve {
  const all = new Set(indices);
  for (let i = 0; i < curve.length - 1; i++) if (all.has(i) && curve[i]?.shape === 'linear') all.add(i + 1);
  return curve.map((key, i): Key => {
    if (!all.has(i)) return key;
    const { in: _into, out: _out, ...rest } = key;
    const shape = key.shape === 'hold' && !indices.has(i) ? 'hold' : 'free';
    return { ...rest, shape, in: handleAt(curve, i, 'in'), out: handleAt(curve, i, 'out') };
  });
}

/**
 * The curve with one more key at a time between two of its keys, and the same form: a Bézier is divided (de Casteljau), and the
 * keys beside it become free where they bend.
 */
export function dividedAt(curve: Curve, atFlicks: number): Curve {
  const index = keyIndexAt(curve, atFlicks);
  const [left, right] = [curve[index], curve[index + 1]];
  if (!left || !right || left.atFlicks === atFlicks) return curve;
  const value = valueAt(curve, atFlicks) ?? left.value;
  if (left.shape === 'linear' || left.shape === 'hold') {
    // The slopes beside it would follow from other spans: they are said.
    const come = index > 0 && { in: handleAt(curve, index, 'in') };
    const [before, after] = [
      { ...left, ...come },
      right.shape === 'smooth' ? freed(curve, new Set([index + 1])) : curve,
    ];
    return withKey(withKey(after, before), { atFlicks, value, shape: left.shape });
  }
  const pinned = (i: number, key: Key): Key =>
    key.shape === 'linear' || key.shape === 'hold'
      ? { ...key, in: handleAt(curve, i, 'in') }
      : { ...key, shape: 'free', in: handleAt(curve, i, 'in'), out: handleAt(curve, i, 'out') };
  const [from, to] = [pinned(index, left), pinned(index + 1, right)];
  const span = to.atFlicks - from.atFlicks;
  const points = [
    [0, from.value],
    [Math.min(span, Math.max(0, from.out?.flicks ?? 0)), from.value + (from.out?.value ?? 0)],
    [span + Math.max(-span, Math.min(0, to.in?.flicks ?? 0)), to.value + (to.in?.value ?? 0)],
    [span, to.value],
  ] as const;
  const u = bezierParameter(points[1][0] / span, points[2][0] / span, (atFlicks - from.atFlicks) / span);
  const between = (a: readonly [number, number], b: readonly [number, number]): [number, number] => [
    a[0] + (b[0] - a[0]) * u,
    a[1] + (b[1] - a[1]) * u,
  ];
  const [ab, bc, cd] = [between(points[0], points[1]), between(points[1], points[2]), between(points[2], points[3])];
  const [abc, bcd] = [between(ab, bc), between(bc, cd)];
  const [at, middle] = [atFlicks - from.atFlicks, between(abc, bcd)[1]];
  const handle = ([flicks, height]: readonly [number, number], about: number, own: number) => ({
    flicks: Math.round(flicks - about),
    value: height - own,
  });
  const key: Key = {
    atFlicks,
    value: middle,
    shape: 'free',
    in: handle(abc, at, middle),
    out: handle(bcd, at, middle),
  };
  return [
    ...curve.slice(0, index),
    { ...from, out: handle(ab, 0, from.value) },
    key,
    { ...to, in: handle(cd, span, to.value) },
    ...curve.slice(index + 2),
  ];
}

/**
 * Eases a curve out of and into its chosen keys: the handles lie flat, as long as a share (0 to 1) of the way to the
 * neighbouring key. 0 leaves the key at full speed. A straight way into a chosen key bends for it; its other end keeps its form.
 */
export function easedKeys(
  curve: Curve,
  chosen: ChosenKeys,
  shares: { readonly in: number; readonly out: number },
): Curve {
  const own = indicesOf(curve, chosen);
  const into = [...own].filter((i) => curve[i - 1]?.shape === 'linear').map((i) => i - 1);
  const base = freed(curve, new Set([...into, ...own]));
  return base.map((key, i) => {
    if (!own.has(i)) return key;
    const flat = (share: number, side: -1 | 1): NonNullable<Key['in']> => {
      const neighbour = base[i + side];
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
