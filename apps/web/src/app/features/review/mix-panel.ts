import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  inject,
  input,
  linkedSignal,
  output,
  signal,
} from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import { MatIcon } from '@angular/material/icon';
import { MatSliderModule } from '@angular/material/slider';
import type { GroupLevel, LightMix, Render } from '@arvex/core';
import { debounceTime, Observable, switchMap } from 'rxjs';
import { Api, ProjectStore } from '../../data';
import { LevelRow } from '../../ui';
import { Renders } from './renders';

/** A frame is mixed so long after a level came to rest, milliseconds. */
const REST_MS = 150;

/** The light of a finished render mixed anew, group by group: the next version, with nothing drawn for it. */
@Component({
  selector: 'arvex-mix-panel',
  imports: [LevelRow, MatIcon, MatSliderModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="seen">
      @if (address(); as picture) {
        <img alt="This frame with the light as it is mixed" [src]="picture" [class.waits]="waits()" />
      }
      @if (last() > 0) {
        <label class="frame">
          <span class="label">Frame</span>
          <mat-slider [min]="0" [max]="last()" [step]="1">
            <input
              matSliderThumb
              aria-label="Frame that is looked at"
              [value]="index()"
              (valueChange)="index.set($event)"
            />
          </mat-slider>
          <span class="num">{{ index() + 1 }} of {{ last() + 1 }}</span>
        </label>
      }
      @if (trouble(); as words) {
        <p class="quiet" role="status">{{ words }}</p>
      }
    </div>
    <div class="levels">
      @for (group of groups(); track group.id) {
        <arvex-level-row [name]="group.name" [level]="group.level" (levelSet)="set(group.id, $event)" />
      } @empty {
        <p class="quiet">There are no light groups in this project.</p>
      }
      <button type="button" class="pill filled" [disabled]="groups().length === 0" (click)="make()">
        <mat-icon>tune</mat-icon>Make a version of this mix
      </button>
    </div>
  `,
  styles: `
    :host {
      display: flex;
      flex-wrap: wrap;
      gap: 4px 20px;
      padding: 6px 0 10px 69px;
    }
    .seen {
      flex: 0 1 300px;
    }
    .levels {
      display: grid;
      flex: 1 1 320px;
      gap: 4px;
      align-content: start;
      max-width: 460px;
    }
    img {
      width: 100%;
      border: 1px solid var(--line);
    }
    .waits {
      opacity: 0.8;
    }
    .frame {
      display: flex;
      align-items: center;
      gap: 8px;

      mat-slider {
        flex: 1;
        min-width: 60px;
      }
      .num {
        white-space: nowrap;
      }
    }
    button {
      justify-self: start;
      margin-top: 4px;
    }
  `,
})
export class MixPanel {
  private readonly store = inject(ProjectStore);
  private readonly api = inject(Api);
  private readonly renders = inject(Renders);
  readonly render = input.required<Render>();
  readonly made = output();
  private readonly mix = signal<LightMix>({});
  protected readonly groups = computed(() =>
    Object.values(this.store.project()?.lightGroups ?? {}).map(({ id, name, level }) => ({
      id,
      name,
      level: this.mix()[id] ?? level,
    })),
  );

  /** The frame that is looked at while its light is mixed, from 0. */
  protected readonly index = linkedSignal(() => Math.floor(this.last() / 2));
  protected readonly last = computed(() => Math.max(0, this.render().frameCount - 1));
  protected readonly address = signal('');
  protected readonly waits = signal(false);
  /** Why there is no picture. */
  protected readonly trouble = signal('');

  constructor() {
    const wanted = computed(() => ({ id: this.render().id, mix: this.mix(), index: this.index() }));
    toObservable(wanted)
      .pipe(
        debounceTime(REST_MS),
        switchMap(({ id, mix, index }) => this.seen(id, mix, index)),
        takeUntilDestroyed(),
      )
      .subscribe((picture) => this.show(picture));
    inject(DestroyRef).onDestroy(() => URL.revokeObjectURL(this.address()));
  }

  /** The frame as it is mixed; what is not wanted any more is not waited for. */
  private seen(id: string, mix: LightMix, index: number): Observable<Blob> {
    return new Observable<Blob>((seen) => {
      const gone = new AbortController();
      this.waits.set(true);
      this.api.picture(`/renders/${id}/mixed-frame`, { mix, index }, gone.signal).then(
        (picture) => seen.next(picture),
        (error: unknown) => {
          if (!gone.signal.aborted) this.trouble.set((error as Error).message);
          this.waits.set(false);
        },
      );
      return () => gone.abort();
    });
  }

  private show(picture: Blob): void {
    URL.revokeObjectURL(this.address());
    this.address.set(URL.createObjectURL(picture));
    this.trouble.set('');
    this.waits.set(false);
  }

  protected set(id: string, level: GroupLevel): void {
    this.mix.update((mix) => ({ ...mix, [id]: level }));
  }

  protected async make(): Promise<void> {
    if (await this.renders.mix(this.render().id, this.mix())) this.made.emit();
  }
}
