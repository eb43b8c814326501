import { ChangeDetectionStrategy, Component, computed, inject, input, output } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { ShotFacts } from '@arvex/core';
import { posterOf, postersFor, setShot } from '@arvex/core';
import { Thumbnail } from '../../drawing';
import { CutEdits } from '../../features/sequence';
import { OpenSequence } from '../../session';
import { cameraColour, ChoiceField } from '../../ui';
import type { SceneHead } from './shown-shots';

/** A shot, or a whole scene, as a picture with what is to be known of it. */
@Component({
  selector: 'arvex-board-card',
  imports: [ChoiceField, MatIcon, Thumbnail],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './board-card.html',
  styleUrl: './board-card.scss',
  host: { '[style.--camera]': 'colour()' },
})
export class BoardCard {
  readonly facts = input.required<ShotFacts>();
  readonly head = input<SceneHead>();
  /** Whether its picture and its name are all that there is room for. */
  readonly small = input(false);
  /** Somebody folds its scene, or opens it. */
  readonly fold = output();
  /** A press on its picture. */
  readonly pressed = output<PointerEvent>();
  readonly typed = output<KeyboardEvent>();
  private readonly open = inject(OpenSequence);
  private readonly edits = inject(CutEdits);

  protected readonly shot = computed(() => this.facts().placed.shot);
  private readonly camera = computed(() => this.open.project()?.cameras[this.shot().cameraId ?? '']);
  protected readonly colour = computed(() => {
    const camera = this.camera();
    return camera ? cameraColour(camera.number) : 'var(--red)';
  });
  protected readonly number = computed(() => this.camera()?.number ?? '?');
  protected readonly seen = computed(() => {
    const project = this.open.project();
    return project ? posterOf(project, this.open.id(), this.facts()) : undefined;
  });
  protected readonly posters = computed(() => {
    const project = this.open.project();
    if (!project) return [];
    return postersFor(project, this.facts().placed).map(({ poster, name }) => ({ id: keyOf(poster), name, poster }));
  });
  protected readonly poster = computed(() => keyOf(this.shot().poster));
  protected readonly lens = computed(() => {
    const { lensMm, size } = this.facts();
    return [lensMm === undefined ? '' : `${Number(lensMm.toFixed(1))} mm`, size ?? ''].filter(Boolean).join(' · ');
  });

  protected setPoster(id: string): void {
    const poster = this.posters().find((one) => one.id === id)?.poster;
    if (poster) this.edits.run((project) => setShot(project, this.shot().id, 'Picture', { poster }));
  }
}

function keyOf(poster: ShotFacts['placed']['shot']['poster']): string {
  return poster.kind === 'mark' ? poster.markId : poster.kind;
}
