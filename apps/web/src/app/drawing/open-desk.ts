import { proxy, transfer, wrap } from 'comlink';
import type { Remote } from 'comlink';
import { answerOf } from '../data';
import type { StageDesk } from './stage-desk';

/** Where the stage is: behind a worker, or here. */
export type OpenDesk = Remote<StageDesk> | StageDesk;

/** The stage in a worker, with another worker for search trees; in the window where workers have no graphics. */
export async function openDesk(): Promise<OpenDesk> {
  let worker: Worker | undefined;
  try {
    worker = new Worker(new URL('./stage.worker', import.meta.url), { type: 'module' });
    const desk = wrap<StageDesk>(worker);
    await answerOf(worker, desk.open());
    await desk.growTreesThrough(proxy(openTreePort));
    return desk;
  } catch {
    worker?.terminate();
    const { StageDesk: DeskClass } = await import('./stage-desk');
    const desk = new DeskClass();
    await desk.open();
    return desk;
  }
}

/** A way to a worker that builds search trees, made when the first large file asks for it. */
function openTreePort(): MessagePort {
  const trees = new Worker(new URL('./bounds-tree.worker', import.meta.url), { type: 'module' });
  const { port1, port2 } = new MessageChannel();
  trees.postMessage({ port: port1 }, [port1]);
  return transfer(port2, [port2]);
}
