import type { Observable, OperatorFunction } from 'rxjs';
import { debounceTime, defer, EMPTY, pipe, switchMap } from 'rxjs';
import { retryWithPauses } from '../data';

/** How long something has to rest before it is measured, milliseconds. */
const REST_MS = 400;

/**
 * Measures what has not changed for a while, and gives up a measure that is on its way once something else has rested.
 * `undefined` means that nothing may be measured just now. What fails is measured again after growing pauses.
 * @param told what failed, and how often in a row.
 * @param restMs how long it has to rest; 400 ms where it is not given.
 */
export function measuredAtRest<T extends object, R>(
  measure: (what: T) => Observable<R>,
  told: (error: unknown, tries: number) => void,
  restMs = REST_MS,
): OperatorFunction<T | undefined, R> {
  return pipe(
    debounceTime(restMs),
    switchMap((what) => (what === undefined ? EMPTY : defer(() => measure(what)).pipe(retryWithPauses(told)))),
  );
}
