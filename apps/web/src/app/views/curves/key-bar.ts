import { ChangeDetectionStrategy, Component, computed, inject, output } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import type { AfterLast, Key } from '@arvex/core';
import { AFTER_LAST, KEY_SHAPES } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { Track } from '../../features/moves';
import { Keys, Moves, Tracks } from '../../features/moves';
import { ActionButton, IconButton, NumberField, PERCENT } from '../../ui';

const SHAPE_NAMES: Readonly<Record<Key['shape'], string>> = {
  smooth: 'smooth, never overshoots',
  linear: 'linear',
  hold: 'hold',
  free: 'free handles',
};
const AFTER_NAMES: Readonly<Record<AfterLast, string>> = {
  stay: 'stays',
  repeat: 'repeats',
  onward: 'goes on from there',
};

/** What can be done with the keys that are chosen: numbers for one, scales for several, shapes, and what a curve does after its last. */
@Component({
  selector: 'arvex-key-bar',
  imports: [ActionButton, IconButton, MatIcon, MatMenuModule, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './key-bar.html',
  styleUrl: './key-bar.scss',
})
export class KeyBar {
  /** All of the move is to be shown. */
  readonly allShown = output();
  protected readonly keys = inject(Keys);
  protected readonly tracks = inject(Tracks);
  private readonly moves = inject(Moves);
  private readonly store = inject(ProjectStore);
  protected readonly shapes = KEY_SHAPES.map((id) => ({ id, name: SHAPE_NAMES[id] }));
  protected readonly afters = AFTER_LAST.map((id) => ({ id, name: AFTER_NAMES[id] }));
  protected readonly percent = PERCENT;
  private readonly first = computed(() => this.store.project()?.head.firstFrame ?? 0);

  protected setTime(track: Track, key: Key, frame: number): void {
    const atFlicks = Math.max(0, Math.round(frame - this.first())) * this.moves.frameFlicks();
    this.keys.setKey(track.channel, key, { ...key, atFlicks });
  }

  protected withValue(key: Key, value: number): Key {
    return { ...key, value };
  }

  protected setAfter(after: AfterLast): void {
    const [only] = this.tracks.shown();
    if (only) this.keys.setAfter(only.channel, after);
  }

  protected frameOf({ atFlicks }: Key): number {
    return this.first() + atFlicks / this.moves.frameFlicks();
  }
}
