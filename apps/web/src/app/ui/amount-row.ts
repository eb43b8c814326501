import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import { MatTooltip } from '@angular/material/tooltip';
import type { UnitSizes } from '@arvex/core';
import { NumberField } from './number-field';

/** Steps that a slider is divided into: between them lies less than one sees. */
const STEPS = 400;

/**
 * An amount as a slider that one can also type into. While it is dragged `slid` says every step of it, and `valueSet` what it comes to.
 * A double click brings it back to what it is by itself.
 */
@Component({
  selector: 'arvex-amount-row',
  imports: [MatSliderModule, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="label" [class.changed]="value() !== rest()">{{ label() }}</span>
    <mat-slider
      [min]="0"
      [max]="steps"
      [step]="1"
      [matTooltip]="hint() || 'A double click brings it back'"
      (dblclick)="valueSet.emit(rest())"
    >
      <input
        #thumb
        matSliderThumb
        [attr.aria-label]="label()"
        [attr.aria-valuetext]="text()"
        [value]="at()"
        (input)="slid.emit(valueAt(thumb.valueAsNumber))"
        (change)="valueSet.emit(valueAt(thumb.valueAsNumber))"
      />
    </mat-slider>
    <arvex-number-field
      [label]="label() + ', typed'"
      [unit]="unit()"
      [units]="units()"
      [decimals]="decimals()"
      [min]="typedMin() ?? min()"
      [max]="typedMax() ?? max()"
      [value]="value()"
      (valueSet)="valueSet.emit($event)"
    />
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 6px;
      min-height: 30px;
      margin-bottom: 3px;
    }
    .label {
      flex: none;
      width: 84px;
      color: var(--chalk-2);
    }
    .label.changed {
      color: var(--chalk);
    }
    mat-slider {
      flex: 1;
      min-width: 60px;
      /* The slider's own height is that of its halo. */
      margin: -9px 6px;
    }
    arvex-number-field {
      flex: none;
      width: 78px;
    }
  `,
})
export class AmountRow {
  readonly label = input.required<string>();
  readonly value = input.required<number>();
  /** What it is by itself. */
  readonly rest = input(0);
  /** Ends of the slider. */
  readonly min = input(0);
  readonly max = input(1);
  /** Ends of what may be typed, where that goes beyond the slider. */
  readonly typedMin = input<number>();
  readonly typedMax = input<number>();
  readonly unit = input('');
  readonly units = input<UnitSizes>({});
  readonly decimals = input(2);
  readonly hint = input('');
  /** Whether the slider is logarithmic: equal steps are equal ratios, and its lower end is 0. Linear when left out. */
  readonly ratios = input(false);
  readonly slid = output<number>();
  readonly valueSet = output<number>();

  protected readonly steps = STEPS;
  protected readonly at = computed(() => {
    const [value, min, max] = [this.value(), this.min(), this.max()];
    const share = this.ratios() ? Math.log(value / min) / Math.log(max / min) : (value - min) / (max - min);
    return Math.round(Math.max(0, Math.min(1, share)) * STEPS);
  });
  protected readonly text = computed(() => {
    const size = this.units()[this.unit()] ?? 1;
    return `${(this.value() / size).toFixed(this.decimals())} ${this.unit()}`.trim();
  });

  /** A value at a place of the slider, rounded to what is shown of it. */
  protected valueAt(step: number): number {
    const [share, min, max] = [step / STEPS, this.min(), this.max()];
    const value = this.ratios() ? min * (max / min) ** share : min + (max - min) * share;
    const size = this.units()[this.unit()] ?? 1;
    return Number((value / size).toFixed(this.decimals())) * size;
  }
}
