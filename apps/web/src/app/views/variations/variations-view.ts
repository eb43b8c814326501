import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Camera } from '@arvex/core';
import { cameraAt, camerasInOrder, NO_VARIATION, variationsOf, wornId } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Thumbnail } from '../../drawing';
import { Variations } from '../../features/looks';
import { Playhead, Viewpoint } from '../../session';
import { cameraColour } from '../../ui';

/** A camera with one of its variations. */
interface Tile {
  readonly id: string;
  readonly name: string;
  readonly isWorn: boolean;
}

interface Row {
  readonly camera: Camera;
  readonly aspect: number;
  readonly tiles: readonly Tile[];
}

/** Cameras down, their variations across: each worn by a press. */
@Component({
  selector: 'arvex-variations-view',
  imports: [MatIcon, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './variations-view.html',
  styleUrl: './variations-view.scss',
})
export class VariationsView {
  private readonly store = inject(ProjectStore);
  protected readonly playhead = inject(Playhead);
  protected readonly viewpoint = inject(Viewpoint);
  protected readonly variations = inject(Variations);
  protected readonly colour = cameraColour;
  /** Whether cameras without variations are listed too. */
  protected readonly all = signal(false);

  protected readonly flicks = computed(() => this.playhead.glance()?.sceneFlicks ?? 0);
  protected readonly rows = computed<readonly Row[]>(() => {
    const [project, flicks] = [this.store.project(), this.flicks()];
    if (!project) return [];
    return camerasInOrder(project).flatMap((camera): Row[] => {
      const own = variationsOf(camera);
      if (own.length === 0 && !this.all()) return [];
      const used = cameraAt(project, camera.id, flicks).framing.used;
      const worn = wornId(camera) ?? NO_VARIATION;
      const tiles = [{ id: NO_VARIATION, name: 'as it is' }, ...own];
      return [
        {
          camera,
          aspect: used.widthMm / used.heightMm,
          tiles: tiles.map(({ id, name }) => ({ id, name, isWorn: id === worn })),
        },
      ];
    });
  });
  protected readonly without = computed(() => {
    const cameras = Object.values(this.store.project()?.cameras ?? {});
    return cameras.filter(({ variations }) => Object.keys(variations).length === 0).length;
  });

  /** Looks through a camera and puts the variation on it. */
  protected wear(camera: Camera, { id, isWorn }: Tile): void {
    if (this.viewpoint.through()?.id !== camera.id) this.playhead.lookThrough(camera.id);
    if (!isWorn) this.variations.wear(camera.id, id);
  }
}
