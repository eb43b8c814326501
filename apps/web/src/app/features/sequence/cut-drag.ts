import { computed, inject, Injectable, signal } from '@angular/core';
import type { CutShot, Edit, Project } from '@arvex/core';
import { CoreError, cutOf, moveShots, rollJoint, slideShot, slipShots, trimEnd, trimStart } from '@arvex/core';
import { ProjectStore, remembered } from '../../data';
import { OpenSequence, Tried } from '../../session';
import { CutEdits } from './cut-edits';
import * as z from 'zod';

/** What dragging a shot itself does: it changes its place, what it shows, or both its neighbours. */
const SHOT_DRAGS = ['moves', 'slips', 'slides'] as const;
/** What is pulled: an end, a beginning, both at a joint, or shots. */
export type Pulled = 'end' | 'start' | 'joint' | (typeof SHOT_DRAGS)[number];

const NOTHING: Edit = { name: '', operations: [] };

interface Drag {
  readonly pulled: Pulled;
  readonly shotIds: readonly string[];
  readonly frames: number;
}

/** Two frames of the cut that meet: the last before a joint and the first after it; one is not there at an end of the cut. */
export interface Meeting {
  readonly before: number | undefined;
  readonly after: number | undefined;
  readonly words: string;
}

/** Shots and joints as they are dragged: tried on the cut until they are let go, then one edit. */
@Injectable({ providedIn: 'root' })
export class CutDrag {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly edits = inject(CutEdits);
  private readonly trying = inject(Tried).cut;
  private readonly drag = signal<Drag | undefined>(undefined);

  /** Whether what follows a trimmed shot moves along. */
  readonly ripple = remembered('ripple', z.boolean(), true);
  readonly shotDrag = remembered('shot-drag', z.enum(SHOT_DRAGS), 'moves');
  readonly active = computed(() => this.drag() !== undefined);

  /** The pictures that meet where it is pulled; nothing while whole shots change places. */
  readonly meeting = computed<Meeting | undefined>(() => {
    const drag = this.drag();
    if (!drag || drag.pulled === 'moves') return undefined;
    const { shots } = this.open.cut();
    const placed = shots.find(({ shot }) => shot.id === drag.shotIds[0]);
    if (!placed) return undefined;
    const words = `${drag.frames > 0 ? '+' : drag.frames < 0 ? '−' : ''}${Math.abs(drag.frames)} f`;
    const [first, last] = [placed.startFrame, placed.startFrame + placed.frameCount - 1];
    // What slips is seen at both its ends.
    if (drag.pulled === 'slips') return { before: first, after: last, words };
    if (drag.pulled === 'end') return { before: last, after: startOf(shots[placed.index + 1]), words };
    return { before: endOf(shots[placed.index - 1]), after: first, words };
  });

  /** Shows what pulling by so many frames comes to. Where that cannot be, it stays where it last could. */
  pull(pulled: Pulled, shotIds: readonly string[], frames: number): void {
    const project = this.store.project();
    if (!project) return;
    try {
      const drag = { pulled, shotIds, frames };
      const edit = (now: Project) => this.edits.whole(now, frames === 0 ? undefined : this.edit(now, drag)) ?? NOTHING;
      edit(project);
      this.trying.show({ edit });
      this.drag.set(drag);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      if (!this.drag()) this.drag.set({ pulled, shotIds, frames: 0 });
    }
  }

  /** Keeps what was pulled, or gives it up. */
  end(kept: boolean): void {
    const drag = this.drag();
    this.drag.set(undefined);
    this.trying.end();
    // Made anew from the project as it is now: somebody else may have changed it meanwhile.
    if (kept && drag && drag.frames !== 0) this.edits.run((project) => this.edit(project, drag));
  }

  /** The same at once, by keys. */
  by(pulled: Pulled, shotIds: readonly string[], frames: number): void {
    if (frames !== 0) this.edits.run((project) => this.edit(project, { pulled, shotIds, frames }));
  }

  private edit(project: Project, { pulled, shotIds, frames }: Drag): Edit | undefined {
    const [first = ''] = shotIds;
    const how = { ripple: this.ripple() };
    switch (pulled) {
      case 'end':
        return trimEnd(project, first, frames, how);
      case 'start':
        return trimStart(project, first, frames, how);
      case 'joint':
        return rollJoint(project, first, frames);
      case 'slips':
        // The picture goes with the hand: pulled to the right, the shot shows what came earlier.
        return slipShots(project, shotIds, -frames);
      case 'slides':
        return slideShot(project, first, frames);
      case 'moves':
        return this.moved(project, shotIds, frames);
    }
  }

  /** Shots pulled to where their middle comes to lie between others. */
  private moved(project: Project, shotIds: readonly string[], frames: number): Edit | undefined {
    const { shots } = cutOf(project, this.open.id());
    const own = shots.filter(({ shot }) => shotIds.includes(shot.id));
    const [first, last] = [own[0], own.at(-1)];
    if (!first || !last) return undefined;
    // The edge that goes ahead decides.
    const edge = frames < 0 ? first.startFrame + frames : last.startFrame + last.frameCount + frames;
    const others = shots.filter(({ shot }) => !shotIds.includes(shot.id));
    const before = others.filter(({ startFrame, frameCount }) => startFrame + frameCount / 2 < edge).length;
    const stays = others.filter(({ index }) => index < first.index).length;
    return before === stays && own.length === last.index - first.index + 1
      ? undefined
      : moveShots(project, shotIds, before);
  }
}

const startOf = (placed: CutShot | undefined): number | undefined => placed?.startFrame;
const endOf = (placed: CutShot | undefined): number | undefined => placed && placed.startFrame + placed.frameCount - 1;
