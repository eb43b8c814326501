import { computed, inject, Injectable, signal } from '@angular/core';
import type { AppliedChange, Operation, Project } from '@arvex/core';
import { entityIn, touchSame } from '@arvex/core';
import { livingTabs, ThisTab } from './this-tab';
import type { KeptSteps, Step } from './undo-database';
import { UndoDatabase } from './undo-database';

const MOST_STEPS = 500;
/** So many of them outlive a reload. */
const KEPT_STEPS = 100;
/** So many changes of its own a tab tells from those of others. */
const KNOWN_AS_OWN = 2000;
/** What others wrote since is read back at most so far when a project is opened again, changes. */
const MOST_MISSED = 2000;

/** Reads changes of the open project after a place in its history, in order; an empty list is the end. */
export type ChangesAfter = (seq: number) => Promise<readonly AppliedChange[]>;

/** What this tab did, to be taken back and made again. The list outlives a reload of the tab, and its end: the next tab goes on with it. */
@Injectable({ providedIn: 'root' })
export class UndoList {
  private readonly database = inject(UndoDatabase);
  private readonly tab = inject(ThisTab);
  private readonly past = signal<readonly Step[]>([]);
  private readonly future = signal<readonly Step[]>([]);
  readonly undoName = computed(() => this.past().at(-1)?.name);
  readonly redoName = computed(() => this.future().at(-1)?.name);

  private projectId = '';
  private own: readonly string[] = [];
  /** What others wrote, with its place in the history. */
  private foreign: { readonly seq: number; readonly operation: Operation }[] = [];
  private keeping: Promise<void> | undefined;
  private unkept = false;

  /** Takes up what this tab did before it was loaded anew, and what others wrote since. */
  async open(projectId: string, changesAfter: ChangesAfter): Promise<void> {
    this.projectId = projectId;
    [this.foreign, this.own] = [[], []];
    this.past.set([]);
    this.future.set([]);
    const kept = await this.kept(projectId).catch(() => undefined);
    if (this.projectId !== projectId) return;
    const first = kept && Math.min(...[...kept.past, ...kept.future].map(({ seq }) => seq));
    if (!kept || first === undefined || !Number.isFinite(first)) return;
    this.own = kept.own;
    try {
      await this.readForeign(first, changesAfter, projectId);
    } catch {
      return; // what others wrote is not known: nothing is taken back blindly
    }
    if (this.projectId !== projectId) return;
    this.past.set(kept.past);
    this.future.set(kept.future);
  }

  private async kept(projectId: string): Promise<KeptSteps | undefined> {
    const name = await this.tab.name();
    return this.database.get(name, projectId, await livingTabs());
  }

  private async readForeign(after: number, changesAfter: ChangesAfter, projectId: string): Promise<void> {
    let [at, count] = [after, 0];
    for (;;) {
      const items = await changesAfter(at);
      if (items.length === 0 || this.projectId !== projectId) return;
      count += items.length;
      if (count > MOST_MISSED) throw new Error('Too much was written since.');
      items.forEach((change) => this.received(change));
      at = items.at(-1)?.seq ?? at;
    }
  }

  /** A change was sent by this tab. */
  sent(changeId: string): void {
    this.own = [...this.own, changeId].slice(-KNOWN_AS_OWN);
    this.keep();
  }

  isOwn(changeId: string): boolean {
    return this.own.includes(changeId);
  }

  /** A change is in the history: one of another tab is remembered. */
  received({ seq, change }: AppliedChange): void {
    if (!this.isOwn(change.id)) this.foreign.push(...change.operations.map((operation) => ({ seq, operation })));
  }

  /** Something new was done: what was taken back before it is gone. */
  did(name: string, operations: readonly Operation[], seq: number): void {
    const past = [...this.past(), { name, operations, seq }].slice(-MOST_STEPS);
    this.set(past, []);
    // What others wrote before the oldest step is in no step's way.
    const oldest = past[0]?.seq ?? 0;
    if (this.foreign.some((theirs) => theirs.seq <= oldest))
      this.foreign = this.foreign.filter((theirs) => theirs.seq > oldest);
  }

  forget(): void {
    this.set([], []);
  }

  /** The step that is taken back (or made again) next; it leaves the list. */
  next(direction: 'undo' | 'redo'): Step | undefined {
    const [past, future] = [this.past(), this.future()];
    const step = (direction === 'undo' ? past : future).at(-1);
    if (!step) return undefined;
    if (direction === 'undo') this.set(past.slice(0, -1), future);
    else this.set(past, future.slice(0, -1));
    return step;
  }

  /** A step was taken back, or made again: its reverse stands at the other side. */
  reversed(direction: 'undo' | 'redo', step: Step): void {
    if (direction === 'undo') this.set(this.past(), [...this.future(), step]);
    else this.set([...this.past(), step], this.future());
  }

  /** What of a step somebody else wrote since: taking it back would destroy their work. */
  changedElsewhere(project: Project, { operations, seq }: Step): Operation | undefined {
    return operations.find((operation) => {
      if (operation.op !== 'create' && !entityIn(project, operation.kind, operation.id)) return true;
      return this.foreign.some((theirs) => theirs.seq > seq && touchSame(theirs.operation, operation));
    });
  }

  private set(past: readonly Step[], future: readonly Step[]): void {
    this.past.set(past);
    this.future.set(future);
    this.keep();
  }

  /** Keeps the list in the browser: one write at a time, always the newest. What cannot be kept ends with the tab. */
  private keep(): void {
    this.unkept = true;
    this.keeping ??= this.keepAll()
      .catch(() => undefined)
      .finally(() => (this.keeping = undefined));
  }

  private async keepAll(): Promise<void> {
    const tab = await this.tab.name();
    while (this.unkept) {
      this.unkept = false;
      const [past, future] = [this.past().slice(-KEPT_STEPS), this.future().slice(-KEPT_STEPS)];
      await this.database.put(tab, this.projectId, { past, future, own: this.own });
    }
  }
}
