import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatIcon } from '@angular/material/icon';
import { framesPerSecond } from '@arvex/core';
import type { Observable } from 'rxjs';
import { defer, delayWhen, EMPTY, expand, filter, map, switchMap, timer } from 'rxjs';
import { addressOf } from './file-address';
import { Renders } from './renders';

/** What a render has made in the place of the picture: its movie, or while that grows the frames that are there, round and round. */
@Component({
  selector: 'arvex-movie',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (render(); as shown) {
      @if (movie(); as address) {
        <video controls autoplay [src]="address" [attr.aria-label]="'Movie ' + shown.name"></video>
      } @else if (frame(); as address) {
        <img [src]="address" [alt]="'Frames of ' + shown.name + ' so far'" />
      }
      <div class="band">
        <b class="num">{{ shown.name }}</b>
        {{ movie() ? 'the rendered movie, not the set' : words() }}
        <button type="button" class="pill" (click)="renders.watched.set(undefined)">
          <mat-icon>close</mat-icon>Back to the set
        </button>
      </div>
    }
  `,
  styleUrl: './over-picture.scss',
})
export class Movie {
  protected readonly renders = inject(Renders);
  protected readonly render = computed(() => this.renders.all().find(({ id }) => id === this.renders.watched()));
  protected readonly movie = computed(() => {
    const render = this.render();
    const movies = render?.state === 'done' ? render.files.filter(({ kind }) => kind === 'movie') : [];
    const best = movies.find(({ path }) => path.endsWith('.mp4')) ?? movies[0];
    return render && best && addressOf(render.id, best.path);
  });
  /** The frame that is shown, from 0. */
  private readonly index = signal(0);
  protected readonly frame = signal<string | undefined>(undefined);
  protected readonly words = computed(() => {
    const render = this.render();
    if (!render) return '';
    const done = `${render.framesDone} of ${render.frameCount} frames so far`;
    return render.state === 'done' ? `frame ${render.firstFrame + this.index()}` : done;
  });

  constructor() {
    toObservable(computed(() => (this.movie() === undefined ? this.render()?.id : undefined)))
      .pipe(
        switchMap((id) => (id === undefined ? EMPTY : this.frames(id))),
        takeUntilDestroyed(),
      )
      .subscribe(({ index, address }) => {
        this.index.set(index);
        this.frame.set(address);
      });
  }

  /** One frame after another at their rate, round and round, as far as they are there; what comes late is shown as soon as it does. */
  private frames(renderId: string): Observable<ShownFrame> {
    let due = performance.now();
    const frame = (index: number): Observable<ShownFrame & { readonly there: boolean }> => {
      const address = `/api/renders/${renderId}/picture?index=${index}`;
      return defer(() => decoded(address)).pipe(
        delayWhen((there) => {
          due = Math.max(performance.now(), due + 1000 / framesPerSecond(this.render()?.rate ?? ONE_A_SECOND));
          return timer(due - performance.now() + (there ? 0 : WAIT_MS));
        }),
        map((there) => ({ index, address, there })),
      );
    };
    return frame(0).pipe(
      expand(({ index }) => {
        const { framesDone = 0, framesFailed = 0 } = this.render() ?? {};
        return frame(index + 1 >= Math.max(1, framesDone + framesFailed) ? 0 : index + 1);
      }),
      filter(({ there }) => there),
    );
  }
}

interface ShownFrame {
  readonly index: number;
  readonly address: string;
}

const ONE_A_SECOND = { frames: 1, seconds: 1 };

/** Whether a picture could be fetched and read. */
function decoded(address: string): Promise<boolean> {
  const image = new Image();
  image.src = address;
  return image.decode().then(
    () => true,
    () => false,
  );
}

/** A frame that is not there yet is asked for again after so long, milliseconds. */
const WAIT_MS = 200;
