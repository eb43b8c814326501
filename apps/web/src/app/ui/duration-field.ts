import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { Units } from '../session';
import { NumberField } from './number-field';
import { UnitField } from './unit-field';

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
  styleUrl: './unit-field.scss',
})
export class DurationField extends UnitField {
  protected readonly units = inject(Units);
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
}
