import { ChangeDetectionStrategy, Component, computed } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatTooltip } from '@angular/material/tooltip';
import type { RenderOrder } from '@arvex/core';
import {
  chosenFormats,
  folderOf,
  frameFileName,
  MOVIE_FORMATS,
  movieFileName,
  NAME_WORDS,
  nameProblems,
} from '@arvex/core';
import { OrderEditor } from './order-editor';

type Where = keyof RenderOrder['names'];

const FIELDS: readonly { where: Where; name: string }[] = [
  { where: 'folder', name: 'Folder' },
  { where: 'frames', name: 'Frames' },
  { where: 'movie', name: 'Movie' },
];

/** Names of files and folders by patterns, shown as they will be while they are typed, and where they go. */
@Component({
  selector: 'arvex-names-editor',
  imports: [MatCheckbox, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (field of fields; track field.where) {
      <div class="row">
        <span class="label">{{ field.name }}</span>
        <div class="field num" [class.wrong]="problem(field.where)">
          <input
            #box
            type="text"
            maxlength="200"
            autocomplete="off"
            spellcheck="false"
            [attr.aria-label]="'Pattern of the ' + field.name.toLowerCase()"
            [value]="order().names[field.where]"
            (focus)="at = field.where"
            (input)="type(field.where, box.value)"
          />
        </div>
      </div>
    }
    <div class="words" role="group" aria-label="Words that stand for something">
      @for (word of words; track word.word) {
        <button type="button" class="num" [matTooltip]="word.meaning" (click)="add(word.word)">{{ word.text }}</button>
      }
    </div>
    @if (problems()[0]; as problem) {
      <p class="warning" role="status">{{ problem.message }}</p>
    } @else {
      @for (line of examples(); track line) {
        <p class="num example">{{ line }}</p>
      }
    }
    <mat-checkbox [checked]="order().places.zip" (change)="setPlaces({ zip: $event.checked })">
      as a zip to take away
    </mat-checkbox>
    <mat-checkbox [checked]="order().places.folder" (change)="setPlaces({ folder: $event.checked })">
      into <span class="num">{{ root() }}</span> on this machine
    </mat-checkbox>
  `,
  styles: `
    .words {
      display: flex;
      flex-wrap: wrap;
      gap: 4px;
      margin-bottom: 8px;

      button {
        height: 24px;
        padding: 0 6px;
        border: 1px solid var(--line);
        border-radius: var(--radius);
        font-size: 11px;
        color: var(--chalk-2);
      }
    }
    .example {
      margin: 0 0 3px;
      font-size: 12px;
      color: var(--chalk-2);
      overflow-wrap: anywhere;
    }
    p.warning {
      margin: 0 0 8px;
    }
    mat-checkbox {
      display: block;
    }
  `,
})
export class NamesEditor extends OrderEditor {
  protected readonly fields = FIELDS;
  protected readonly words = Object.entries(NAME_WORDS).map(([word, meaning]) => ({
    word,
    meaning,
    text: `{${word}}`,
  }));
  /** The folder under which all output lies. It is chosen where Arvex is started. */
  protected readonly root = computed(() => this.desk.outputFolder() ?? 'the output folder');
  protected at: Where = 'frames';
  protected readonly problems = computed(() => {
    const project = this.store.project();
    return project ? nameProblems(project, this.order(), this.desk.parts(), this.desk.number()) : [];
  });
  /** A frame and a movie as they will be called. */
  protected readonly examples = computed(() => {
    const [project, order, at] = [this.store.project(), this.order(), this.desk.atPlayhead()];
    if (!project || !at) return [];
    const folder = folderOf(project, order, at.part, this.desk.number());
    const within = (name: string) => (folder === '' ? name : `${folder}/${name}`);
    const { pictures, movies } = order.formats;
    const frame = frameFileName(project, order, at.part, this.desk.number(), at.index);
    const movie = movieFileName(project, order, at.part, this.desk.number());
    return [
      ...chosenFormats(pictures)
        .slice(0, 1)
        .map(({ format }) => within(`${frame}.${format.ending}`)),
      ...movies.map(({ codec }) => within(`${movie}.${MOVIE_FORMATS[codec].ending}`)),
    ];
  });

  protected problem(where: Where): boolean {
    return this.problems().some((one) => one.where === where);
  }

  protected type(where: Where, pattern: string): void {
    this.set({ names: { ...this.order().names, [where]: pattern } });
  }

  protected add(word: string): void {
    this.type(this.at, `${this.order().names[this.at]}{${word}}`);
  }

  protected setPlaces(change: Partial<RenderOrder['places']>): void {
    this.set({ places: { ...this.order().places, ...change } });
  }
}
