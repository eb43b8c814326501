import type { MonoTypeOperatorFunction, OperatorFunction } from 'rxjs';
import { debounceTime, EMPTY, of, pipe, switchMap } from 'rxjs';

/** How long something has to rest before it is measured, milliseconds. */
const REST_MS = 400;

/** What has not changed for a while; `undefined` means that nothing may be measured just now. */
export function whenAtRest<T extends object>(): OperatorFunction<T | undefined, T> {
  const settled: MonoTypeOperatorFunction<T | undefined> = debounceTime(REST_MS);
  return pipe(
    settled,
    switchMap((value) => (value === undefined ? EMPTY : of(value))),
  );
}
