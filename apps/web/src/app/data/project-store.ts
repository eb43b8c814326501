import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Change, Edit, MeasuredFocus, Operation, PlacedChange, Project, Replica, ReplicaEvent } from '@arvex/core';
import {
  appliedChangeSchema,
  changeOf,
  CoreError,
  isEmptyPatch,
  placeOf,
  projectFrom,
  rebased,
  replicaOf,
  replicated,
} from '@arvex/core';
import type { MonoTypeOperatorFunction, Observable } from 'rxjs';
import {
  catchError,
  concat,
  concatMap,
  defer,
  EMPTY,
  filter,
  finalize,
  from,
  map,
  merge,
  mergeMap,
  race,
  Subject,
  switchMap,
  take,
  tap,
} from 'rxjs';
import * as z from 'zod';
import { Api, ProblemError } from './api';
import { Notices } from './notices';
import type { Sent } from './outbox';
import { Outbox } from './outbox';
import { retryWithPauses } from './pauses';
import type { ProjectEvent } from './project-events';
import { ProjectEvents } from './project-events';

/** Where the edits of this tab are. `kept here` is said only when all that waits outlives the tab. */
export type SaveState = 'saved' | 'saving' | 'kept here' | 'only in this tab' | 'offline';

export type Conflict = Extract<Sent, { kind: 'conflict' }>;

/** A change that this tab made. */
export interface Made {
  readonly change: Change;
  /** What takes it back. */
  readonly inverse: readonly Operation[];
  /** How far the history was known when it was made. */
  readonly seq: number;
  /** Whether it is an edit of the person, to be taken back by one step of undo; else it is such a step itself. */
  readonly isEdit: boolean;
}

/** A project to be opened, and whom to tell once it is, has failed, or another one was asked for. */
interface Opening {
  readonly projectId: string;
  readonly settled: () => void;
}

/** Something that happened outside this tab's own edits; handled one after another, in the order in which it came. */
type Heard =
  | { readonly from: 'server'; readonly event: ProjectEvent }
  | { readonly from: 'outbox'; readonly sent: Sent }
  | { readonly from: 'person'; readonly conflict: Conflict; readonly whose: 'mine' | 'theirs' };

const changesSchema = z.object({ items: z.array(appliedChangeSchema) });

/**
 * The open project: as the server has it, with this tab's waiting changes on top ({@link Replica}). All edits go through here.
 * What others want to know of it they hear: `opened$`, `made$`, `confirmed$`, `overruled$`, `conflicts$`, `renders$`.
 */
@Injectable({ providedIn: 'root' })
export class ProjectStore {
  private readonly api = inject(Api);
  private readonly outbox = inject(Outbox);
  private readonly events = inject(ProjectEvents);
  private readonly notices = inject(Notices);

  private readonly replica = signal<Replica | undefined>(undefined);
  /** `undefined` until it is loaded. */
  readonly project = computed(() => this.replica()?.shown);
  /** Why the project could not be opened. */
  readonly failure = signal<string | undefined>(undefined);
  readonly saveState = computed((): SaveState => {
    const away = this.outbox.trouble() !== undefined;
    if (this.outbox.waiting() === 0) return away ? 'offline' : 'saved';
    if (this.outbox.unkept() !== undefined) return 'only in this tab';
    return away && this.outbox.inTabOnly() === 0 ? 'kept here' : 'saving';
  });
  /** What keeps edits from the server, in words. */
  readonly trouble = computed(() => this.outbox.unkept() ?? this.outbox.trouble());

  /** A project was opened, with what this tab had made of it and not sent. */
  readonly opened$ = new Subject<Replica>();
  readonly made$ = new Subject<Made>();
  /** A change is in the history, own or another writer's. */
  readonly confirmed$ = new Subject<PlacedChange>();
  /** Of a conflict the other version was kept: what was built on this tab's own is gone. */
  readonly overruled$ = new Subject<void>();
  readonly conflicts$ = new Subject<Conflict>();
  /** Something is about to be taken back, or another project opened: what is no edit yet of this one becomes one now. */
  readonly finishing$ = new Subject<void>();
  /** A render of this project went on. */
  readonly renders$ = new Subject<string>();

  private readonly openings$ = new Subject<Opening>();
  private readonly settlings$ = new Subject<Extract<Heard, { from: 'person' }>>();
  /** The server was heard of: whoever waits to try again does so now. */
  private readonly answers$ = new Subject<void>();

  constructor() {
    this.openings$
      .pipe(
        switchMap((opening) => this.visit(opening)),
        takeUntilDestroyed(),
      )
      .subscribe();
    // Refused after its project was left: said all the same. Whatever else is late is read when that project is opened again.
    this.outbox.sent$
      .pipe(
        filter((sent) => sent.kind === 'refused' && sent.projectId !== this.replica()?.confirmed.head.id),
        takeUntilDestroyed(),
      )
      .subscribe((sent) => sent.kind === 'refused' && this.sayRefused(sent, 0));
  }

  /**
   * Opens a project and stays in step with it until another one is asked for: of two that are opened, the later one wins.
   * @returns when it is open, could not be opened ({@link failure}), or gave way to a later one.
   */
  open(projectId: string): Promise<void> {
    return new Promise((settled) => this.openings$.next({ projectId, settled }));
  }

  private visit({ projectId, settled }: Opening): Observable<void> {
    return from(this.read(projectId)).pipe(
      mergeMap(async (confirmed) => replicaOf(confirmed, await this.outbox.open(projectId))),
      switchMap((replica) => {
        this.replica.set(replica);
        this.opened$.next(replica);
        this.failure.set(undefined);
        settled();
        return this.heardOf(projectId).pipe(concatMap((heard) => this.handled(heard)));
      }),
      catchError((error: unknown) => {
        this.failure.set((error as Error).message);
        return EMPTY;
      }),
      finalize(settled),
    );
  }

  /** All that happens to a project from outside. The stream is open before the outbox sends, so that no answer is missed. */
  private heardOf(projectId: string): Observable<Heard> {
    const told = this.events
      .of(projectId, () => this.outbox.heard(false))
      .pipe(
        tap((event) => this.toldAtOnce(event)),
        map((event): Heard => ({ from: 'server', event })),
      );
    const sent = this.outbox.sent$.pipe(
      filter((one) => one.projectId === projectId),
      map((one): Heard => ({ from: 'outbox', sent: one })),
    );
    const sending = defer(() => {
      this.outbox.send();
      return EMPTY;
    });
    const settlings = this.settlings$.pipe(filter(({ conflict }) => conflict.projectId === projectId));
    return merge(told, sent, settlings, sending);
  }

  /** What does not wait for its turn. */
  private toldAtOnce(event: ProjectEvent): void {
    if (event.kind === 'render') this.renders$.next(event.data.renderId);
    if (event.kind !== 'hello') return;
    this.outbox.heard(true);
    this.answers$.next();
    this.renders$.next('');
  }

  private read(projectId: string): Promise<Project> {
    return this.api.get(`/projects/${projectId}`, z.unknown()).then(projectFrom);
  }

  /** Makes an edit: shown at once, kept in the browser, sent to the server. @returns whether it could be made. */
  commit(edit: Edit | undefined): boolean {
    if (!edit) return false;
    const operations = edit.operations.filter((operation) => !isEmptyPatch(operation));
    // What changes nothing is done already.
    if (operations.length === 0) return edit.operations.length > 0;
    return this.make({ name: edit.name, operations }, true) !== undefined;
  }

  /**
   * Makes a change, as {@link commit} does.
   * @param isEdit whether it is one step of undo; a step that is taken back, or made again, is none of its own.
   * @returns the operations that take it back, or nothing where it could not be made, which is said.
   */
  make(edit: Edit, isEdit: boolean): readonly Operation[] | undefined {
    const before = this.replica();
    if (!before || edit.operations.length === 0) return undefined;
    const change = changeOf(edit, crypto.randomUUID());
    try {
      const { replica, inverse } = replicated(before, { kind: 'made', change });
      this.replica.set(replica);
      this.outbox.add(before.confirmed.head.id, change);
      this.made$.next({ change, inverse, seq: before.confirmed.seq, isEdit });
      return inverse;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return undefined;
    }
  }

  /** Keeps what was measured of a camera. It is no edit: nobody takes it back, and two who measure do not meet. */
  keepMeasured(cameraId: string, measured: MeasuredFocus): void {
    const replica = this.replica();
    if (!replica) return;
    this.happened({ kind: 'measured', cameraId, measured });
    const path = `/projects/${replica.confirmed.head.id}/measured/${cameraId}`;
    // Not kept is measured again when the project is opened next.
    from(this.api.put(path, measured, z.unknown())).subscribe({ error: () => undefined });
  }

  /** Settles a conflict: drops this tab's version with all that was built on it, or puts it over the other one. */
  settle(conflict: Conflict, whose: 'mine' | 'theirs'): void {
    this.settlings$.next({ from: 'person', conflict, whose });
  }

  /** Changes of the open project after a place in its history, in order; an empty list is the end. */
  async changesAfter(seq: number): Promise<readonly PlacedChange[]> {
    const id = this.replica()?.confirmed.head.id ?? '';
    return (await this.api.get(`/projects/${id}/changes?after=${seq}`, changesSchema)).items;
  }

  private happened(event: ReplicaEvent): void {
    this.replica.update((replica) => replica && replicated(replica, event).replica);
  }

  private handled(heard: Heard): Observable<void> {
    const steps = defer(() => {
      if (heard.from === 'person') return this.settled(heard.conflict, heard.whose);
      return heard.from === 'outbox' ? this.answered(heard.sent) : this.told(heard.event);
    });
    return steps.pipe(
      catchError((error: unknown) => {
        this.failure.set(`This project cannot be read any more: ${(error as Error).message}`);
        return EMPTY;
      }),
    );
  }

  private told(event: ProjectEvent): Observable<void> {
    if (event.kind === 'change') return this.received(event.data);
    const replica = this.replica();
    const isBehind = event.kind === 'hello' && replica && event.data.seq > replica.confirmed.seq;
    return isBehind ? this.caughtUp() : EMPTY;
  }

  private answered(sent: Sent): Observable<void> {
    if (sent.kind === 'applied') return this.received(sent);
    if (sent.kind === 'conflict') return this.caughtUp().pipe(finalize(() => this.conflicts$.next(sent)));
    return from(this.dropWithBuiltOn(sent.change)).pipe(map((built) => this.sayRefused(sent, built)));
  }

  private sayRefused({ change, problem }: Extract<Sent, { kind: 'refused' }>, built: number): void {
    const more = built === 0 ? '' : ` ${built} later ${built === 1 ? 'step' : 'steps'} built on it went with it.`;
    this.notices.error(new Error(`"${change.name}" was not taken: ${problem.detail}${more}`));
  }

  /** Forgets a change of this tab, and what was made on top of it. @returns how many went with it. */
  private async dropWithBuiltOn({ id }: Change): Promise<number> {
    const dropped = new Set([id]);
    for (const { change } of [...this.outbox.own()]) {
      const builtOn = change.operations.some((one) => one.op !== 'create' && dropped.has(one.baseRevision));
      if (!builtOn || dropped.has(change.id)) continue;
      dropped.add(change.id);
      await this.outbox.drop(change);
    }
    this.happened({ kind: 'dropped', ids: dropped });
    return dropped.size - 1;
  }

  private settled({ waiting }: Conflict, whose: 'mine' | 'theirs'): Observable<void> {
    const settling = defer(async () => {
      const replica = this.replica();
      if (!replica) return;
      if (whose === 'mine') {
        const change = { ...waiting.change, operations: rebased(replica.confirmed, waiting.change.operations) };
        this.happened({ kind: 'exchanged', change });
        await this.outbox.settle(waiting, change);
      } else {
        await this.dropWithBuiltOn(waiting.change);
        await this.outbox.settle(waiting, undefined);
        this.overruled$.next();
      }
    });
    return concat(this.caughtUp(), settling);
  }

  /** Takes a change of the history in, or reads what is missing before it. */
  private received(applied: PlacedChange): Observable<void> {
    const replica = this.replica();
    if (!replica) return EMPTY;
    const place = placeOf(replica, applied.seq);
    if (place === 'missing') return this.caughtUp();
    if (place === 'next') return this.confirmed(applied).pipe(this.untilAnswered());
    // Applied before this tab read the project: sent by a tab that died before it knew.
    this.happened({ kind: 'dropped', ids: new Set([applied.change.id]) });
    return EMPTY;
  }

  /** Reads the changes that were missed, as often as it takes. */
  private caughtUp(): Observable<void> {
    return this.missed().pipe(this.untilAnswered());
  }

  private missed(): Observable<void> {
    return defer(() => this.changesAfter(this.replica()?.confirmed.seq ?? 0)).pipe(
      mergeMap((items) => {
        if (items.length === 0) return EMPTY;
        return concat(...items.map((applied) => this.confirmed(applied)), this.missed());
      }),
    );
  }

  /** Takes the next change of the history in; one that is there already changes nothing. */
  private confirmed(applied: PlacedChange): Observable<void> {
    return defer(() => {
      const replica = this.replica();
      if (!replica || placeOf(replica, applied.seq) !== 'next') return EMPTY;
      try {
        this.happened({ kind: 'confirmed', applied });
        this.confirmed$.next(applied);
        return EMPTY;
      } catch (error) {
        if (!(error instanceof CoreError)) throw error;
        // Out of step: what the server has is read anew, and what waits stays on top of it.
        return from(this.read(replica.confirmed.head.id)).pipe(
          map((project) => this.happened({ kind: 'read', project })),
        );
      }
    });
  }

  /** Tries again after growing pauses until the server answers; that it refuses is an answer. */
  private untilAnswered<T>(): MonoTypeOperatorFunction<T> {
    return retryWithPauses(
      (error) => {
        if (error instanceof ProblemError) throw error;
        this.outbox.heard(false, (error as Error).message);
      },
      (pause) => race(pause, this.answers$).pipe(take(1)),
    );
  }
}
