import { ChangeDetectionStrategy, Component, input, model } from '@angular/core';
import { MatIcon } from '@angular/material/icon';

/** Words that something is found by. Escape empties it, then leaves it; other keys go on to whoever holds it. */
@Component({
  selector: 'arvex-search-field',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="field">
      <mat-icon>search</mat-icon>
      <input
        #box
        type="search"
        [placeholder]="placeholder()"
        [attr.aria-label]="label() ?? placeholder()"
        [value]="words()"
        (input)="words.set(box.value)"
        (keydown.escape)="leave($event, box)"
      />
    </label>
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
    mat-icon {
      flex: none;
      width: 18px;
      height: 18px;
      font-size: 18px;
      color: var(--chalk-3);
    }
  `,
})
export class SearchField {
  readonly placeholder = input.required<string>();
  /** What it is called where its placeholder does not say enough. */
  readonly label = input<string>();
  readonly words = model.required<string>();

  protected leave(event: Event, box: HTMLInputElement): void {
    if (this.words() === '') box.blur();
    else {
      // A dialog would close at the same key.
      event.stopPropagation();
      event.preventDefault();
      this.words.set('');
    }
  }
}
