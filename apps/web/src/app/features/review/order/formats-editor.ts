import { ChangeDetectionStrategy, Component, computed } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { MovieFormat, RenderOrder } from '@arvex/core';
import { mixRefusal, MOVIE_DEFAULTS } from '@arvex/core';
import { NumberField, Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

type Formats = RenderOrder['formats'];
type Codec = MovieFormat['codec'];

const MOVIES = [
  { codec: 'h264', name: 'MP4 (H.264)' },
  { codec: 'vp9', name: 'WebM (VP9)' },
] as const;

/** Movies and picture sequences that are made. */
@Component({
  selector: 'arvex-formats-editor',
  imports: [MatCheckbox, NumberField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './formats-editor.html',
  styles: `
    .within {
      padding-left: 28px;
    }
    .kinds {
      display: flex;
      align-items: center;
      gap: 10px;
      min-height: 34px;

      mat-checkbox {
        flex: 1 0 auto;
      }
      arvex-switch {
        flex: 0 1 150px;
      }
    }
  `,
})
export class FormatsEditor extends OrderEditor {
  protected readonly movies = MOVIES;
  protected readonly ways = switchChoices(['quality', 'rate'] as const);
  protected readonly bits = switchChoices(['8', '16'] as const, { '8': '8 bit', '16': '16 bit' });
  protected readonly depths = switchChoices(['half', 'float'] as const);
  protected readonly layouts = switchChoices(['apart', 'together'] as const, {
    apart: 'files apart',
    together: 'one file',
  });
  /** Why light that is kept apart could not be mixed anew: said before it is ordered. */
  protected readonly mixRefused = computed(() =>
    this.order().formats.layers.lightGroups ? mixRefusal(this.order()) : undefined,
  );
  protected readonly layers = [
    { key: 'depth', name: 'depth in metres' },
    { key: 'masks', name: 'masks of groups and subjects' },
    { key: 'lightGroups', name: 'each light group alone' },
  ] as const;

  protected movie(codec: Codec): MovieFormat | undefined {
    return this.order().formats.movies.find((one) => one.codec === codec);
  }

  protected turnMovie(codec: Codec): void {
    const { movies } = this.order().formats;
    const left = movies.filter((one) => one.codec !== codec);
    this.setFormats({ movies: left.length < movies.length ? left : [...movies, { ...MOVIE_DEFAULTS, codec }] });
  }

  protected setMovie(codec: Codec, change: Partial<MovieFormat>): void {
    const { movies } = this.order().formats;
    this.setFormats({ movies: movies.map((one) => (one.codec === codec ? { ...one, ...change } : one)) });
  }

  protected setWay(codec: Codec, way: 'quality' | 'rate'): void {
    this.setMovie(codec, {
      by: way === 'quality' ? { kind: 'quality', quality: 65 } : { kind: 'rate', megabits: 12 },
    });
  }

  protected setFormats(change: Partial<Formats>): void {
    this.set({ formats: { ...this.order().formats, ...change } });
  }

  protected turnLayer(key: keyof Formats['layers']): void {
    const { layers } = this.order().formats;
    this.setFormats({ layers: { ...layers, [key]: !layers[key] } });
  }
}
