import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** A name that is kept on Enter or when it is left, and given up with Escape. */
@Component({
  selector: 'arvex-name-field',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <label class="field">
      <input
        #box
        type="text"
        maxlength="120"
        autocomplete="off"
        [attr.aria-label]="label()"
        [value]="value()"
        (blur)="keep(box)"
        (keydown.enter)="box.blur()"
        (keydown.escape)="box.value = value(); box.blur()"
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
  readonly named = output<string>();

  protected keep(box: HTMLInputElement): void {
    const name = box.value.trim();
    if (name !== '' && name !== this.value()) this.named.emit(name);
    else box.value = this.value();
  }
}
