import { ChangeDetectionStrategy, Component, DestroyRef, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatProgressBar } from '@angular/material/progress-bar';
import { MatTooltip } from '@angular/material/tooltip';
import type { Render } from '@arvex/core';
import { durationText, IconButton } from '../../ui';
import { Renders } from './renders';

const REFRESH_MS = 1000;

/** Renders with their progress; what is finished can be watched and taken away. */
@Component({
  selector: 'arvex-output-list',
  imports: [IconButton, MatIcon, MatProgressBar, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>Output</h2>
    @if (renders.current() && renders.trouble(); as trouble) {
      <p class="warning" role="status">{{ trouble }}</p>
    }
    @for (render of renders.all(); track render.id) {
      <div class="render" [attr.data-state]="render.state">
        <span class="name"
          ><b class="num">{{ render.name }}</b> the cut · {{ render.widthPx }} × {{ render.heightPx }}</span
        >
        <mat-progress-bar
          [mode]="render.state === 'encoding' ? 'indeterminate' : 'determinate'"
          [value]="(100 * render.framesDone) / render.frameCount"
          [attr.aria-label]="'Progress of ' + render.name"
        />
        <span class="status num" [class.warning]="render.state === 'failed'">{{ status(render) }}</span>
        <span class="buttons">
          @switch (render.state) {
            @case ('done') {
              <button type="button" class="pill" (click)="renders.watched.set(render.id)">
                <mat-icon>play_arrow</mat-icon>Watch
              </button>
              <a
                class="icon-button"
                [href]="'/api/renders/' + render.id + '/movie.mp4'"
                [attr.download]="render.name + '.mp4'"
                aria-label="Download the movie"
                matTooltip="Download the movie (MP4)"
              >
                <mat-icon>movie</mat-icon>
              </a>
              <a
                class="icon-button"
                [href]="'/api/renders/' + render.id + '/frames.zip'"
                download
                aria-label="Download the frames"
                matTooltip="Download the frames (PNG in a zip)"
              >
                <mat-icon>folder_zip</mat-icon>
              </a>
            }
            @case ('rendering') {
              <button type="button" class="pill" (click)="renders.cancel(render.id)">
                <mat-icon>close</mat-icon>Cancel
              </button>
            }
            @case ('encoding') {
              <button type="button" class="pill" (click)="renders.cancel(render.id)">
                <mat-icon>close</mat-icon>Cancel
              </button>
            }
            @case ('failed') {
              <button type="button" class="pill" (click)="renders.again(render.id)">
                <mat-icon>replay</mat-icon>Try again
              </button>
            }
          }
          @if (render.state !== 'rendering' && render.state !== 'encoding') {
            <button
              arvexIconButton="delete"
              [label]="'Delete ' + render.name + ' with its frames and its movie'"
              (click)="renders.delete(render.id)"
            ></button>
          }
        </span>
      </div>
    } @empty {
      <p class="quiet">
        Nothing is rendered yet. Choose a size on the right, try one frame first, then render the cut.
      </p>
    }
  `,
  styleUrl: './output-list.scss',
})
export class OutputList {
  protected readonly renders = inject(Renders);
  /** Time passes for what is left, even when no frame comes. */
  private readonly now = signal(0);

  constructor() {
    const timer = setInterval(() => this.now.set(performance.now()), REFRESH_MS);
    inject(DestroyRef).onDestroy(() => clearInterval(timer));
  }

  protected status(render: Render): string {
    this.now();
    const { framesDone, frameCount, state, error, movieBytes } = render;
    if (state === 'failed') return `${framesDone} of ${frameCount} · failed: ${error ?? 'unknown reason'}`;
    if (state === 'cancelled') return `cancelled at ${framesDone} of ${frameCount}`;
    if (state === 'encoding') return `${frameCount} of ${frameCount} · making the movie`;
    if (state === 'done') return `${frameCount} frames · ${((movieBytes ?? 0) / 1e6).toFixed(1)} MB`;
    const left = this.renders.secondsLeft(render);
    return `${framesDone} of ${frameCount} · ${left === undefined ? 'measuring' : `${durationText(left)} left`}`;
  }
}
