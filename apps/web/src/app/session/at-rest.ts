import type { Observable, OperatorFunction } from 'rxjs';
import { defer, EMPTY, switchMap, timer } from 'rxjs';
import { retryWithPauses } from '../data';

/** How long something has to rest before it is measured, milliseconds. */
const REST_MS = 400;

/**
 * Measures what has not changed for a while. A measure that is on its way is given up as soon as something else is to be
 * measured: what it would say is no longer so. `undefined` means that nothing may be measured just now. What fails is measured again after growing pauses.
 * @param told what failed, and how often in a row.
 * @param restMs how long it has to rest; 400 ms where it is not given.
 */
export function measuredAtRest<T extends object, R>(
  measure: (what: T) => Observable<R>,
  told: (error: unknown, tries: number) => void,
  restMs = REST_MS,
): OperatorFunction<T | undefined, R> {
  const measured = (what: T) =>
    timer(restMs).pipe(switchMap(() => defer(() => measure(what)).pipe(retryWithPauses(told))));
  return switchMap((what) => (what === undefined ? EMPTY : measured(what)));
}
