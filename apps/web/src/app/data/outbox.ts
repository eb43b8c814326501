import { DestroyRef, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Change, Entity, ProblemDocument } from '@arvex/core';
import { changeAnswerSchema, changeFrom } from '@arvex/core';
import type { Observable } from 'rxjs';
import {
  catchError,
  concat,
  concatMap,
  defer,
  EMPTY,
  from,
  fromEvent,
  mergeMap,
  race,
  Subject,
  take,
  tap,
  throttleTime,
} from 'rxjs';
import { Api, ProblemError } from './api';
import { sentAgain } from './file-again';
import type { Waiting } from './outbox-database';
import { OutboxDatabase } from './outbox-database';
import { retryWithPauses } from './pauses';

/** What became of a change that was sent. `change` is as the server has it: brought up to others where that was needed. */
export type Sent = { readonly projectId: string } & (
  | { readonly kind: 'applied'; readonly change: Change; readonly seq: number }
  | {
      readonly kind: 'conflict';
      readonly waiting: Waiting;
      readonly theirs: Entity | null;
      readonly problem: ProblemDocument;
    }
  | { readonly kind: 'refused'; readonly change: Change; readonly problem: ProblemDocument }
);

/** Problems that are no refusal but a question: somebody else wrote the same, and both versions are there. */
const QUESTIONS: ReadonlySet<string> = new Set(['/problems/stale-revision', '/problems/entity-exists']);

/** Said while a change is kept by this tab alone. */
const UNKEPT = 'This browser has no room to keep your work. Do not close this tab before it is saved.';

/**
 * Sends changes in the order in which they were made, again and again until the server has them. They wait in this tab, and in the
 * browser's storage so that they outlive it; where that fails, they are sent all the same.
 */
@Injectable({ providedIn: 'root' })
export class Outbox {
  /** How many changes of this tab wait. */
  readonly waiting = signal(0);
  /** How many of them this tab alone has: they are being kept in the browser's storage, or could not be. */
  readonly inTabOnly = signal(0);
  /** Why the last try failed, while it does. */
  readonly trouble = signal<string | undefined>(undefined);
  /** Why what waits would not outlive this tab, while it would not. */
  readonly unkept = signal<string | undefined>(undefined);
  readonly sent$ = new Subject<Sent>();

  private readonly api = inject(Api);
  private readonly database = new OutboxDatabase();
  private readonly tabId = crypto.randomUUID();
  private readonly wake$ = new Subject<void>();
  private readonly soon$ = new Subject<void>();
  private projectId = '';
  private queue: Waiting[] = [];
  /** Ends when all that was added is kept, or could not be: it never fails. */
  private keeping: Promise<void> = Promise.resolve();
  /** A conflict waits for somebody to settle it: nothing is sent before that. */
  private blocked = false;

  constructor() {
    // Held as long as this tab lives, so that others can tell its waiting changes from orphans.
    void navigator.locks.request(tabLock(this.tabId), () => new Promise<never>(() => undefined));
    inject(DestroyRef).onDestroy(() => this.wake$.complete());
    fromEvent(window, 'online')
      .pipe(takeUntilDestroyed())
      .subscribe(() => this.send());
    this.wake$
      .pipe(
        throttleTime(0, undefined, { leading: true, trailing: true }),
        concatMap(() => this.sending()),
        takeUntilDestroyed(),
      )
      .subscribe((sent) => this.sent$.next(sent));
  }

  /** Takes over what dead tabs left for this project. @returns all changes that wait, in order, in the present form. */
  async open(projectId: string): Promise<Change[]> {
    this.projectId = projectId;
    this.blocked = false;
    await this.keeping;
    const kept = await navigator.locks
      .request('arvex-outbox', async () => {
        const alive = await aliveTabs();
        const all = await this.database.all(projectId);
        const orphans = all.filter(({ tabId }) => !alive.has(tabId));
        for (const orphan of orphans) await this.database.replace({ ...orphan, tabId: this.tabId });
        return all.filter(({ tabId }) => tabId === this.tabId || !alive.has(tabId));
      })
      .catch(() => {
        // eslint-disable-next-line no-restricted-syntax -- it is about this browser's storage, whichever project is open
        this.unkept.set(UNKEPT);
        return this.queue.filter((waiting) => waiting.projectId === projectId);
      });
    // Another project was opened meanwhile: what waits for this one waits in the browser's storage.
    if (this.projectId !== projectId) return [];
    this.queue = kept.map((waiting) => ({ ...waiting, tabId: this.tabId, change: changeFrom(waiting.change) }));
    this.count();
    return this.queue.map(({ change }) => change);
  }

  /** Keeps a change of a project safely and sends it. */
  add(projectId: string, change: Change): void {
    const { tabId } = this;
    this.queue.push({ key: undefined, projectId, tabId, change });
    this.count();
    this.keeping = this.keeping
      .then(() => this.database.add(projectId, tabId, change))
      .then(
        (key) => this.exchange(change.id, (waiting) => ({ ...waiting, key })),
        () => this.unkept.set(UNKEPT),
      );
    this.send();
  }

  /** Sends what waits, now: a pause between two tries ends. */
  send(): void {
    this.soon$.next();
    this.wake$.next();
  }

  /** The server was heard of, or lost sight of, in another way. */
  heard(answers: boolean, reason = 'The server does not answer.'): void {
    this.trouble.set(answers ? undefined : reason);
    if (answers) this.send();
  }

  /** Puts another change in the place of one that met a conflict, or drops it, and goes on. */
  async settle(waiting: Waiting, change: Change | undefined): Promise<void> {
    if (change) {
      this.exchange(waiting.change.id, (one) => ({ ...one, change }));
      await this.database.replace({ ...waiting, change }).catch(() => this.unkept.set(UNKEPT));
    } else await this.drop(waiting.change);
    this.blocked = false;
    this.send();
  }

  /** Changes of this tab that wait, in order, in the present form. */
  own(): readonly Waiting[] {
    return this.queue;
  }

  /** Forgets a waiting change. One that the browser could not forget is sent again by another tab, which does nothing. */
  async drop({ id }: Pick<Change, 'id'>): Promise<void> {
    const key = this.queue.find(({ change }) => change.id === id)?.key;
    this.queue = this.queue.filter(({ change }) => change.id !== id);
    this.count();
    if (key !== undefined) await this.database.remove(key).catch(() => undefined);
  }

  private exchange(changeId: string, by: (waiting: Waiting) => Waiting): void {
    this.queue = this.queue.map((waiting) => (waiting.change.id === changeId ? by(waiting) : waiting));
    this.count();
  }

  private count(): void {
    this.waiting.set(this.queue.length);
    this.inTabOnly.set(this.queue.filter(({ key }) => key === undefined).length);
    if (this.queue.length === 0) this.unkept.set(undefined);
  }

  /** Everything that waits, sent one after another, each as often as it takes. */
  private sending(): Observable<Sent> {
    return defer(() => from(this.next())).pipe(
      mergeMap((waiting) => (waiting ? concat(this.sendOne(waiting), this.sending()) : EMPTY)),
    );
  }

  private async next(): Promise<Waiting | undefined> {
    // First safe, then sent.
    await this.keeping;
    return this.blocked ? undefined : this.queue[0];
  }

  private sendOne(waiting: Waiting): Observable<Sent> {
    const { projectId, change } = waiting;
    return defer(() => from(this.api.post(`/projects/${projectId}/changes`, change, changeAnswerSchema))).pipe(
      mergeMap(async (answer): Promise<Sent> => {
        await this.drop(change);
        return { kind: 'applied', projectId, change: answer.change ?? change, seq: answer.seq };
      }),
      catchError((error: unknown) => {
        if (!(error instanceof ProblemError)) throw error;
        return from(sentAgain(error.problem)).pipe(
          mergeMap((again) => {
            if (again) throw new Error('A file of it was sent again.'); // and so is the change
            return from(this.refused(waiting, error.problem));
          }),
        );
      }),
      tap(() => this.trouble.set(undefined)),
      retryWithPauses(
        (error) => this.trouble.set((error as Error).message),
        (pause) => race(pause, this.soon$).pipe(take(1)),
      ),
    );
  }

  private async refused(waiting: Waiting, problem: ProblemDocument): Promise<Sent> {
    const { projectId } = waiting;
    if (QUESTIONS.has(problem.type) && 'theirs' in problem) {
      // One of a project that is left waits in the browser's storage until that is opened again: it holds nothing else up.
      if (projectId === this.projectId) this.blocked = true;
      return { kind: 'conflict', projectId, waiting, theirs: (problem['theirs'] ?? null) as Entity | null, problem };
    }
    await this.drop(waiting.change);
    return { kind: 'refused', projectId, change: waiting.change, problem };
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
