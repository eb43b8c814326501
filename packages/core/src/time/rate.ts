/** A frame rate as a fraction, so that 23.976 is exactly 24000/1001 and never drifts. */
export interface Rate {
  /** Frames, a positive integer. */
  readonly frames: number;
  /** In this many seconds, a positive integer. */
  readonly seconds: number;
}

/**
 * Flicks in a second: the smallest unit in which one frame of every {@link RATES} entry is a whole number.
 * 705 600 000 = 2⁹ · 3² · 5⁵ · 7² (public definition of the flick, 2018).
 */
export const FLICKS_PER_SECOND = 705_600_000;

/** The rates Arvex offers, slowest first. */
export const RATES: readonly Rate[] = [
  { frames: 24_000, seconds: 1001 },
  { frames: 24, seconds: 1 },
  { frames: 25, seconds: 1 },
  { frames: 30_000, seconds: 1001 },
  { frames: 30, seconds: 1 },
  { frames: 48, seconds: 1 },
  { frames: 50, seconds: 1 },
  { frames: 60_000, seconds: 1001 },
  { frames: 60, seconds: 1 },
];

/** Frames per second as a number, for display and for arithmetic that need not be exact. */
export function framesPerSecond(rate: Rate): number {
  return rate.frames / rate.seconds;
}

/** Length of one frame in flicks: a whole number for every rate in {@link RATES}. 24/1 gives 29 400 000. */
export function flicksPerFrame(rate: Rate): number {
  return (FLICKS_PER_SECOND * rate.seconds) / rate.frames;
}

/** Time of the start of frame `index` (counted from 0), in flicks. */
export function flicksAtFrame(index: number, rate: Rate): number {
  return Math.round(index * flicksPerFrame(rate));
}

/** The frame (counted from 0) that is showing at `flicks`. Negative times give negative frames. */
export function frameAtFlicks(flicks: number, rate: Rate): number {
  return Math.floor(flicks / flicksPerFrame(rate));
}

/** How many whole frames a length of `flicks` lasts, rounded to the nearest. */
export function framesInFlicks(flicks: number, rate: Rate): number {
  return Math.round(flicks / flicksPerFrame(rate));
}

/** Seconds as flicks, rounded to the nearest whole flick. */
export function flicksFromSeconds(seconds: number): number {
  return Math.round(seconds * FLICKS_PER_SECOND);
}

/** Flicks as seconds. */
export function secondsFromFlicks(flicks: number): number {
  return flicks / FLICKS_PER_SECOND;
}

/** Frame count that lasts as long at `to` as `frames` did at `from`: 150 at 30/1 become 120 at 24/1. */
export function framesKeepingSeconds(frames: number, from: Rate, to: Rate): number {
  return framesInFlicks(frames * flicksPerFrame(from), to);
}

/** `24`, `23.976`: the rate as crews write it, at most three decimals. */
export function rateLabel(rate: Rate): string {
  return String(Number(framesPerSecond(rate).toFixed(3)));
}
