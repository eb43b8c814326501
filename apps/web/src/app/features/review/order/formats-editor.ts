import { ChangeDetectionStrategy, Component, computed } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { FormatField, MovieFormat, PictureFormat, PictureFormatId, RenderOrder } from '@arvex/core';
import {
  chosenFormats,
  mixRefusal,
  MOVIE_DEFAULTS,
  MOVIE_FORMATS,
  PICTURE_FORMAT_IDS,
  PICTURE_FORMATS,
} from '@arvex/core';
import type { SwitchChoice } from '../../../ui';
import { NumberField, Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

type Formats = RenderOrder['formats'];
type Codec = MovieFormat['codec'];

const MOVIES = Object.entries(MOVIE_FORMATS).map(([codec, { name }]) => ({ codec: codec as Codec, name }));

/** One setting of a chosen format, as it is offered. Choices are of text; what they stand for keeps its type. */
interface Setting {
  readonly key: string;
  readonly label: string;
  readonly field: FormatField;
  readonly choices: readonly SwitchChoice<string>[];
  readonly value: string | number;
}

/** A kind of picture, whether it is chosen, and what can be chosen of it then. */
interface PictureRow {
  readonly id: PictureFormatId;
  readonly name: string;
  readonly chosen: boolean;
  readonly settings: readonly Setting[];
}

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
  protected readonly pictures = computed(() => PICTURE_FORMAT_IDS.map((id) => this.row(id)));
  /** Whether what lies beside the light is made at all. */
  protected readonly isLinear = computed(() => chosenFormats(this.order().formats.pictures, 'linear').length > 0);
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

  private row(id: PictureFormatId): PictureRow {
    const { name, holds, fields }: PictureFormat = PICTURE_FORMATS[id];
    const chosen = this.order().formats.pictures[id] as Readonly<Record<string, string | number>> | null;
    return {
      id,
      name: holds === 'linear' ? `${name}, linear` : name,
      chosen: chosen !== null,
      settings: Object.entries(fields).map(([key, field]) => ({
        key,
        field,
        label: `${field.name} of ${name}`,
        choices: field.kind === 'choice' ? switchChoices(Object.keys(field.choices), field.choices) : [],
        value: chosen?.[key] ?? '',
      })),
    };
  }

  protected turnPicture(id: PictureFormatId): void {
    const { pictures } = this.order().formats;
    this.setFormats({ pictures: { ...pictures, [id]: pictures[id] === null ? PICTURE_FORMATS[id].first : null } });
  }

  /** Sets one setting of a format. A choice comes as text, and is put as what it was: a number where it was one. */
  protected setPicture(id: PictureFormatId, { key, value: before }: Setting, value: string | number): void {
    const { pictures } = this.order().formats;
    const typed = typeof before === 'number' ? Number(value) : value;
    this.setFormats({ pictures: { ...pictures, [id]: { ...pictures[id], [key]: typed } } });
  }

  protected setFormats(change: Partial<Formats>): void {
    this.set({ formats: { ...this.order().formats, ...change } });
  }

  protected turnLayer(key: keyof Formats['layers']): void {
    const { layers } = this.order().formats;
    this.setFormats({ layers: { ...layers, [key]: !layers[key] } });
  }
}
