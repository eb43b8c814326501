import { inject, Injectable, signal } from '@angular/core';
import type { Change, Entity } from '@arvex/core';
import { Subject } from 'rxjs';
import type { ProblemDocument } from './api';
import { Api, AwayError, ProblemError } from './api';
import type { Waiting } from './outbox-database';
import { OutboxDatabase } from './outbox-database';

/** What became of a change that was sent. */
export type Sent =
  | { readonly kind: 'applied'; readonly change: Change; readonly seq: number }
  | {
      readonly kind: 'conflict';
      readonly waiting: Waiting;
      readonly theirs: Entity | null;
      readonly problem: ProblemDocument;
    }
  | { readonly kind: 'refused'; readonly change: Change; readonly problem: ProblemDocument };

const FIRST_PAUSE_MS = 500;
const LONGEST_PAUSE_MS = 8000;

/** Sends changes in the order in which they were made, again and again until the server has them. */
@Injectable({ providedIn: 'root' })
export class Outbox {
  /** How many changes of this tab wait. */
  readonly waiting = signal(0);
  /** Whether the server did not answer the last time. */
  readonly away = signal(false);
  readonly sent$ = new Subject<Sent>();

  private readonly api = inject(Api);
  private readonly database = new OutboxDatabase();
  private readonly tabId = crypto.randomUUID();
  private projectId = '';
  private work: Promise<void> = Promise.resolve();
  private pause = FIRST_PAUSE_MS;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private blocked = false;

  constructor() {
    // Held as long as this tab lives, so that others can tell its waiting changes from orphans.
    void navigator.locks.request(tabLock(this.tabId), () => new Promise<never>(() => undefined));
    addEventListener('online', () => this.send());
  }

  /** Takes over what dead tabs left for this project. @returns all changes that wait, in order. */
  async open(projectId: string): Promise<Change[]> {
    this.projectId = projectId;
    const own = await navigator.locks.request('arvex-outbox', async () => {
      const alive = await aliveTabs();
      const orphans = (await this.database.all(projectId)).filter(({ tabId }) => !alive.has(tabId));
      for (const orphan of orphans) await this.database.replace({ ...orphan, tabId: this.tabId });
      return this.own();
    });
    this.waiting.set(own.length);
    return own.map(({ change }) => change);
  }

  /** Keeps a change safely and sends it. */
  add(change: Change): void {
    this.waiting.update((count) => count + 1);
    const kept = this.database.add(this.projectId, this.tabId, change);
    this.work = this.work.then(() => kept);
    this.send();
  }

  /** Sends what waits, soon. */
  send(): void {
    clearTimeout(this.timer);
    this.work = this.work.then(() => this.sendAll());
  }

  /** Puts another change in the place of one that met a conflict, or drops it, and goes on. */
  async settle(waiting: Waiting, change: Change | undefined): Promise<void> {
    if (change) await this.database.replace({ ...waiting, change });
    else await this.drop(waiting);
    this.blocked = false;
    this.send();
  }

  /** Changes of this tab that wait, in order. */
  async own(): Promise<Waiting[]> {
    return (await this.database.all(this.projectId)).filter(({ tabId }) => tabId === this.tabId);
  }

  /** Forgets a waiting change. */
  async drop({ key }: Waiting): Promise<void> {
    await this.database.remove(key);
    this.waiting.update((count) => Math.max(0, count - 1));
  }

  private async sendAll(): Promise<void> {
    try {
      for (const waiting of this.blocked ? [] : await this.own()) {
        if (!(await this.sendOne(waiting))) return;
      }
    } catch (error) {
      if (!(error instanceof AwayError)) throw error;
      this.away.set(true);
      this.pause = Math.min(LONGEST_PAUSE_MS, this.pause * 2);
      this.timer = setTimeout(() => this.send(), this.pause);
    }
  }

  private answered(): void {
    this.away.set(false);
    this.pause = FIRST_PAUSE_MS;
  }

  /** @returns whether the next one may follow. */
  private async sendOne(waiting: Waiting): Promise<boolean> {
    const { change } = waiting;
    try {
      const { seq } = await this.api.post<{ seq: number }>(`/projects/${this.projectId}/changes`, change);
      this.answered();
      await this.drop(waiting);
      this.sent$.next({ kind: 'applied', change, seq });
      return true;
    } catch (error) {
      if (!(error instanceof ProblemError)) throw error;
      this.answered();
      const { problem } = error;
      if (problem.type === '/problems/stale-revision') {
        this.blocked = true;
        this.sent$.next({ kind: 'conflict', waiting, theirs: (problem['theirs'] ?? null) as Entity | null, problem });
        return false;
      }
      await this.drop(waiting);
      this.sent$.next({ kind: 'refused', change, problem });
      return true;
    }
  }
}

function tabLock(tabId: string): string {
  return `arvex-tab-${tabId}`;
}

async function aliveTabs(): Promise<Set<string>> {
  const { held } = await navigator.locks.query();
  const prefix = tabLock('');
  return new Set((held ?? []).flatMap(({ name }) => (name?.startsWith(prefix) ? [name.slice(prefix.length)] : [])));
}
