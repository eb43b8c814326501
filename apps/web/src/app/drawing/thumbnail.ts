import { ChangeDetectionStrategy, Component, inject, input, linkedSignal, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { ChannelValues, Project } from '@arvex/core';
import { EMPTY, switchMap } from 'rxjs';
import { ProjectStore } from '../data';
import { Activity } from '../session';
import { inSight } from './in-sight';
import type { Shown } from './thumbnails';
import { Thumbnails } from './thumbnails';

/**
 * A small picture of a camera at a time; dark while it is not there yet. It is asked for while somebody can see it. While something
 * plays or is dragged it stays as it is. An image, not a canvas: each canvas would be put together with the page anew in every frame.
 */
@Component({
  selector: 'arvex-thumbnail',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (address(); as address) {
      <img alt="" draggable="false" decoding="async" [src]="address" />
    }
  `,
  styles: `
    :host {
      display: block;
      overflow: hidden;
      background: #111;
    }
    img {
      display: block;
      width: 100%;
      height: 100%;
      object-fit: cover;
    }
  `,
})
export class Thumbnail {
  private readonly store = inject(ProjectStore);
  private readonly activity = inject(Activity);
  private readonly thumbnails = inject(Thumbnails);

  readonly cameraId = input.required<string | null | undefined>();
  readonly atFlicks = input.required<number>();
  /** Channel values in force over the camera's move. */
  readonly trial = input<ChannelValues>();
  /** The variation that it is seen with; the one that it wears without. */
  readonly variationId = input<string | null>();

  protected readonly address = signal('');
  private readonly seen = inSight();
  private readonly wanted = linkedSignal<Shown | undefined, Asked | undefined>({
    source: () => {
      const cameraId = this.cameraId();
      return this.seen() && cameraId
        ? { cameraId, atFlicks: this.atFlicks(), trial: this.trial(), variationId: this.variationId() }
        : undefined;
    },
    computation: (shown, before) => {
      if (this.activity.busy()) return before?.value;
      const project = this.store.project();
      return project && shown && project.cameras[shown.cameraId] ? { project, shown } : undefined;
    },
  });

  constructor() {
    toObservable(this.wanted)
      .pipe(
        switchMap((asked) => (asked ? this.thumbnails.of(asked.project, asked.shown) : EMPTY)),
        takeUntilDestroyed(),
      )
      .subscribe({
        next: (address) => this.address.set(address),
        error: (error: unknown) => console.error('A thumbnail could not be drawn.', error),
      });
  }
}

interface Asked {
  readonly project: Project;
  readonly shown: Shown;
}
