import { inject, Injectable, signal } from '@angular/core';
import type { CopiedShot } from '@arvex/core';
import { copiedShots, deleteShots, putShots } from '@arvex/core';
import { ProjectStore } from '../../data';
import { CutEdits } from './cut-edits';
import { ShotSelection } from './shot-selection';

/** Shots that were cut out or copied, to be put into this sequence or another one. */
@Injectable({ providedIn: 'root' })
export class ShotClipboard {
  private readonly store = inject(ProjectStore);
  private readonly edits = inject(CutEdits);
  private readonly selection = inject(ShotSelection);
  readonly copied = signal<readonly CopiedShot[]>([]);

  copy(): void {
    const [project, ids] = [this.store.project(), this.selection.acted()];
    if (project && ids.length > 0) this.copied.set(copiedShots(project, ids));
  }

  cut(): void {
    const ids = this.selection.acted();
    if (ids.length === 0) return;
    this.copy();
    this.edits.run((project) => deleteShots(project, ids, { close: true }));
  }

  /** After the shots that are chosen, or the one at the playhead. */
  paste(): void {
    this.put(this.copied(), this.selection.acted().at(-1));
  }

  duplicate(): void {
    const [project, ids] = [this.store.project(), this.selection.acted()];
    if (project && ids.length > 0) this.put(copiedShots(project, ids), ids.at(-1));
  }

  private put(copied: readonly CopiedShot[], afterId: string | undefined): void {
    if (copied.length === 0) return;
    const made: string[] = [];
    const ids = () => {
      made.push(crypto.randomUUID());
      return made.at(-1) ?? '';
    };
    if (!this.edits.run((project, id) => putShots(project, id, copied, afterId, ids))) return;
    made.forEach((id, i) => this.selection.choose(id, i === 0 ? 'alone' : 'more'));
  }
}
