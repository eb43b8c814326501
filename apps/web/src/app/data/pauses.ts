import type { MonoTypeOperatorFunction, Observable } from 'rxjs';
import { retry, tap, timer } from 'rxjs';

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 30_000;

/** How long to wait before try number `tries` (from 1): half a second, then twice as long each time, half a minute at most. */
function pauseMs(tries: number): number {
  return Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 2 ** (tries - 1));
}

/**
 * Tries again after growing pauses, for as long as somebody listens; each failure is told.
 * @param told what failed, and how often in a row.
 * @param sooner ends a pause early: it was a hint that there may be an answer now, and where there is none the next pause is no longer.
 */
export function retryWithPauses<T>(
  told: (error: unknown, tries: number) => void,
  sooner?: (pause: Observable<unknown>) => Observable<unknown>,
): MonoTypeOperatorFunction<T> {
  let early = 0;
  return retry({
    resetOnSuccess: true,
    delay: (error, tries) => {
      if (tries === 1) early = 0;
      told(error, tries);
      let isOver = false;
      const pause = timer(pauseMs(tries - early)).pipe(tap(() => (isOver = true)));
      if (!sooner) return pause;
      return sooner(pause).pipe(tap(() => (early += isOver ? 0 : 1)));
    },
  });
}
