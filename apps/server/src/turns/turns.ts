import { Problem } from '../problem/problem';

/** Who waits for their turn at one thing, at most. */
const MOST_WAITING = 500;

/** Lets those who write to one thing do so one after another; whoever writes to another thing does not wait. */
export interface Turns {
  /** @throws Problem `busy` when very many wait already, and what the work throws. */
  inTurn<T>(key: string, work: () => Promise<T>): Promise<T>;
}

/**
 * Turns within one process, where waiting takes no connection to the database. Several processes stay right with it, too: the database has
 * the last word, and lets one writer in at a time.
 */
export class LocalTurns implements Turns {
  private readonly last = new Map<string, { readonly done: Promise<unknown>; waiting: number }>();

  async inTurn<T>(key: string, work: () => Promise<T>): Promise<T> {
    const before = this.last.get(key);
    if (before && before.waiting >= MOST_WAITING) {
      throw new Problem(
        'busy',
        'Many others write to this project just now. Nothing was changed; send the request again.',
      );
    }
    const done = (before?.done ?? Promise.resolve()).then(work);
    const mine = { done: done.catch(() => undefined), waiting: (before?.waiting ?? 0) + 1 };
    this.last.set(key, mine);
    try {
      return await done;
    } finally {
      const now = this.last.get(key);
      if (now === mine) this.last.delete(key);
      else if (now) now.waiting -= 1;
    }
  }
}
