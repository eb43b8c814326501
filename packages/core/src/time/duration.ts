import type { Rate } from './rate';
import { framesPerSecond } from './rate';

/** Sizes of units by their names. */
type Sizes = Readonly<Record<string, number>>;

/** Units of time in seconds, frames of a rate among them. */
export function timeInSeconds(rate: Rate): Sizes {
  const frame = 1 / framesPerSecond(rate);
  return { s: 1, sec: 1, ms: 0.001, min: 60, h: 3600, f: frame, fr: frame, frame, frames: frame };
}

/** Units of time in frames of a rate. */
export function timeInFrames(rate: Rate): Sizes {
  const perSecond = framesPerSecond(rate);
  return Object.fromEntries(Object.entries(timeInSeconds(rate)).map(([unit, seconds]) => [unit, seconds * perSecond]));
}

/** A time as a clock shows it: minutes and seconds, or hours before them. */
const CLOCK = /(?<![\d:.,])(?:(\d+):)?(\d{1,2}):(\d{1,2}(?:[.,]\d+)?)(?![\d:])/g;

/** Text in which times as a clock shows them are written with units: `0:05` is `(0*3600+0*60+5)s`, `1:02:03` an hour, two minutes and three seconds. */
export function clockInUnits(text: string): string {
  return text.replace(CLOCK, (_all, hours: string | undefined, minutes: string, seconds: string) => {
    const total = Number(hours ?? 0) * 3600 + Number(minutes) * 60 + Number(seconds.replace(',', '.'));
    return `${total}s`;
  });
}
