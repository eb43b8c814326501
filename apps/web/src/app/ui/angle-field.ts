import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { ANGLE_IN_DEGREES } from '@arvex/core';
import { NumberField } from './number-field';

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
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
  `,
})
export class AngleField {
  protected readonly units = ANGLE_IN_DEGREES;
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly prefix = input('');
  readonly hint = input('');
  readonly decimals = input(1);
  readonly min = input(-Infinity);
  readonly max = input(Infinity);
  readonly disabled = input(false);
  /** A new angle, degrees. */
  readonly valueSet = output<number>();
}
