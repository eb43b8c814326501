import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import type { RenderOrder } from '@arvex/core';
import { ChoiceField, NumberField } from '../../../ui';
import { OrderEditor } from './order-editor';

const OPENS: readonly { id: RenderOrder['shutter']['opens']; name: string }[] = [
  { id: 'as-set', name: 'as the project has it' },
  { id: 'at-frame', name: 'at the frame’s own time' },
  { id: 'centred', name: 'about the frame’s time' },
];

/** How many samples each pixel has, and whether lens and shutter blur. */
@Component({
  selector: 'arvex-samples-editor',
  imports: [ChoiceField, MatCheckbox, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Samples</span>
      <arvex-number-field
        label="Samples of each pixel"
        [decimals]="0"
        [min]="1"
        [max]="1024"
        [value]="order().samples"
        hint="More make blur, edges and shadows smoother, and take as much longer"
        (valueSet)="set({ samples: whole($event) })"
      />
    </div>
    <mat-checkbox [checked]="order().depthOfField" (change)="set({ depthOfField: $event.checked })">
      depth of field
    </mat-checkbox>
    <mat-checkbox
      [checked]="order().shutter.blur"
      (change)="set({ shutter: { blur: $event.checked, opens: order().shutter.opens } })"
    >
      motion blur
    </mat-checkbox>
    <div class="row">
      <span class="label">Shutter opens</span>
      <arvex-choice-field
        label="When the shutter opens"
        [choices]="opens"
        [value]="order().shutter.opens"
        (chosen)="set({ shutter: { blur: order().shutter.blur, opens: $event } })"
      />
    </div>
  `,
})
export class SamplesEditor extends OrderEditor {
  protected readonly opens = OPENS;
  protected readonly whole = Math.round;
}
