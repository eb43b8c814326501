import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Camera, Take, TakeLength } from '@arvex/core';
import {
  NO_VARIATION,
  addTake,
  cameraAt,
  deleteTake,
  nameTake,
  pickTake,
  promoteTake,
  sceneTimeOf,
  showingOf,
  showVariation,
  variationsOf,
} from '@arvex/core';
import { Thumbnail } from '../../../drawing';
import type { Choice } from '../../../ui';
import { Card, ChoiceField, IconButton, NameField, Switch, switchChoices } from '../../../ui';
import { ShotBench } from '../shot-bench';
import { TakeComparison } from '../take-comparison';

/** A take as a small picture: the one in the cut is full, the others are hollow. */
interface Tile {
  readonly id: string | null;
  readonly name: string;
  readonly cameraId: string | null;
  readonly camera: string;
  readonly atFlicks: number;
  readonly frames: number;
  readonly aspect: number;
  readonly variationId: string | null;
  /** Variations of its camera; none where it has none. */
  readonly variations: readonly Choice[];
}

/** The alternates of a shot: which one is in the cut, which ones wait. */
@Component({
  selector: 'arvex-takes-card',
  imports: [Card, ChoiceField, IconButton, MatIcon, NameField, Switch, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './takes-card.html',
  styleUrl: './takes-card.scss',
})
export class TakesCard {
  protected readonly bench = new ShotBench();
  protected readonly comparison = inject(TakeComparison);
  protected readonly length = signal<TakeLength>('its own');
  protected readonly lengths = switchChoices<TakeLength>(['its own', 'the shot’s']);

  protected readonly tiles = computed<readonly Tile[]>(() => {
    const [project, placed] = [this.bench.project(), this.bench.placed()];
    if (!project || !placed) return [];
    const { shot } = placed;
    // Each is seen as far into the shot as the playhead is.
    const into = Math.max(
      0,
      Math.min(placed.frameCount - 1, (this.bench.playhead.glance()?.frame ?? 0) - placed.startFrame),
    );
    const tile = (
      id: string | null,
      one: Pick<Take, 'name' | 'cameraId' | 'variationId' | 'lostCamera' | 'durationFlicks'>,
      atFlicks: number,
    ): Tile => {
      const camera = project.cameras[one.cameraId ?? ''];
      const used = camera && cameraAt(project, camera.id, atFlicks).framing.used;
      return {
        id,
        name: one.name,
        cameraId: camera?.id ?? null,
        camera: camera?.name ?? `${one.lostCamera || 'its camera'} was deleted`,
        atFlicks,
        frames: this.bench.frames(one.durationFlicks),
        aspect: used ? used.widthMm / used.heightMm : 16 / 9,
        variationId:
          one.variationId === NO_VARIATION || camera?.variations[one.variationId ?? ''] ? one.variationId : null,
        variations: camera ? variationChoices(camera) : [],
      };
    };
    const { rate } = project.head;
    return [
      tile(null, { ...shot, name: shot.takeName }, sceneTimeOf(placed, into, rate)),
      ...shot.takes.map((take) => {
        const at = sceneTimeOf(
          { ...placed, shot: { ...shot, ...take, id: shot.id }, sceneStartFlicks: take.sceneStartFlicks },
          into,
          rate,
        );
        return tile(take.id, take, at);
      }),
    ].sort((a, b) => a.name.localeCompare(b.name));
  });
  protected readonly others = computed(() => this.bench.shot()?.takes.length ?? 0);
  protected readonly summary = computed(() => (this.others() === 0 ? 'one' : `${this.others() + 1}`));
  /** The camera that is looked through, where it would be another take. */
  protected readonly seen = computed(() => {
    const camera = this.bench.viewpoint.camera();
    return camera && camera.id !== this.bench.shot()?.cameraId ? camera : undefined;
  });

  /** Another take of the camera looked through, over the same action; of the shot itself where there is none. */
  protected add(cameraId = this.seen()?.id ?? this.bench.shot()?.cameraId ?? null): void {
    const placed = this.bench.placed();
    if (!placed) return;
    const showing = { ...showingOf(placed.shot), sceneStartFlicks: placed.sceneStartFlicks, cameraId, lostCamera: '' };
    this.bench.edit((project, id) => addTake(project, id, crypto.randomUUID(), showing));
  }

  protected pick(takeId: string): void {
    this.bench.edit((project, id) => pickTake(project, id, takeId, this.length(), crypto.randomUUID()));
  }

  protected promote(takeId: string): void {
    this.bench.edit((project, id) => promoteTake(project, id, takeId, crypto.randomUUID()));
  }

  /** Lets a take show a variation of its camera, or the one that the camera wears. */
  protected show(takeId: string | null, variationId: string): void {
    this.bench.edit((project, id) => showVariation(project, id, takeId, variationId === 'worn' ? null : variationId));
  }

  protected delete(takeId: string): void {
    this.bench.edit((project, id) => deleteTake(project, id, takeId));
  }

  protected name(takeId: string | null, name: string): void {
    this.bench.edit((project, id) => nameTake(project, id, takeId, name));
  }
}

/** What a take can show of its camera: what that wears, or one of its variations. */
function variationChoices(camera: Camera): readonly Choice[] {
  const all = variationsOf(camera);
  if (all.length === 0) return [];
  const worn = camera.variations[camera.wears ?? '']?.name ?? 'as it is';
  return [
    { id: 'worn', name: 'what it wears', detail: worn },
    { id: NO_VARIATION, name: 'as it is' },
    ...all.map(({ id, name }) => ({ id, name })),
  ];
}
