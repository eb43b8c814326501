import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import { WORLD_EXTENT_M } from '@arvex/core';
import { Units } from '../session';
import { NumberField } from './number-field';
import { UnitField } from './unit-field';

/** A length in the project's unit that takes any other, and arithmetic. Values are in metres. */
@Component({
  selector: 'arvex-length-field',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-number-field
      [label]="label()"
      [prefix]="prefix()"
      [hint]="hint()"
      [unit]="units.length()"
      [units]="units.metres"
      [min]="min()"
      [max]="max()"
      [value]="value()"
      [disabled]="disabled()"
      (valueSet)="valueSet.emit($event)"
    />
  `,
  styleUrl: './unit-field.scss',
})
export class LengthField extends UnitField {
  protected readonly units = inject(Units);
  readonly min = input(-WORLD_EXTENT_M);
  readonly max = input(WORLD_EXTENT_M);
}
