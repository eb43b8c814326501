import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { PlacedChange, Operation, Project } from '@arvex/core';
import { entityIn, rebased, touchSame } from '@arvex/core';
import type { Observable } from 'rxjs';
import { catchError, defer, EMPTY, expand, from, last, map, of, scan, switchMap } from 'rxjs';
import { Notices } from './notices';
import type { Made } from './project-store';
import { ProjectStore } from './project-store';
import { livingTabs, ThisTab } from './this-tab';
import type { KeptSteps, Step } from './undo-database';
import { UndoDatabase } from './undo-database';

const MOST_STEPS = 500;
/** So many of them outlive a reload. */
const KEPT_STEPS = 100;
/** What others wrote since is read back at most so far when a project is opened again, changes. */
const MOST_MISSED = 2000;

/** A change of another writer, and its place in the history. */
interface Foreign {
  readonly seq: number;
  readonly operation: Operation;
}

/**
 * What this tab did in the open project, to be taken back and made again. The list outlives a reload of the tab, and its end: the
 * next tab goes on with it.
 */
@Injectable({ providedIn: 'root' })
export class UndoList {
  private readonly store = inject(ProjectStore);
  private readonly database = inject(UndoDatabase);
  private readonly tab = inject(ThisTab);
  private readonly notices = inject(Notices);

  private readonly past = signal<readonly Step[]>([]);
  private readonly future = signal<readonly Step[]>([]);
  /** What is taken back next, in words; nothing where nothing is. */
  readonly undoName = computed(() => this.past().at(-1)?.name);
  /** What is made again next, in words; nothing where nothing is. */
  readonly redoName = computed(() => this.future().at(-1)?.name);

  private projectId = '';
  private readonly own = new Set<string>();
  private foreign: Foreign[] = [];
  /** Changes of the history that came while the kept steps were still being read. */
  private early: PlacedChange[] | undefined;
  private turn: Promise<unknown> = Promise.resolve();

  constructor() {
    this.store.opened$
      .pipe(
        switchMap(({ confirmed, waiting }) => {
          this.empty(confirmed.head.id);
          waiting.forEach(({ id }) => this.own.add(id));
          return this.takenUp();
        }),
        takeUntilDestroyed(),
      )
      .subscribe();
    this.store.made$.pipe(takeUntilDestroyed()).subscribe((made) => this.did(made));
    this.store.overruled$.pipe(takeUntilDestroyed()).subscribe(() => this.set([], []));
    this.store.confirmed$.pipe(takeUntilDestroyed()).subscribe((applied) => {
      if (this.early) this.early.push(applied);
      else this.received(applied);
    });
  }

  undo(): void {
    this.step('undo');
  }

  redo(): void {
    this.step('redo');
  }

  private step(direction: 'undo' | 'redo'): void {
    this.store.finishing$.next();
    const project = this.store.project();
    const step = project && this.taken(direction);
    if (!step) return;
    const foreign = this.changedElsewhere(project, step);
    if (foreign) {
      this.notices.error(
        new Error(`"${step.name}" was not taken back: the ${foreign.kind} was changed elsewhere since.`),
      );
      return;
    }
    const verb = direction === 'undo' ? 'Undo' : 'Redo';
    const change = { name: `${verb}: ${step.name}`, operations: rebased(project, step.operations) };
    const operations = this.store.make(change, false);
    if (!operations) return;
    const reverse = { name: step.name, operations, seq: project.seq };
    if (direction === 'undo') this.set(this.past(), [...this.future(), reverse]);
    else this.set([...this.past(), reverse], this.future());
  }

  /** The step that is taken back (or made again) next; it leaves the list, so that one that cannot be is in no other's way. */
  private taken(direction: 'undo' | 'redo'): Step | undefined {
    const [past, future] = [this.past(), this.future()];
    const step = (direction === 'undo' ? past : future).at(-1);
    if (!step) return undefined;
    if (direction === 'undo') this.set(past.slice(0, -1), future);
    else this.set(past, future.slice(0, -1));
    return step;
  }

  /** What of a step somebody else wrote since: taking it back would destroy their work. */
  private changedElsewhere(project: Project, { operations, seq }: Step): Operation | undefined {
    return operations.find((operation) => {
      if (operation.op !== 'create' && !entityIn(project, operation.kind, operation.id)) return true;
      return this.foreign.some((theirs) => theirs.seq > seq && touchSame(theirs.operation, operation));
    });
  }

  /** This tab made a change: what was taken back before an edit can be made again no more. */
  private did({ change, inverse, isEdit }: Made): void {
    this.own.add(change.id);
    const { projectId } = this;
    void this.inTurn((tab) => this.database.addOwn(tab, projectId, change.id)).catch(() => undefined);
    if (!isEdit) return;
    const seq = this.store.project()?.seq ?? 0;
    const past = [...this.past(), { name: change.name, operations: inverse, seq }].slice(-MOST_STEPS);
    this.set(past, []);
    // What others wrote before the oldest step is in no step's way.
    const oldest = past[0]?.seq ?? 0;
    if (this.foreign.some((theirs) => theirs.seq <= oldest))
      this.foreign = this.foreign.filter((theirs) => theirs.seq > oldest);
  }

  private received({ seq, change }: PlacedChange): void {
    if (this.own.has(change.id)) return;
    this.foreign.push(...change.operations.map((operation) => ({ seq, operation })));
  }

  private set(past: readonly Step[], future: readonly Step[]): void {
    this.past.set(past);
    this.future.set(future);
    // What was kept before is read first, or it would be written over.
    if (!this.early) this.keep();
  }

  /** Keeps the list in the browser. What cannot be kept ends with the tab. */
  private keep(): void {
    const { projectId } = this;
    const steps = { past: this.past().slice(-KEPT_STEPS), future: this.future().slice(-KEPT_STEPS) };
    void this.inTurn((tab) => this.database.put(tab, projectId, steps)).catch(() => undefined);
  }

  /** Reads and writes of the browser's storage, one after another. */
  private inTurn<T>(work: (tab: string) => Promise<T>): Promise<T> {
    const done = this.turn.then(() => this.tab.name()).then(work);
    this.turn = done.catch(() => undefined);
    return done;
  }

  private empty(projectId: string): void {
    this.projectId = projectId;
    this.own.clear();
    [this.foreign, this.early] = [[], []];
    this.past.set([]);
    this.future.set([]);
  }

  /** Takes up what this tab, or one that was closed, did before, and what others wrote since. */
  private takenUp(): Observable<void> {
    const { projectId } = this;
    return defer(() => this.inTurn(async (tab) => this.database.get(tab, projectId, await livingTabs()))).pipe(
      switchMap((kept) => this.missed(kept).pipe(map((missed) => ({ kept, missed })))),
      // Where what others wrote is not known, nothing is taken back blindly.
      catchError(() => of({ kept: undefined, missed: [] })),
      map(({ kept, missed }) => {
        kept?.own.forEach((id) => this.own.add(id));
        const early = this.early ?? [];
        this.early = undefined;
        [...missed, ...early].forEach((applied) => this.received(applied));
        const since = this.past();
        if (kept) this.set([...kept.past, ...since].slice(-MOST_STEPS), since.length > 0 ? [] : kept.future);
        else if (since.length > 0) this.keep();
      }),
    );
  }

  /** What stands in the history since the oldest step that was kept. @throws Error where that is more than is read back. */
  private missed(kept: KeptSteps | undefined): Observable<readonly PlacedChange[]> {
    const first = kept && Math.min(...[...kept.past, ...kept.future].map(({ seq }) => seq));
    if (first === undefined || !Number.isFinite(first)) return of([]);
    return from(this.store.changesAfter(first)).pipe(
      expand((items) => {
        const last = items.at(-1);
        return last ? this.store.changesAfter(last.seq) : EMPTY;
      }),
      scan((all: readonly PlacedChange[], items) => {
        if (all.length + items.length > MOST_MISSED) throw new Error('Too much was written since.');
        return [...all, ...items];
      }, []),
      last(),
    );
  }
}
