import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Fade } from '@arvex/core';
import { NumberField, Switch, switchChoices } from '../../../ui';
import { ShotBench } from '../shot-bench';

/** How long a transition is, how it eases, where it lies about its joint, and its colour where it has one. */
@Component({
  selector: 'arvex-fade-fields',
  imports: [NumberField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Frames, ease</span>
      <arvex-number-field
        [label]="'Length of the ' + what()"
        unit="f"
        [units]="bench.units.frames()"
        [decimals]="0"
        [min]="0"
        [max]="10000"
        [value]="bench.frames(fade().durationFlicks)"
        (valueSet)="changed.emit({ durationFlicks: bench.flicks($event) })"
      />
      <arvex-number-field
        [label]="'Ease of the ' + what() + ', 0 even to 1 slow at both ends'"
        [min]="0"
        [max]="1"
        [value]="fade().ease"
        (valueSet)="changed.emit({ ease: $event })"
      />
      @if (fade().colour; as hex) {
        <input
          #colour
          type="color"
          [attr.aria-label]="'Colour of the ' + what()"
          [value]="hex"
          (change)="changed.emit({ colour: colour.value })"
        />
      }
    </div>
    <div class="row">
      <span class="label">About the joint</span>
      <arvex-switch
        [label]="'Where the ' + what() + ' lies'"
        [choices]="places"
        [value]="fade().place"
        (chosen)="changed.emit({ place: $event })"
      />
    </div>
  `,
})
export class FadeFields {
  protected readonly bench = new ShotBench();
  protected readonly places = switchChoices<Fade['place']>(['before', 'centred', 'after']);

  readonly fade = input.required<Omit<Fade, 'colour'> & Partial<Fade>>();
  /** What it is, as its fields are called. */
  readonly what = input.required<string>();
  readonly changed = output<Partial<Fade>>();
}
