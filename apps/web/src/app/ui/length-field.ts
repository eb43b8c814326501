import { ChangeDetectionStrategy, Component, inject, input, output } from '@angular/core';
import { WORLD_EXTENT_M } from '@arvex/core';
import { Units } from '../session';
import { NumberField } from './number-field';

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
  styles: `
    :host {
      display: flex;
      flex: 1;
      min-width: 0;
    }
  `,
})
export class LengthField {
  protected readonly units = inject(Units);
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly prefix = input('');
  readonly hint = input('');
  readonly min = input(-WORLD_EXTENT_M);
  readonly max = input(WORLD_EXTENT_M);
  readonly disabled = input(false);
  readonly valueSet = output<number>();
}
