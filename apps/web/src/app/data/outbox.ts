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
import type { Waiting } from './outbox-database';
import { OutboxDatabase } from './outbox-database';
import { retryWithPauses } from './pauses';

/** What became of a change that was sent. `change` is as the server has it: brought up to others where that was needed. */
export type Sent =
  | { readonly kind: 'applied'; readonly change: Change; readonly seq: number }
  | {
      readonly kind: 'conflict';
      readonly waiting: Waiting;
      readonly theirs: Entity | null;
      readonly problem: ProblemDocument;
    }
  | { readonly kind: 'refused'; readonly change: Change; readonly problem: ProblemDocument };

/** Problems that are no refusal but a question: somebody else wrote the same, and both versions are there. */
const QUESTIONS: ReadonlySet<string> = new Set(['/problems/stale-revision', '/problems/entity-exists']);

/** Sends changes in the order in which they were made, again and again until the server has them. */
@Injectable({ providedIn: 'root' })
export class Outbox {
  /** How many changes of this tab wait. */
  readonly waiting = signal(0);
  /** Why the last try failed, while it does. */
  readonly trouble = signal<string | undefined>(undefined);
  readonly sent$ = new Subject<Sent>();

  private readonly api = inject(Api);
  private readonly database = new OutboxDatabase();
  private readonly tabId = crypto.randomUUID();
  private readonly wake$ = new Subject<void>();
  private readonly soon$ = new Subject<void>();
  private projectId = '';
  private keeping: Promise<void> = Promise.resolve();
  /** A conflict waits for somebody to settle it: nothing is sent before that. */
  private blocked = false;

  constructor() {
    // HeldExposure as long as this tab lives, so that others can tell its waiting changes from orphans.
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
    this.keeping = Promise.all([this.keeping, kept]).then(() => undefined);
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
    if (change) await this.database.replace({ ...waiting, change });
    else await this.drop(waiting);
    this.blocked = false;
    this.send();
  }

  /** Changes of this tab that wait, in order, in the present form. */
  async own(): Promise<Waiting[]> {
    const all = await this.database.all(this.projectId);
    return all
      .filter(({ tabId }) => tabId === this.tabId)
      .map((waiting) => ({ ...waiting, change: changeFrom(waiting.change) }));
  }

  /** Forgets a waiting change. */
  async drop({ key }: Waiting): Promise<void> {
    await this.database.remove(key);
    this.waiting.update((count) => Math.max(0, count - 1));
  }

  /** Everything that waits, sent one after another, each as often as it takes. */
  private sending(): Observable<Sent> {
    return defer(() => from(this.next())).pipe(
      mergeMap((waiting) => (waiting ? concat(this.sendOne(waiting), this.sending()) : EMPTY)),
    );
  }

  private async next(): Promise<Waiting | undefined> {
    if (this.blocked) return undefined;
    await this.keeping;
    return (await this.own())[0];
  }

  private sendOne(waiting: Waiting): Observable<Sent> {
    const { projectId, change } = waiting;
    return defer(() => from(this.api.post(`/projects/${projectId}/changes`, change, changeAnswerSchema))).pipe(
      mergeMap(async (answer): Promise<Sent> => {
        await this.drop(waiting);
        return { kind: 'applied', change: answer.change ?? change, seq: answer.seq };
      }),
      catchError((error: unknown) => {
        if (error instanceof ProblemError) return from(this.refused(waiting, error.problem));
        throw error;
      }),
      tap(() => this.trouble.set(undefined)),
      retryWithPauses(
        (error) => this.trouble.set((error as Error).message),
        (pause) => race(pause, this.soon$).pipe(take(1)),
      ),
    );
  }

  private async refused(waiting: Waiting, problem: ProblemDocument): Promise<Sent> {
    if (QUESTIONS.has(problem.type) && 'theirs' in problem) {
      this.blocked = true;
      return { kind: 'conflict', waiting, theirs: (problem['theirs'] ?? null) as Entity | null, problem };
    }
    await this.drop(waiting);
    return { kind: 'refused', change: waiting.change, problem };
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
