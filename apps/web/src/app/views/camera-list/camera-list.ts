import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import { CdkDrag, CdkDropList } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Camera } from '@arvex/core';
import { camerasInOrder, reorderCamera } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Cameras } from '../../features/cameras';
import { Playhead, Viewpoint } from '../../session';
import { SearchField } from '../../ui';
import { CameraCard } from './camera-card';

/** All cameras side by side as they see the playhead's time: found by name, put in order, compared. */
@Component({
  selector: 'arvex-camera-list',
  imports: [CameraCard, CdkDrag, CdkDropList, MatIcon, SearchField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './camera-list.html',
  styleUrl: './camera-list.scss',
})
export class CameraList {
  private readonly store = inject(ProjectStore);
  protected readonly playhead = inject(Playhead);
  protected readonly viewpoint = inject(Viewpoint);
  protected readonly cameras = inject(Cameras);
  protected readonly words = signal('');
  protected readonly chosen = signal<readonly string[]>([]);

  protected readonly rows = computed(() => {
    const project = this.store.project();
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    const all = project ? camerasInOrder(project) : [];
    return all.filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
  });
  protected readonly sorting = computed(() => this.words() !== '');

  protected choose({ id }: Camera): void {
    this.chosen.update((ids) => (ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id].slice(-2)));
  }

  protected drop({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    const [project, moved] = [this.store.project(), this.rows()[previousIndex]];
    if (project && moved && previousIndex !== currentIndex) {
      this.store.commit(reorderCamera(project, moved.id, currentIndex));
    }
  }

  protected compare(): void {
    this.cameras.openCompare(this.chosen());
  }
}
