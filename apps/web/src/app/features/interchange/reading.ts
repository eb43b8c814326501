import type { Remote } from 'comlink';
import { wrap } from 'comlink';
import { Observable } from 'rxjs';
import { answerOf } from '../../data';
import type { ReadingWorker } from './reading.worker';

/** What a worker reads from files, while somebody listens: who stops listening ends it. @throws InterchangeError as an error of the observable. */
export function reading<T>(work: (worker: Remote<ReadingWorker>) => Promise<T>): Observable<T> {
  return new Observable((listener) => {
    const worker = new Worker(new URL('./reading.worker', import.meta.url), { type: 'module' });
    answerOf(worker, work(wrap<ReadingWorker>(worker))).then(
      (read) => {
        listener.next(read);
        listener.complete();
      },
      (error: unknown) => listener.error(error),
    );
    return () => worker.terminate();
  });
}
