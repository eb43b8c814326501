import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  signal,
  untracked,
} from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { framesPerSecond } from '@arvex/core';
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
    let ended = false;
    inject(DestroyRef).onDestroy(() => (ended = true));
    const playing = computed(() => (this.movie() === undefined ? this.render()?.id : undefined));
    effect((onCleanup) => {
      const id = playing();
      if (id === undefined) return;
      let gone = false;
      onCleanup(() => (gone = true));
      untracked(() => void this.play(id, () => gone || ended));
    });
  }

  /** Shows one frame after another at their rate, as far as they are there; those that come late are shown as soon as they do. */
  private async play(renderId: string, isOver: () => boolean): Promise<void> {
    let due = performance.now();
    for (let index = 0; !isOver();) {
      const render = this.render();
      if (!render) return;
      const address = `/api/renders/${renderId}/picture?index=${index}`;
      const image = new Image();
      image.src = address;
      const there = await image.decode().then(
        () => true,
        () => false,
      );
      due = Math.max(performance.now(), due + 1000 / framesPerSecond(render.rate));
      await new Promise((resolve) => setTimeout(resolve, due - performance.now()));
      if (isOver()) return;
      if (there) {
        this.index.set(index);
        this.frame.set(address);
      }
      const count = render.framesDone + render.framesFailed;
      index = index + 1 >= Math.max(1, count) ? 0 : index + 1;
      if (!there) await new Promise((resolve) => setTimeout(resolve, WAIT_MS));
    }
  }
}

/** A frame that is not there yet is asked for again after so long, milliseconds. */
const WAIT_MS = 200;
