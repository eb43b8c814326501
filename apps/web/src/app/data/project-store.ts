import { computed, inject, Injectable, signal } from '@angular/core';
import type { AppliedChange, Change, Edit, MeasuredFocus, Operation, Project } from '@arvex/core';
import { applied, broughtUp, changeOf, CoreError, isClash, isEmptyPatch, projectFrom, rebased } from '@arvex/core';
import { defer, from, lastValueFrom, Subject, Subscription, takeUntil } from 'rxjs';
import { Api, ProblemError } from './api';
import { Notices } from './notices';
import type { Sent } from './outbox';
import { Outbox } from './outbox';
import { retryWithPauses } from './pauses';
import type { ProjectEvent } from './project-events';
import { ProjectEvents } from './project-events';
import { UndoList } from './undo-list';
import * as z from 'zod';

/** Where the edits of this tab are. `kept here` is said only when all that waits outlives the tab. */
export type SaveState = 'saved' | 'saving' | 'kept here' | 'only in this tab' | 'offline';

export type Conflict = Extract<Sent, { kind: 'conflict' }>;

const appliedChangesSchema = z.object({ items: z.array(z.custom<AppliedChange>()) });

/** The open project: as the server has it, with this tab's waiting changes on top. All edits go through here. */
@Injectable({ providedIn: 'root' })
export class ProjectStore {
  private readonly shown = signal<Project | undefined>(undefined);
  private readonly api = inject(Api);
  private readonly outbox = inject(Outbox);
  private readonly events = inject(ProjectEvents);
  private readonly notices = inject(Notices);
  private readonly steps = inject(UndoList);

  /** `undefined` until it is loaded. */
  readonly project = this.shown.asReadonly();
  /** Why the project could not be opened. */
  readonly failure = signal<string | undefined>(undefined);
  readonly undoName = this.steps.undoName;
  readonly redoName = this.steps.redoName;
  readonly saveState = computed((): SaveState => {
    const away = this.outbox.trouble() !== undefined;
    if (this.outbox.waiting() === 0) return away ? 'offline' : 'saved';
    if (this.outbox.unkept() !== undefined) return 'only in this tab';
    return away && this.outbox.inTabOnly() === 0 ? 'kept here' : 'saving';
  });
  /** What keeps edits from the server, in words. */
  readonly trouble = computed(() => this.outbox.unkept() ?? this.outbox.trouble());
  readonly conflicts$ = new Subject<Conflict>();
  /** Something is about to be taken back, or another project opened: what is no edit yet of this one becomes one now. */
  readonly finishing$ = new Subject<void>();
  /** A render of this project went on. */
  readonly renders$ = new Subject<string>();

  private confirmed: Project | undefined;
  private pending: Change[] = [];
  /** What was applied since the first of the waiting changes was made: they are brought up to it. */
  private history: Change[] = [];
  private catchingUp: Promise<void> | undefined;
  private listening = Subscription.EMPTY;
  /** Of several projects that are opened one soon after another, the last one counts. */
  private turn = 0;
  /** Another project is opened: what was under way for the one before ends. */
  private readonly opened$ = new Subject<void>();

  constructor() {
    this.outbox.sent$.subscribe((sent) => void this.afterSending(sent));
  }

  /** Opens a project and stays in step with it; gives up where another one is opened meanwhile. Told first, then read: nothing that happens in between is missed. */
  async open(projectId: string): Promise<void> {
    const turn = ++this.turn;
    const isOvertaken = () => turn !== this.turn;
    this.listening.unsubscribe();
    this.opened$.next();
    try {
      const confirmed = await this.read(projectId);
      if (isOvertaken()) return;
      await this.steps.open(projectId, (seq) => this.changesAfter(projectId, seq));
      const pending = await this.outbox.open(projectId);
      if (isOvertaken()) return;
      [this.confirmed, this.pending, this.history] = [confirmed, pending, []];
      this.pending.forEach(({ id }) => this.steps.sent(id));
      this.show();
      this.failure.set(undefined);
      const lost = () => this.outbox.heard(false);
      this.listening = this.events
        .of(projectId, lost)
        .subscribe((event) => void this.told(event).catch(() => this.catchUp()));
      this.outbox.send();
    } catch (error) {
      if (!isOvertaken()) this.failure.set((error as Error).message);
    }
  }

  private async read(projectId: string): Promise<Project> {
    return projectFrom(await this.api.get(`/projects/${projectId}`, z.unknown()));
  }

  /** Makes an edit: shown at once, kept in the browser, sent to the server. @returns whether it could be made. */
  commit(edit: Edit | undefined): boolean {
    if (!edit) return false;
    const operations = edit.operations.filter((operation) => !isEmptyPatch(operation));
    // What changes nothing is done already.
    if (operations.length === 0) return edit.operations.length > 0;
    const undo = this.make(edit.name, operations);
    if (!undo) return false;
    this.steps.did(edit.name, undo, this.confirmed?.seq ?? 0);
    return true;
  }

  /** Keeps what was measured of a camera. It is no edit: nobody takes it back, and two who measure do not meet. */
  keepMeasured(cameraId: string, measured: MeasuredFocus): void {
    if (!this.confirmed) return;
    const path = `/projects/${this.confirmed.head.id}/measured/${cameraId}`;
    this.confirmed = { ...this.confirmed, measured: { ...this.confirmed.measured, [cameraId]: measured } };
    this.show();
    // Not kept is measured again when the project is opened next.
    from(this.api.put(path, measured, z.unknown())).subscribe({ error: () => undefined });
  }

  undo(): void {
    this.stepBack('undo');
  }

  redo(): void {
    this.stepBack('redo');
  }

  private stepBack(direction: 'undo' | 'redo'): void {
    this.finishing$.next();
    const project = this.shown();
    const step = project && this.steps.next(direction);
    if (!step) return;
    const foreign = this.steps.changedElsewhere(project, step);
    if (foreign) {
      this.notices.error(
        new Error(`"${step.name}" was not taken back: the ${foreign.kind} was changed elsewhere since.`),
      );
      return;
    }
    const verb = direction === 'undo' ? 'Undo' : 'Redo';
    const operations = this.make(`${verb}: ${step.name}`, rebased(project, step.operations));
    if (operations) this.steps.reversed(direction, { name: step.name, operations, seq: this.confirmed?.seq ?? 0 });
  }

  /** @returns the operations that take it back, or nothing when it could not be made. */
  private make(name: string, operations: readonly Operation[]): readonly Operation[] | undefined {
    const project = this.shown();
    if (!project || operations.length === 0) return undefined;
    const change = changeOf({ name, operations }, crypto.randomUUID());
    try {
      const { project: next, inverse } = applied(project, change);
      this.steps.sent(change.id);
      this.pending.push(change);
      this.outbox.add(project.head.id, change);
      this.shown.set(next);
      return inverse;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return undefined;
    }
  }

  private async afterSending(sent: Sent): Promise<void> {
    // A late answer of the project before: what it applied is read when that is opened again.
    const isLate = sent.projectId !== this.confirmed?.head.id;
    if (isLate && sent.kind !== 'refused') return;
    if (sent.kind === 'applied') await this.receive({ seq: sent.seq, change: sent.change });
    else if (sent.kind === 'refused') {
      const built = isLate ? 0 : await this.dropWithBuiltOn(sent.change);
      this.show();
      const more = built === 0 ? '' : ` ${built} later ${built === 1 ? 'step' : 'steps'} built on it went with it.`;
      this.notices.error(new Error(`"${sent.change.name}" was not taken: ${sent.problem.detail}${more}`));
    } else {
      await this.catchUp();
      this.conflicts$.next(sent);
    }
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
    this.pending = this.pending.filter((one) => !dropped.has(one.id));
    return dropped.size - 1;
  }

  /** Settles a conflict: drops this tab's version with all that was built on it, or puts it over the other one. */
  async settle(conflict: Conflict, whose: 'mine' | 'theirs'): Promise<void> {
    await this.catchUp();
    if (!this.confirmed) return;
    const { waiting } = conflict;
    if (whose === 'mine') {
      const change = { ...waiting.change, operations: rebased(this.confirmed, waiting.change.operations) };
      this.pending = this.pending.map((one) => (one.id === change.id ? change : one));
      await this.outbox.settle(waiting, change);
    } else {
      await this.dropWithBuiltOn(waiting.change);
      await this.outbox.settle(waiting, undefined);
      this.steps.forget();
    }
    this.show();
  }

  private async told(event: ProjectEvent): Promise<void> {
    if (event.kind === 'change') await this.receive(event.data);
    else if (event.kind === 'render') this.renders$.next(event.data.renderId);
    else {
      this.outbox.heard(true);
      this.renders$.next('');
      if (event.data.seq > (this.confirmed?.seq ?? 0)) await this.catchUp();
    }
  }

  private async receive(change: AppliedChange): Promise<void> {
    if (!this.confirmed) return;
    if (change.seq > this.confirmed.seq + 1) await this.catchUp();
    else if (change.seq === this.confirmed.seq + 1) await this.confirm(change);
    else if (this.pending.some(({ id }) => id === change.change.id)) {
      // Applied before this tab read the project: sent by a tab that died before it knew.
      this.pending = this.pending.filter(({ id }) => id !== change.change.id);
      this.show();
    }
  }

  /** Fetches the changes that were missed, once at a time, and as often as it takes. */
  private catchUp(): Promise<void> {
    const missed = defer(() => from(this.fetchMissed())).pipe(
      retryWithPauses((error) => {
        if (error instanceof ProblemError) throw error;
        this.outbox.heard(false, (error as Error).message);
      }),
      takeUntil(this.opened$),
    );
    this.catchingUp ??= lastValueFrom(missed, { defaultValue: undefined })
      .catch((error: unknown) => this.failure.set(`This project cannot be read any more: ${(error as Error).message}`))
      .finally(() => (this.catchingUp = undefined));
    return this.catchingUp;
  }

  private async changesAfter(projectId: string, seq: number): Promise<readonly AppliedChange[]> {
    return (await this.api.get(`/projects/${projectId}/changes?after=${seq}`, appliedChangesSchema)).items;
  }

  private async fetchMissed(): Promise<void> {
    for (;;) {
      if (!this.confirmed) return;
      const items = await this.changesAfter(this.confirmed.head.id, this.confirmed.seq);
      for (const change of items) if (change.seq === this.confirmed.seq + 1) await this.confirm(change);
      if (items.length === 0) return;
    }
  }

  private async confirm({ seq, change }: AppliedChange): Promise<void> {
    if (!this.confirmed) return;
    try {
      this.confirmed = { ...applied(this.confirmed, change).project, seq };
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      // Out of step: what the server has is read anew, and what waits stays on top of it.
      this.confirmed = await this.read(this.confirmed.head.id);
    }
    const own = this.pending[0]?.id === change.id && this.history.length === 0;
    this.steps.received({ seq, change });
    this.pending = this.pending.filter((one) => one.id !== change.id);
    this.history = this.pending.length > 0 ? [...this.history, change] : [];
    const shown = this.shown();
    // The first of ours was confirmed as it is shown already: nothing moves.
    if (own && shown) this.shown.set({ ...shown, seq });
    else this.show();
  }

  /**
   * Shows the confirmed project with what waits on top, brought up to what others did meanwhile as the server will do it. What no
   * longer fits is left out: the server will say what is wrong with it, and the person will be asked.
   */
  private show(): void {
    if (!this.confirmed) return;
    let project = this.confirmed;
    const history = [...this.history];
    for (const change of this.pending) {
      const up = broughtUp(change, history);
      if (isClash(up)) continue;
      try {
        project = applied(project, up).project;
        history.push(up);
      } catch (error) {
        if (!(error instanceof CoreError)) throw error;
      }
    }
    this.shown.set(project);
  }
}
