import { ChangeDetectionStrategy, Component, input } from '@angular/core';
import { ANGLE_IN_DEGREES } from '@arvex/core';
import { NumberField } from './number-field';
import { UnitField } from './unit-field';

/** An angle in degrees that takes radians too, and arithmetic. */
@Component({
  selector: 'arvex-angle-field',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-number-field
      unit="°"
      [units]="units"
      [label]="label()"
      [prefix]="prefix()"
      [hint]="hint()"
      [decimals]="decimals()"
      [min]="min()"
      [max]="max()"
      [value]="value()"
      [disabled]="disabled()"
      (valueSet)="valueSet.emit($event)"
    />
  `,
  styleUrl: './unit-field.scss',
})
export class AngleField extends UnitField {
  protected readonly units = ANGLE_IN_DEGREES;
  readonly decimals = input(1);
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
}
