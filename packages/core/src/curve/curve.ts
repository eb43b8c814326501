import * as z from 'zod';

const handleSchema = z.object({
  /** Time from the key, flicks: negative before it, positive after it. */
  flicks: z.number().int(),
  /** Value from the key, in the channel's unit. */
  value: z.number(),
});

/** How the curve leaves a key towards the next one. */
export const KEY_SHAPES = ['smooth', 'linear', 'hold', 'free'] as const;

/**
 * One value at one time. `in` and `out` are the Bézier handles of a `free` key; a `linear` or `hold` key may have an `in` with which it
 * is come to.
 */
export const keySchema = z.object({
  atFlicks: z.number().int().min(-Number.MAX_SAFE_INTEGER).max(Number.MAX_SAFE_INTEGER),
  value: z.number(),
  shape: z.enum(KEY_SHAPES).default('smooth'),
  in: handleSchema.optional(),
  out: handleSchema.optional(),
});

export type Key = z.infer<typeof keySchema>;

/** What a curve does after its last key: stays, begins anew, or begins anew from where it has come to. */
export const AFTER_LAST = ['stay', 'repeat', 'onward'] as const;

export type AfterLast = (typeof AFTER_LAST)[number];

/** Keys of a curve, at most. */
export const MOST_KEYS = 100_000;

/** Keys in rising order of time, no two at the same time. */
export const curveSchema = z
  .array(keySchema)
  .max(MOST_KEYS)
  .refine((keys) => keys.every((key, i) => i === 0 || (keys[i - 1]?.atFlicks ?? 0) < key.atFlicks), {
    message: 'Keys must rise in time, no two at the same time.',
  });

export type Curve = readonly Key[];

/** Relative width of the interval at which solving for the Bézier parameter stops. */
const PARAMETER_TOLERANCE = 1e-12;

/** Index of the last key at or before `flicks`, or −1. O(log keys). */
export function keyIndexAt(curve: Curve, flicks: number): number {
  let low = 0;
  let high = curve.length;
  while (low < high) {
    const middle = (low + high) >>> 1;
    if ((curve[middle] as Key).atFlicks <= flicks) low = middle + 1;
    else high = middle;
  }
  return low - 1;
}

/**
 * Value of a curve at a time in flicks. Before the first key and after the last the end value holds.
 * Segments are cubic Bézier in time and value; `smooth` keys never overshoot and are flat at the ends, so that a move
 * eases in and out. Returns `undefined` for a curve without keys.
 */
export function valueAt(curve: Curve, flicks: number): number | undefined {
  return readerOf(curve).at(flicks);
}

/** Value of a curve that goes on after its last key. A curve of N frames that repeats shows its first value again at frame N. */
export function valueOnward(curve: Curve, after: AfterLast, flicks: number): number | undefined {
  return readerOf(curve).onward(after, flicks);
}

const readers = new WeakMap<Curve, CurveReader>();

/** The reader of a curve, made once. Keep it where one curve is read for every frame. */
export function readerOf(curve: Curve): CurveReader {
  let reader = readers.get(curve);
  if (!reader) {
    reader = new CurveReader(curve);
    readers.set(curve, reader);
  }
  return reader;
}

/** Numbers kept of each key: its time, then a, b, c, d of the segment after it: value = a + s (b + s (c + s d)), s its share of time. */
const NUMBERS = 5;

/** A curve laid out for reading. Frames are mostly read in turn, so it looks first where it looked last. */
export class CurveReader {
  /** Side by side in one piece: reading many cameras in turn costs most where memory has to be waited for. */
  private readonly numbers: Float64Array;
  private readonly count: number;
  private last = 0;

  constructor(private readonly curve: Curve) {
    this.count = curve.length;
    this.numbers = new Float64Array(curve.length * NUMBERS);
    curve.forEach((key, i) => this.numbers.set([key.atFlicks, ...segmentTerms(curve, key, i)], i * NUMBERS));
  }

  /** What {@link valueAt} says. */
  at(flicks: number): number | undefined {
    const { numbers, count } = this;
    if (count === 0) return undefined;
    const index = this.indexAt(flicks);
    if (index < 0) return numbers[1];
    const place = index * NUMBERS;
    const from = numbers[place] as number;
    const start = numbers[place + 1] as number;
    if (index === count - 1 || flicks === from) return start;
    const share = (flicks - from) / ((numbers[place + NUMBERS] as number) - from);
    const slope = numbers[place + 2] as number;
    if (Number.isNaN(slope)) return this.free(index, share);
    const bend = (numbers[place + 3] as number) + share * (numbers[place + 4] as number);
    return start + share * (slope + share * bend);
  }

  /** What {@link valueOnward} says. */
  onward(after: AfterLast, flicks: number): number | undefined {
    const { curve, count } = this;
    if (after === 'stay' || count < 2) return this.at(flicks);
    const [from, to] = [this.timeOf(0), this.timeOf(count - 1)];
    if (flicks <= to) return this.at(flicks);
    const length = to - from;
    const rounds = Math.floor((flicks - from) / length);
    const value = this.at(flicks - rounds * length);
    if (after !== 'onward' || value === undefined) return value;
    return value + rounds * ((curve.at(-1) as Key).value - (curve[0] as Key).value);
  }

  /** Time of a key; endless after the last. */
  private timeOf(index: number): number {
    return index < this.count ? (this.numbers[index * NUMBERS] as number) : Infinity;
  }

  private indexAt(flicks: number): number {
    const { last } = this;
    if (flicks >= this.timeOf(last)) {
      if (flicks < this.timeOf(last + 1)) return last;
      if (flicks < this.timeOf(last + 2)) return (this.last = last + 1);
    }
    let low = 0;
    let high = this.count;
    while (low < high) {
      const middle = (low + high) >>> 1;
      if (this.timeOf(middle) <= flicks) low = middle + 1;
      else high = middle;
    }
    this.last = Math.max(0, low - 1);
    return low - 1;
  }

  private free(index: number, share: number): number {
    const [left, right] = [this.curve[index] as Key, this.curve[index + 1] as Key];
    const span = right.atFlicks - left.atFlicks;
    const out = handleOf(this.curve, index, span, 'out');
    const into = handleOf(this.curve, index + 1, span, 'in');
    const u = bezierParameter(out.share, 1 + into.share, share);
    return bezier(left.value, left.value + out.value, right.value + into.value, right.value, u);
  }
}

/** The four numbers of the segment after key `i`; b is not a number where handles are free. */
function segmentTerms(curve: Curve, key: Key, i: number): readonly [number, number, number, number] {
  const next = curve[i + 1];
  if (!next || key.shape === 'hold') return [key.value, 0, 0, 0];
  const rise = next.value - key.value;
  if (key.shape === 'linear') return [key.value, rise, 0, 0];
  if (key.shape === 'free' || actingHandle(next, 'in')) return [key.value, NaN, 0, 0];
  const span = next.atFlicks - key.atFlicks;
  const [out, into] = [slopeAt(curve, i) * span, slopeAt(curve, i + 1) * span];
  return [key.value, out, 3 * rise - 2 * out - into, out + into - 2 * rise];
}

/** Slope of a smooth curve at key `index`, value per flick: Fritsch and Butland's monotone choice (1984), flat at the ends. */
export function slopeAt(curve: Curve, index: number): number {
  const before = curve[index - 1];
  const here = curve[index];
  const after = curve[index + 1];
  if (!before || !here || !after) return 0;
  const spanBefore = here.atFlicks - before.atFlicks;
  const spanAfter = after.atFlicks - here.atFlicks;
  const riseBefore = (here.value - before.value) / spanBefore;
  const riseAfter = (after.value - here.value) / spanAfter;
  if (riseBefore * riseAfter <= 0) return 0;
  const weightBefore = 2 * spanAfter + spanBefore;
  const weightAfter = spanAfter + 2 * spanBefore;
  return (weightBefore + weightAfter) / (weightBefore / riseBefore + weightAfter / riseAfter);
}

/**
 * A handle that says how the curve goes beside a key: both of a free one; of a linear or holding one that with which it is come to,
 * as its shape says only how it is left.
 */
export function actingHandle(key: Key, side: 'in' | 'out'): Key['in'] {
  if (key.shape === 'free') return key[side];
  return side === 'in' && key.shape !== 'smooth' ? key.in : undefined;
}

/** A key's handle with its time as a share of the segment, kept inside it so that time stays monotone. */
function handleOf(curve: Curve, index: number, span: number, side: 'in' | 'out'): { share: number; value: number } {
  const key = curve[index] as Key;
  const given = actingHandle(key, side);
  const sign = side === 'in' ? -1 : 1;
  if (!given) return { share: sign / 3, value: (sign * slopeAt(curve, index) * span) / 3 };
  return { share: sign * Math.min(1, Math.max(0, (sign * given.flicks) / span)), value: given.value };
}

function bezier(a: number, b: number, c: number, d: number, u: number): number {
  const v = 1 - u;
  return v * v * v * a + 3 * v * v * u * b + 3 * v * u * u * c + u * u * u * d;
}

/** Parameter at which a Bézier in time from 0 to 1 with inner points `b`, `c` reaches `share`: Newton kept in a bracket. */
export function bezierParameter(b: number, c: number, share: number): number {
  let low = 0;
  let high = 1;
  let u = share;
  for (let step = 0; step < 60 && high - low > PARAMETER_TOLERANCE; step++) {
    const error = bezier(0, b, c, 1, u) - share;
    if (error === 0) return u;
    if (error > 0) high = u;
    else low = u;
    const v = 1 - u;
    const slope = 3 * v * v * b + 6 * v * u * (c - b) + 3 * u * u * (1 - c);
    const newton = u - error / slope;
    u = newton > low && newton < high ? newton : (low + high) / 2;
  }
  return u;
}

/** The curve with `key` put in its place, replacing a key at the same time. */
export function withKey(curve: Curve, key: Key): Curve {
  const index = keyIndexAt(curve, key.atFlicks);
  const same = curve[index]?.atFlicks === key.atFlicks;
  return [...curve.slice(0, same ? index : index + 1), key, ...curve.slice(index + 1)];
}

/** The curve without the key at `atFlicks`, if there is one. */
export function withoutKey(curve: Curve, atFlicks: number): Curve {
  return curve.filter((key) => key.atFlicks !== atFlicks);
}
