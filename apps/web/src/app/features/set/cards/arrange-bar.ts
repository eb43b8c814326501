import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { AlignSide, Vector } from '@arvex/core';
import { alignPlacements, withAxis } from '@arvex/core';
import { Selection } from '../../../session';
import { IconButton, LengthField, NumberField } from '../../../ui';
import { SetPieces } from '../pieces';

const AXES = [
  {
    axis: 0,
    name: 'east',
    low: 'align_horizontal_left',
    middle: 'align_horizontal_center',
    high: 'align_horizontal_right',
  },
  { axis: 2, name: 'south', low: 'align_vertical_top', middle: 'align_vertical_center', high: 'align_vertical_bottom' },
] as const;

/** What can be done with everything that is chosen. */
@Component({
  selector: 'arvex-arrange-bar',
  imports: [IconButton, LengthField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="buttons">
      <button arvexIconButton="center_focus_strong" action="view-chosen" label="Free view to it"></button>
      <button arvexIconButton="vertical_align_bottom" action="drop-to-ground"></button>
      <button arvexIconButton="content_copy" action="duplicate" label="Duplicate"></button>
      <button arvexIconButton="linear_scale" label="Copies along a line" (click)="arraying.set(!arraying())"></button>
      @if (group(); as one) {
        <button arvexIconButton="folder_off" label="Ungroup" (click)="pieces.ungroup(one.id)"></button>
      } @else {
        <button arvexIconButton="create_new_folder" action="group" label="Group"></button>
      }
      <button arvexIconButton="link" label="Attach to …" (click)="pieces.attaching.set(true)"></button>
      <button arvexIconButton="delete" action="take-out" label="Take out of the set"></button>
    </div>
    @if (several()) {
      <div class="row">
        <span class="label">Align</span>
        @for (one of axes; track one.axis) {
          @for (side of sides; track side) {
            <button
              [arvexIconButton]="one[side]"
              [label]="'Align ' + side + ' along ' + one.name"
              [hint]="'Align their ' + sideWords[side] + ' along ' + one.name"
              (click)="align(one.axis, side)"
            ></button>
          }
        }
        <button arvexIconButton="vertical_align_bottom" label="Align their feet" (click)="align(1, 'low')"></button>
      </div>
    }
    @if (arraying()) {
      <div class="row">
        <span class="label">Copies</span>
        <arvex-number-field
          label="Number of copies"
          [decimals]="0"
          [min]="1"
          [max]="2000"
          [value]="count()"
          (valueSet)="count.set(whole($event))"
        />
        <button type="button" class="pill filled" (click)="array()">Make {{ count() }}</button>
      </div>
      <div class="row">
        <span class="label">Each further</span>
        @for (axis of stepAxes; track axis.index) {
          <arvex-length-field
            [label]="'Step ' + axis.name"
            [hint]="axis.name"
            [value]="step()[axis.index] ?? 0"
            (valueSet)="setStep(axis.index, $event)"
          />
        }
      </div>
    }
  `,
  styles: `
    :host {
      display: block;
      padding: 6px 12px 0;
      border-bottom: 1px solid var(--line-soft);
    }
    .buttons {
      display: flex;
      gap: 2px;
      margin: 0 -4px 6px;
    }
    .row {
      gap: 4px;
    }
  `,
})
export class ArrangeBar {
  private readonly selection = inject(Selection);
  protected readonly pieces = inject(SetPieces);
  protected readonly axes = AXES;
  protected readonly sides: readonly AlignSide[] = ['low', 'middle', 'high'];
  protected readonly sideWords = { low: 'near sides', middle: 'middles', high: 'far sides' } as const;
  protected readonly stepAxes = ['east', 'up', 'south'].map((name, index) => ({ name, index }));
  protected readonly arraying = signal(false);
  protected readonly count = signal(5);
  protected readonly step = signal<Vector>([2, 0, 0]);
  protected readonly several = computed(() => this.selection.ids().length > 1);
  protected readonly whole = Math.round;

  /** The group that alone is chosen. */
  protected readonly group = computed(() => {
    const last = this.selection.last();
    return last?.piece.kind === 'group' && !this.several() ? last : undefined;
  });

  protected align(axis: 0 | 1 | 2, side: AlignSide): void {
    const ids = this.selection.placements().flatMap((one) => (one.locked ? [] : [one.id]));
    this.pieces.edit((project) => alignPlacements(project, ids, axis, side, this.pieces.atFlicks));
  }

  protected setStep(axis: number, value: number): void {
    this.step.update((step) => withAxis(step, axis, value));
  }

  protected array(): void {
    this.pieces.array(this.count(), this.step());
    this.arraying.set(false);
  }
}
