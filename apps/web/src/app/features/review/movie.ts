import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { Renders } from './renders';

/** A rendered movie in the place of the picture. */
@Component({
  selector: 'arvex-movie',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (render(); as shown) {
      <video
        controls
        autoplay
        [src]="'/api/renders/' + shown.id + '/movie.mp4'"
        [attr.aria-label]="'Movie ' + shown.name"
      ></video>
      <div class="band">
        <b class="num">{{ shown.name }}</b> the rendered movie, not the set
        <button type="button" class="pill" (click)="renders.watched.set(undefined)">
          <mat-icon>close</mat-icon>Back to the set
        </button>
      </div>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      background: #0b0b0c;
    }
    video {
      width: 100%;
      height: 100%;
      object-fit: contain;
    }
    .band {
      position: absolute;
      top: 10px;
      left: 10px;
      display: flex;
      align-items: center;
      gap: 10px;
      padding: 4px 6px 4px 14px;
      border-radius: 17px;
      background: rgb(18 18 19 / 86%);
      color: #ece8e1;
    }
  `,
})
export class Movie {
  protected readonly renders = inject(Renders);
  protected readonly render = computed(() => this.renders.all().find(({ id }) => id === this.renders.watched()));
}
