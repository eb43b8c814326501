import { computed, inject, Injectable, signal } from '@angular/core';
import type { AppliedChange, Change, Edit, Operation, Project } from '@arvex/core';
import { applyChange, CoreError, entityIn, inverseOperations, projectSchema, rebased } from '@arvex/core';
import { Subject } from 'rxjs';
import { Api } from './api';
import { Notices } from './notices';
import type { Sent } from './outbox';
import { Outbox } from './outbox';

interface Step {
  readonly name: string;
  readonly operations: readonly Operation[];
}

export type Conflict = Extract<Sent, { kind: 'conflict' }>;

const UNDO_STEPS = 500;

/** The open project: as the server has it, with this tab's waiting changes on top. All edits go through here. */
@Injectable({ providedIn: 'root' })
export class ProjectStore {
  private readonly shown = signal<Project | undefined>(undefined);
  private readonly past = signal<readonly Step[]>([]);
  private readonly future = signal<readonly Step[]>([]);
  private readonly api = inject(Api);
  private readonly outbox = inject(Outbox);
  private readonly notices = inject(Notices);

  /** `undefined` until it is loaded. */
  readonly project = this.shown.asReadonly();
  /** Why the project could not be opened. */
  readonly failure = signal<string | undefined>(undefined);
  readonly undoName = computed(() => this.past().at(-1)?.name);
  readonly redoName = computed(() => this.future().at(-1)?.name);
  readonly saveState = computed(() => {
    const count = this.outbox.waiting();
    if (this.outbox.away()) return count > 0 ? ('kept here' as const) : ('offline' as const);
    return count > 0 ? ('saving' as const) : ('saved' as const);
  });
  readonly conflicts$ = new Subject<Conflict>();
  /** A render of this project went on. */
  readonly renders$ = new Subject<string>();

  private confirmed: Project | undefined;
  private pending: Change[] = [];
  private readonly ownChanges = new Set<string>();
  private catchingUp: Promise<void> | undefined;
  private events: EventSource | undefined;

  constructor() {
    this.outbox.sent$.subscribe((sent) => void this.afterSending(sent));
  }

  /** Opens a project and stays in step with it. */
  async open(projectId: string): Promise<void> {
    try {
      this.confirmed = projectSchema.parse(await this.api.get<unknown>(`/projects/${projectId}`));
      this.pending = await this.outbox.open(projectId);
      this.pending.forEach(({ id }) => this.ownChanges.add(id));
      this.show();
      this.failure.set(undefined);
      this.listen(projectId);
      this.outbox.send();
    } catch (error) {
      this.failure.set((error as Error).message);
    }
  }

  /** Makes an edit: shown at once, kept in the browser, sent to the server. @returns whether it could be made. */
  commit(edit: Edit | undefined): boolean {
    if (!edit) return false;
    const undo = this.make(edit.name, edit.operations);
    if (!undo) return false;
    this.past.update((steps) => [...steps, { name: edit.name, operations: undo }].slice(-UNDO_STEPS));
    this.future.set([]);
    return true;
  }

  /** Makes an edit that nobody asked for and nobody need take back: something measured. */
  commitQuietly(edit: Edit): boolean {
    return this.make(edit.name, edit.operations) !== undefined;
  }

  undo(): void {
    this.stepBack(this.past, this.future, 'Undo');
  }

  redo(): void {
    this.stepBack(this.future, this.past, 'Redo');
  }

  private stepBack(from: typeof this.past, to: typeof this.past, verb: string): void {
    const step = from().at(-1);
    const project = this.shown();
    if (!step || !project) return;
    from.update((steps) => steps.slice(0, -1));
    const foreign = step.operations.find((operation) => this.changedElsewhere(project, operation));
    if (foreign) {
      this.notices.error(
        new Error(`"${step.name}" was not taken back: the ${foreign.kind} was changed elsewhere since.`),
      );
      return;
    }
    const reverse = this.make(`${verb}: ${step.name}`, rebased(project, step.operations));
    if (reverse) to.update((steps) => [...steps, { name: step.name, operations: reverse }]);
  }

  /** Whether somebody else wrote the entity since this tab did: taking back would destroy their work. */
  private changedElsewhere(project: Project, operation: Operation): boolean {
    if (operation.op === 'create') return false;
    const entity = entityIn(project, operation.kind, operation.id);
    return !entity || !this.ownChanges.has(entity.revision);
  }

  /** @returns the operations that take it back, or nothing when it could not be made. */
  private make(name: string, operations: readonly Operation[]): Operation[] | undefined {
    const project = this.shown();
    if (!project || operations.length === 0) return undefined;
    const change = { id: crypto.randomUUID(), name, operations: [...operations] };
    try {
      const next = applyChange(project, change);
      const inverse = inverseOperations(project, change);
      this.ownChanges.add(change.id);
      this.pending.push(change);
      this.outbox.add(change);
      this.shown.set(next);
      return inverse;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return undefined;
    }
  }

  private async afterSending(sent: Sent): Promise<void> {
    if (sent.kind === 'applied') await this.receive({ seq: sent.seq, change: sent.change });
    else if (sent.kind === 'refused') {
      this.pending = this.pending.filter((change) => change.id !== sent.change.id);
      this.show();
      this.notices.error(new Error(`"${sent.change.name}" was not taken: ${sent.problem.detail}`));
    } else {
      await this.catchUp();
      this.conflicts$.next(sent);
    }
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
      const dropped = new Set([waiting.change.id]);
      for (const later of await this.outbox.own()) {
        const builtOn = later.change.operations.some((one) => one.op !== 'create' && dropped.has(one.baseRevision));
        if (!builtOn) continue;
        dropped.add(later.change.id);
        await this.outbox.drop(later);
      }
      this.pending = this.pending.filter((one) => !dropped.has(one.id));
      await this.outbox.settle(waiting, undefined);
      this.past.set([]);
      this.future.set([]);
    }
    this.show();
  }

  private listen(projectId: string): void {
    this.events?.close();
    this.events = new EventSource(`/api/projects/${projectId}/events`);
    this.events.addEventListener('change', ({ data }: MessageEvent<string>) => {
      void this.receive(JSON.parse(data) as AppliedChange);
    });
    this.events.addEventListener('render', ({ data }: MessageEvent<string>) => {
      this.renders$.next((JSON.parse(data) as { renderId: string }).renderId);
    });
    this.events.addEventListener('hello', ({ data }: MessageEvent<string>) => {
      this.outbox.away.set(false);
      this.outbox.send();
      this.renders$.next('');
      if ((JSON.parse(data) as { seq: number }).seq > (this.confirmed?.seq ?? 0)) void this.catchUp();
    });
    this.events.addEventListener('error', () => this.outbox.away.set(true));
  }

  private async receive(applied: AppliedChange): Promise<void> {
    if (!this.confirmed || applied.seq <= this.confirmed.seq) return;
    if (applied.seq > this.confirmed.seq + 1) await this.catchUp();
    else this.confirm(applied);
  }

  /** Fetches the changes that were missed, once at a time. */
  private catchUp(): Promise<void> {
    this.catchingUp ??= this.fetchMissed().finally(() => (this.catchingUp = undefined));
    return this.catchingUp;
  }

  private async fetchMissed(): Promise<void> {
    if (!this.confirmed) return;
    const path = `/projects/${this.confirmed.head.id}/changes?after=${this.confirmed.seq}`;
    try {
      const { items } = await this.api.get<{ items: AppliedChange[] }>(path);
      for (const applied of items) if (applied.seq === this.confirmed.seq + 1) this.confirm(applied);
      if (items.length > 0) await this.fetchMissed();
    } catch {
      this.outbox.away.set(true); // the next event or sending brings it up again
    }
  }

  private confirm({ seq, change }: AppliedChange): void {
    if (!this.confirmed) return;
    this.confirmed = { ...applyChange(this.confirmed, change), seq };
    const own = this.pending[0]?.id === change.id;
    this.pending = this.pending.filter((one) => one.id !== change.id);
    const shown = this.shown();
    // The first of ours was confirmed as it is shown already: nothing moves.
    if (own && shown) this.shown.set({ ...shown, seq });
    else this.show();
  }

  /** Shows the confirmed project with what waits on top; what no longer fits will be told as a conflict. */
  private show(): void {
    if (!this.confirmed) return;
    const project = this.pending.reduce((current, change) => {
      try {
        return applyChange(current, change);
      } catch {
        return current; // the server will say what is wrong with it, and the person will be asked
      }
    }, this.confirmed);
    this.shown.set(project);
  }
}
