/** What a browser has and the test's document has not. */

type Listener = (event: { data: string }) => void;

/** Server-sent events that a test sends. */
export class FakeEvents {
  static readonly open = new Set<FakeEvents>();
  private readonly listeners = new Map<string, Listener[]>();

  constructor(readonly url: string) {
    FakeEvents.open.add(this);
  }

  addEventListener(type: string, listener: Listener): void {
    this.listeners.set(type, [...(this.listeners.get(type) ?? []), listener]);
  }

  close(): void {
    FakeEvents.open.delete(this);
  }

  static send(type: string, data: unknown): void {
    for (const { listeners } of FakeEvents.open) {
      for (const listener of listeners.get(type) ?? []) listener({ data: JSON.stringify(data) });
    }
  }
}

/** Locks by name: one holder at a time, the others wait. */
export const fakeLocks = {
  held: new Set<string>(),
  waiting: new Map<string, Promise<unknown>>(),

  request<T>(name: string, ...rest: [...unknown[], () => Promise<T>]): Promise<T> {
    const work = rest.at(-1) as () => Promise<T>;
    const before = this.waiting.get(name) ?? Promise.resolve();
    const mine = before.then(async () => {
      this.held.add(name);
      try {
        return await work();
      } finally {
        this.held.delete(name);
      }
    });
    this.waiting.set(name, mine);
    return mine;
  },

  query: () => Promise.resolve({ held: [...fakeLocks.held].map((name) => ({ name })) }),

  /** All tabs are gone. */
  clear(): void {
    this.held.clear();
    this.waiting.clear();
  },
};
