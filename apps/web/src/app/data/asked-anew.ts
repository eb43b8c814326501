import type { Observable, OperatorFunction } from 'rxjs';
import { defer, EMPTY, exhaustMap, of, repeat, tap } from 'rxjs';

/**
 * Puts a question each time it is told to, one at a time, so that no answer overtakes another. However often it was told to while
 * one was under way, the question is put once more after it: the last answer is never older than the last time.
 */
export function askedAnew<T>(question: () => Observable<T>): OperatorFunction<unknown, T> {
  return (told$) =>
    defer(() => {
      let again = false;
      const asked$ = defer(() => {
        again = false;
        return question();
      });
      return told$.pipe(
        tap(() => (again = true)),
        exhaustMap(() => asked$.pipe(repeat({ delay: () => (again ? of(true) : EMPTY) }))),
      );
    });
}
