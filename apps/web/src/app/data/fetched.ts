import type { Observable } from 'rxjs';
import { defer, from, of, take } from 'rxjs';
import { retryWithPauses } from './pauses';

/**
 * Code that is fetched when it is first wanted, again with growing pauses for as long as somebody listens; at once what is at
 * hand already.
 * @param late it could not be fetched and is tried again.
 */
export function fetched<T>(load: () => T | Promise<T>, late: () => void = () => undefined): Observable<T> {
  return defer(() => {
    const loaded = load();
    return loaded instanceof Promise ? from(loaded) : of(loaded);
  }).pipe(retryWithPauses(late), take(1));
}

/** Fetches all code that may be wanted later, while the server is there: once what is looked at first stands on the screen. */
export function fetchAhead(): void {
  const later = document.querySelector<HTMLTemplateElement>('template#later');
  if (later) document.head.append(later.content);
}

/** A worker whose script could not be fetched. */
export class WorkerLost extends Error {
  override readonly name = 'WorkerLost';
  constructor() {
    super('The server does not answer, and the program for this has not been fetched yet.');
  }
}

/**
 * What a worker answers.
 * @throws WorkerLost when its script cannot be fetched: it would never answer.
 */
export function answerOf<T>(worker: Worker, answer: Promise<T>): Promise<T> {
  const listening = new AbortController();
  const lost = new Promise<never>((_, reject) => {
    const told = (event: Event) => {
      // An error inside of it has its message, and its answer fails by itself.
      if (!(event instanceof ErrorEvent)) reject(new WorkerLost());
    };
    worker.addEventListener('error', told, { signal: listening.signal });
  });
  return Promise.race([answer, lost]).finally(() => listening.abort());
}
