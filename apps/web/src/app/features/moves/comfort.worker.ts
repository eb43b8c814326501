import { comfortOf } from '@arvex/core';
import { expose } from 'comlink';

/** Computes how whole moves feel, away from the interface. */
export class ComfortWorker {
  readonly comfortOf = comfortOf;
}

expose(new ComfortWorker());
