import type { Curve } from '@arvex/core';
import { valueOnward } from '@arvex/core';
import type { Track } from '../../features/moves';

/** The stretch of time that is shown, flicks, over so many pixels. */
export interface TimeAxis {
  readonly fromFlicks: number;
  readonly toFlicks: number;
  readonly widthPx: number;
}

export function xOf({ fromFlicks, toFlicks, widthPx }: TimeAxis, flicks: number): number {
  return ((flicks - fromFlicks) / (toFlicks - fromFlicks)) * widthPx;
}

export function flicksOf({ fromFlicks, toFlicks, widthPx }: TimeAxis, x: number): number {
  return fromFlicks + (x / widthPx) * (toFlicks - fromFlicks);
}

/** Values of a channel over a height: each channel has its own, so that curves of unlike units lie side by side. */
export interface ValueAxis {
  readonly low: number;
  readonly high: number;
  readonly topPx: number;
  readonly heightPx: number;
}

/** Share of the height left free over and under a curve. */
const MARGIN = 0.1;
/** A curve that does not change lies in the middle of this much, in its unit. */
const FLAT_SPAN = 1;

export function valueAxis({ curve }: Pick<Track, 'curve'>, topPx: number, heightPx: number): ValueAxis {
  const values = curve.flatMap((key) => [
    key.value,
    ...(key.shape === 'free' ? [key.value + (key.in?.value ?? 0), key.value + (key.out?.value ?? 0)] : []),
  ]);
  const [least, most] = [Math.min(...values), Math.max(...values)];
  const span = Math.max(most - least, 1e-6);
  const [low, high] = most - least < 1e-6 ? [least - FLAT_SPAN / 2, most + FLAT_SPAN / 2] : [least, most];
  const air = (most - least < 1e-6 ? FLAT_SPAN : span) * MARGIN;
  return { low: low - air, high: high + air, topPx, heightPx };
}

export function yOf({ low, high, topPx, heightPx }: ValueAxis, value: number): number {
  return topPx + heightPx - ((value - low) / (high - low)) * heightPx;
}

/** How much a channel changes for each pixel upward. */
export function valuePerPx({ low, high, heightPx }: ValueAxis): number {
  return (high - low) / heightPx;
}

/** Points between keys at which a curve is drawn: one every few pixels. */
const STEP_PX = 3;

/** A curve as an SVG path over the time that is shown. */
export function curvePath({ curve, after }: Track, time: TimeAxis, axis: ValueAxis): string {
  const at = (x: number): string => {
    const value = valueOnward(curve, after, flicksOf(time, x)) ?? 0;
    return `${x.toFixed(1)} ${yOf(axis, value).toFixed(1)}`;
  };
  const edges = curve
    .flatMap((key) => [xOf(time, key.atFlicks) - 0.01, xOf(time, key.atFlicks)])
    .filter((x) => x >= 0 && x <= time.widthPx);
  const steps = Array.from({ length: Math.ceil(time.widthPx / STEP_PX) + 1 }, (_, i) => i * STEP_PX);
  return `M${[...steps, ...edges]
    .sort((a, b) => a - b)
    .map(at)
    .join('L')}`;
}

/** Round numbers about `count` apart between two ends. */
export function ticks(low: number, high: number, count: number): number[] {
  const raw = (high - low) / Math.max(1, count);
  const power = 10 ** Math.floor(Math.log10(Math.max(raw, 1e-12)));
  const step = ([1, 2, 5, 10].find((times) => times * power >= raw) ?? 10) * power;
  const first = Math.ceil(low / step) * step;
  return Array.from({ length: Math.max(0, Math.floor((high - first) / step) + 1) }, (_, i) =>
    Number((first + i * step).toPrecision(10)),
  );
}

/** Room before the first key and after the last, share of the time between them: no key lies on the edge. */
export const ROOM = 0.05;
/** Frames that are shown at least, however close keys lie. */
const FEWEST_FRAMES = 24;

/** First and last time of some curves; a little room round them. */
export function timesOf(curves: readonly Curve[], frameFlicks: number): readonly [number, number] {
  const times = curves.flatMap((curve) => [curve[0]?.atFlicks ?? 0, curve.at(-1)?.atFlicks ?? 0]);
  if (times.length === 0) return [0, frameFlicks * 96];
  const from = Math.min(...times);
  const to = Math.max(...times, from + frameFlicks * FEWEST_FRAMES);
  const room = Math.max(frameFlicks * 2, (to - from) * ROOM);
  return [from - room, to + room];
}
