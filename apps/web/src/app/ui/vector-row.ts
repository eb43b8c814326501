import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import type { Vector } from '@arvex/core';
import { LengthField } from './length-field';

/** Which number of a vector was set, and to what. */
interface AxisSet {
  readonly axis: 0 | 1 | 2;
  readonly value: number;
}

/** A place or a way in three lengths, in one row under one name. */
@Component({
  selector: 'arvex-vector-row',
  imports: [LengthField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <span class="label" aria-hidden="true">{{ name() }}</span>
    @for (field of fields(); track field.axis) {
      <arvex-length-field
        [label]="field.label"
        [prefix]="field.prefix"
        [hint]="field.hint"
        [value]="value()[field.axis]"
        [disabled]="disabled()"
        (valueSet)="axisSet.emit({ axis: field.axis, value: $event })"
      />
    }
  `,
  host: { class: 'row three', role: 'group', '[attr.aria-label]': 'name()' },
})
export class VectorRow {
  readonly name = input.required<string>();
  /** What each of the three is called by itself. */
  readonly labels = input.required<readonly [string, string, string]>();
  /** What their tips say; their names where nothing is given. */
  readonly hints = input<readonly [string, string, string]>();
  /** Short names that are seen before the numbers. */
  readonly prefixes = input<readonly [string, string, string]>(['', '', '']);
  /** Metres. */
  readonly value = input.required<Vector>();
  readonly disabled = input(false);
  readonly axisSet = output<AxisSet>();

  protected readonly fields = computed(() =>
    ([0, 1, 2] as const).map((axis) => {
      const label = this.labels()[axis];
      return { axis, label, prefix: this.prefixes()[axis], hint: this.hints()?.[axis] ?? label };
    }),
  );
}
