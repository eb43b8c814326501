import { Directive, input, output } from '@angular/core';

/** What every field of a number in some unit takes and gives; the value is in its base unit. */
@Directive()
export abstract class UnitField {
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  readonly prefix = input('');
  readonly hint = input('');
  readonly disabled = input(false);
  readonly valueSet = output<number>();
}
