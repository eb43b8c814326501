import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { Units } from '../session';
import { NumberField } from './number-field';

/** A length of time in seconds that takes frames (`20f`), minutes, times as a clock shows them (`0:05`), and arithmetic. */
@Component({
  selector: 'arvex-duration-field',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-number-field
      unit="s"
      [label]="label()"
      [prefix]="prefix()"
      [hint]="hint() || label() + ': takes 2s, 20f, 0:05'"
      [units]="units.seconds()"
      [min]="min()"
      [max]="max()"
      [value]="value()"
      [disabled]="disabled()"
      (valueSet)="valueSet.emit($event)"
    />
  `,
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
  `,
})
export class DurationField {
  protected readonly units = inject(Units);
  readonly label = input.required<string>();
  /** Seconds. */
  readonly value = input.required<number>();
  readonly prefix = input('');
  readonly hint = input('');
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
  readonly disabled = input(false);
  readonly valueSet = output<number>();
}
