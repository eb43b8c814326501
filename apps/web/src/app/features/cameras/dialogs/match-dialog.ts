import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import type { CameraPart, LensMatch } from '@arvex/core';
import { CAMERA_PART_NAMES, CAMERA_PARTS, cameraFacts, camerasInOrder, matchCameras, previewed } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Playhead, Viewpoint } from '../../../session';
import { cameraColour, Switch } from '../../../ui';

const MOST_LINES = 60;

/** Gives chosen parts of the edited camera to others; what will change is seen before it does. */
@Component({
  selector: 'arvex-match-dialog',
  imports: [Switch, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './match-dialog.html',
  styleUrl: './match-dialog.scss',
})
export class MatchDialog {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly dialog = inject<MatDialogRef<MatchDialog>>(MatDialogRef);
  protected readonly colour = cameraColour;
  protected readonly from = this.viewpoint.camera;
  protected readonly parts = CAMERA_PARTS.map((id) => ({ id, name: CAMERA_PART_NAMES[id] }));
  protected readonly chosenParts = signal<readonly CameraPart[]>(['back', 'lens']);
  protected readonly lensMatch = signal<LensMatch>('focal-length');
  protected readonly chosen = signal<readonly string[]>([]);
  protected readonly others = computed(() => {
    const project = this.store.project();
    return project ? camerasInOrder(project).filter(({ id }) => id !== this.from()?.id) : [];
  });

  private readonly edit = computed(() => {
    const [project, from] = [this.store.project(), this.from()];
    if (!project || !from || this.chosen().length === 0 || this.chosenParts().length === 0) return undefined;
    return matchCameras(project, from.id, this.chosen(), this.chosenParts(), this.lensMatch());
  });
  /** What each camera's lines become. */
  protected readonly changes = computed(() => {
    const [project, edit] = [this.store.project(), this.edit()];
    if (!project || !edit) return [];
    const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
    const after = previewed(project, edit);
    return this.chosen()
      .flatMap((id) => {
        const next = cameraFacts(after, id, flicks);
        return cameraFacts(project, id, flicks).flatMap(({ label, text }, i) => {
          const now = next[i]?.text ?? '';
          return now === text ? [] : [{ camera: project.cameras[id]?.name ?? '', label, before: text, after: now }];
        });
      })
      .slice(0, MOST_LINES);
  });

  protected togglePart(part: CameraPart): void {
    this.chosenParts.update((parts) => toggled(parts, part));
  }

  protected toggle(id: string): void {
    this.chosen.update((ids) => toggled(ids, id));
  }

  protected all(): void {
    this.chosen.set(this.chosen().length === this.others().length ? [] : this.others().map(({ id }) => id));
  }

  protected match(): void {
    if (this.store.commit(this.edit())) this.dialog.close();
  }
}

function toggled<T>(all: readonly T[], one: T): T[] {
  return all.includes(one) ? all.filter((other) => other !== one) : [...all, one];
}
