import type { Remote } from 'comlink';
import { wrap } from 'comlink';
import { Observable } from 'rxjs';
import { answerOf } from '../../data';
import type { RenderWorker } from './render.worker';

/** Asks something of a renderer in a worker; fails with `WorkerLost` when that dies. */
export interface Renderer {
  ask<T>(work: (remote: Remote<RenderWorker>) => Promise<T>): Promise<T>;
}

/** A renderer in a worker of its own, for as long as somebody listens. */
export function renderer(): Observable<Renderer> {
  return new Observable((listener) => {
    const worker = new Worker(new URL('./render.worker', import.meta.url), { type: 'module' });
    const remote = wrap<RenderWorker>(worker);
    listener.next({ ask: (work) => answerOf(worker, work(remote)) });
    return () => worker.terminate();
  });
}
