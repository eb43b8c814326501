import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { AlignSide, Vector } from '@arvex/core';
import { alignPlacements, withAxis } from '@arvex/core';
import { Selection } from '../../../session';
import { IconButton, LengthField, NumberField } from '../../../ui';
import { FrameSelection } from '../frame-selection';
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
      @for (button of buttons(); track button.name) {
        <button
          [arvexIconButton]="button.icon"
          [label]="button.name"
          [hint]="button.name + (button.keys ? ' (' + button.keys + ')' : '')"
          (click)="button.run()"
        ></button>
      }
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
  private readonly pieces = inject(SetPieces);
  private readonly frame = inject(FrameSelection);
  protected readonly axes = AXES;
  protected readonly sides: readonly AlignSide[] = ['low', 'middle', 'high'];
  protected readonly sideWords = { low: 'near sides', middle: 'middles', high: 'far sides' } as const;
  protected readonly stepAxes = ['east', 'up', 'south'].map((name, index) => ({ name, index }));
  protected readonly arraying = signal(false);
  protected readonly count = signal(5);
  protected readonly step = signal<Vector>([2, 0, 0]);
  protected readonly several = computed(() => this.selection.ids().length > 1);
  protected readonly whole = Math.round;

  protected readonly buttons = computed(() => {
    const last = this.selection.last();
    const group = last?.piece.kind === 'group' && !this.several() ? last : undefined;
    return [
      { name: 'Free view to it', icon: 'center_focus_strong', keys: 'T', run: () => this.frame.toSelection() },
      { name: 'Drop to ground', icon: 'vertical_align_bottom', keys: 'G', run: () => void this.pieces.dropToGround() },
      { name: 'Duplicate', icon: 'content_copy', keys: 'Ctrl D', run: () => this.pieces.duplicate() },
      { name: 'Copies along a line', icon: 'more_horiz', keys: '', run: () => this.arraying.update((on) => !on) },
      group
        ? { name: 'Ungroup', icon: 'folder_off', keys: '', run: () => this.pieces.ungroup(group.id) }
        : { name: 'Group', icon: 'create_new_folder', keys: 'Ctrl G', run: () => this.pieces.group() },
      { name: 'Attach to …', icon: 'link', keys: '', run: () => this.pieces.attaching.set(true) },
      { name: 'Take out of the set', icon: 'delete', keys: 'Delete', run: () => this.pieces.delete() },
    ];
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
