import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Camera } from '@arvex/core';
import { AngleField, NumberField } from '../../../ui';

type Lens = Camera['lens'];

/** The shape of the iris, which is that of what is out of focus. */
@Component({
  selector: 'arvex-iris-fields',
  imports: [AngleField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Iris</span>
      <arvex-number-field
        label="Blades"
        unit="blades"
        hint="0 is a circle"
        [decimals]="0"
        [min]="0"
        [max]="24"
        [value]="lens().blades"
        (valueSet)="lensSet.emit({ blades: whole($event) })"
      />
      <arvex-number-field
        label="Roundness"
        hint="0 for straight blades, 1 for a circle"
        [min]="0"
        [max]="1"
        [value]="lens().roundness"
        (valueSet)="lensSet.emit({ roundness: $event })"
      />
      <arvex-angle-field
        label="Turn of the iris"
        [decimals]="0"
        [min]="-360"
        [max]="360"
        [value]="lens().irisDeg"
        (valueSet)="lensSet.emit({ irisDeg: $event })"
      />
    </div>
  `,
})
export class IrisFields {
  readonly lens = input.required<Lens>();
  readonly lensSet = output<Partial<Lens>>();
  protected readonly whole = Math.round;
}
