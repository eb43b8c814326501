import type { Curve } from '../curve';
import { readerOf, spanOf, valueAt } from '../curve';
import type { Move } from '../model';
import { FLICKS_PER_SECOND, flicksFromSeconds } from '../time';

/** The curves of a move, by channel. */
interface Moving {
  readonly curves: Readonly<Record<string, Curve>>;
}

/** Halvings in which a time is looked for between two keys: past the last flick of a year. */
const HALVINGS = 64;

/**
 * The time at which the curves of a move are read at a scene time: its keys and marks stand in this time. The scene's own, unless
 * a speed curve (`timeWarp`) says another. Flicks.
 */
export function clockAt(move: Moving | undefined, sceneFlicks: number): number {
  const timeWarp = move?.curves['timeWarp'];
  const seconds = timeWarp && readerOf(timeWarp).at(sceneFlicks);
  return seconds === undefined ? sceneFlicks : flicksFromSeconds(seconds);
}

/** The first scene time at which the clock of a move shows a time; `undefined` when it never does. Flicks. */
export function sceneAt(move: Moving | undefined, clockFlicks: number): number | undefined {
  const timeWarp = move?.curves['timeWarp'];
  if (!timeWarp || timeWarp.length === 0) return clockFlicks;
  const wanted = clockFlicks / FLICKS_PER_SECOND;
  const near = 1 / FLICKS_PER_SECOND;
  for (const [i, key] of timeWarp.entries()) {
    if (Math.abs(key.value - wanted) <= near) return key.atFlicks;
    const next = timeWarp[i + 1];
    const crossed = next && (key.value < wanted ? next.value > wanted : next.value < wanted);
    if (crossed && key.shape !== 'hold') return crossing(timeWarp, key.atFlicks, next.atFlicks, wanted);
  }
  return undefined;
}

function crossing(timeWarp: Curve, from: number, to: number, wanted: number): number {
  let [low, high] = [from, to];
  const rising = (valueAt(timeWarp, from) ?? 0) < wanted;
  for (let i = 0; i < HALVINGS && high - low > 1; i++) {
    const middle = Math.round((low + high) / 2);
    if ((valueAt(timeWarp, middle) ?? 0) < wanted === rising) low = middle;
    else high = middle;
  }
  const off = (flicks: number) => Math.abs((valueAt(timeWarp, flicks) ?? 0) - wanted);
  return off(low) < off(high) ? low : high;
}

/** First and last scene time at which something of a move is keyed; `undefined` when nothing is. Flicks. */
export function sceneSpanOf(move: Moving | undefined): readonly [number, number] | undefined {
  if (!move) return undefined;
  const { timeWarp } = move.curves;
  const [first, last] = [timeWarp?.[0], timeWarp?.at(-1)];
  return first && last ? [first.atFlicks, last.atFlicks] : spanOf(move.curves);
}

/** First and last time of a move's clock at which something is keyed but the clock itself. Flicks. */
export function clockSpanOf({ curves }: Moving): readonly [number, number] | undefined {
  const { timeWarp: _clock, ...others } = curves;
  return spanOf(others);
}

/**
 * Whether a move begins again at its last key, or goes on round: what is seen then is what was seen at its first one, and an own range that
 * had both would show one frame twice.
 */
export function isLoop(move: Pick<Move, 'curves' | 'after'>): boolean {
  const span = sceneSpanOf(move);
  if (!span || span[1] <= span[0]) return false;
  const ending = Object.entries(move.curves).filter(
    ([, curve]) => curve.length > 1 && curve.at(-1)?.atFlicks === span[1],
  );
  const after: Readonly<Record<string, string | undefined>> = move.after;
  return ending.length > 0 && ending.every(([channel]) => (after[channel] ?? 'stay') !== 'stay');
}
