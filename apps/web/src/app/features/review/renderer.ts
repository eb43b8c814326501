import type { Remote } from 'comlink';
import { transfer, wrap } from 'comlink';
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
    const beats = new Worker(new URL('./lease-beats.worker', import.meta.url), { type: 'module' });
    const remote = wrap<RenderWorker>(worker);
    const { port1, port2 } = new MessageChannel();
    beats.postMessage(port1, [port1]);
    void remote.beatBy(transfer(port2, [port2]));
    listener.next({ ask: (work) => answerOf(worker, work(remote)) });
    return () => {
      worker.terminate();
      beats.terminate();
    };
  });
}
