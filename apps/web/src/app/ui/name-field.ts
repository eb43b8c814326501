import { ChangeDetectionStrategy, Component, input, output, signal } from '@angular/core';

/** A name that is kept on Enter or when it is left, and given up with Escape. */
@Component({
  selector: 'arvex-name-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="field" [attr.title]="value()">
      <input
        #box
        type="text"
        maxlength="120"
        autocomplete="off"
        [placeholder]="placeholder()"
        [attr.aria-label]="label()"
        [value]="draft() ?? value()"
        (focus)="begin(box.value)"
        (input)="draft.set(box.value)"
        (blur)="keep()"
        (keydown.enter)="box.blur()"
        (keydown.escape)="draft.set(undefined); box.blur()"
      />
    </label>
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
  `,
})
export class NameField {
  readonly label = input.required<string>();
  readonly value = input.required<string>();
  /** Whether it may be emptied; without it an empty text is given up. */
  readonly optional = input(false);
  /** What is read in it while it is empty. */
  readonly placeholder = input('');
  readonly named = output<string>();

  /**
   * What is typed: from when the field is entered, what changes elsewhere does not move the text under the hands. It begins with
   * what is seen: a name that was just given may not have come back yet.
   */
  protected readonly draft = signal<string | undefined>(undefined);
  private atFocus = '';

  protected begin(seen: string): void {
    this.atFocus = seen;
    this.draft.set(seen);
  }

  protected keep(): void {
    const name = this.draft()?.trim();
    this.draft.set(undefined);
    if (name === undefined || name === this.atFocus || (name === '' && !this.optional())) return;
    this.named.emit(name);
  }
}
