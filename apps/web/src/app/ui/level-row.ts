import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import { MatTooltip } from '@angular/material/tooltip';
import type { GroupLevel } from '@arvex/core';
import { IconButton } from './icon-button';
import { NumberField } from './number-field';

/** Ends of the slider, stops: from dark to a few over, with nought in the middle. */
const DARKEST = -10;
const BRIGHTEST = 4;

/** The level of one light group: on or off, stops over or under, tint. */
@Component({
  selector: 'arvex-level-row',
  imports: [IconButton, MatSliderModule, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      [arvexIconButton]="level().on ? 'lightbulb' : 'light_off'"
      [attr.aria-pressed]="level().on"
      [label]="name() + (level().on ? ' is on' : ' is off')"
      (click)="set({ on: !level().on })"
    ></button>
    @if (solo() !== undefined) {
      <button
        type="button"
        class="name solo"
        [attr.aria-pressed]="solo()"
        [attr.aria-label]="'Only ' + name()"
        [matTooltip]="solo() ? 'Press for all light again' : 'Press to see its light alone'"
        (click)="soloSet.emit(!solo())"
      >
        {{ name() }}
      </button>
    } @else {
      <span class="name">{{ name() }}</span>
    }
    <mat-slider
      [min]="-1"
      [max]="1"
      [step]="0.01"
      [disabled]="!level().on"
      matTooltip="Stops over and under; a double click sets it to nought"
      (dblclick)="set({ stops: 0 })"
    >
      <input
        #stops
        matSliderThumb
        [attr.aria-label]="'Stops of ' + name()"
        [attr.aria-valuetext]="level().stops.toFixed(1) + ' stops'"
        [value]="slid()"
        (input)="slide({ stops: stopsAt(stops.valueAsNumber) })"
        (change)="set({ stops: stopsAt(stops.valueAsNumber) })"
      />
    </mat-slider>
    <arvex-number-field
      [label]="'Stops of ' + name() + ', typed'"
      unit="st"
      [decimals]="1"
      [min]="-20"
      [max]="20"
      [value]="level().stops"
      [disabled]="!level().on"
      (valueSet)="set({ stops: $event })"
    />
    <input
      #colour
      type="color"
      [attr.aria-label]="'Tint of ' + name()"
      [value]="level().tint"
      (input)="slide({ tint: colour.value })"
      (change)="set({ tint: colour.value })"
    />
  `,
  styles: `
    :host {
      display: flex;
      align-items: center;
      gap: 5px;
      flex: 1;
      min-width: 0;
    }
    .icon-button[aria-pressed='true'] {
      background: none;
    }
    .name {
      flex: 1;
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
    .solo {
      height: 26px;
      padding: 0 4px;
      border-radius: var(--radius);
      text-align: left;
    }
    .solo[aria-pressed='true'] {
      background: var(--iris-wash);
      color: var(--iris);
    }
    mat-slider {
      flex: none;
      width: 84px;
      min-width: 0;
      /* The slider's own height is that of its halo. */
      margin: -9px 4px;
    }
    arvex-number-field {
      flex: none;
      width: 66px;
    }
    input[type='color'] {
      flex: none;
      width: 24px;
      height: 26px;
      padding: 0;
      border: 1px solid var(--line);
      border-radius: var(--radius);
      background: none;
    }
  `,
})
export class LevelRow {
  readonly name = input.required<string>();
  readonly level = input.required<GroupLevel>();
  /** Whether its light is seen alone; not offered without. */
  readonly solo = input<boolean>();
  /** Each step while it is dragged, and what it comes to. */
  readonly levelSlid = output<GroupLevel>();
  readonly levelSet = output<GroupLevel>();
  readonly soloSet = output<boolean>();
  /** Where the knob stands, from −1 to 1: each half of the slider has a scale of its own. */
  protected readonly slid = computed(() => {
    const { stops } = this.level();
    return Math.max(-1, Math.min(1, stops < 0 ? stops / -DARKEST : stops / BRIGHTEST));
  });

  /** Stops at a place of the slider, in tenths. */
  protected stopsAt(slid: number): number {
    return Math.round((slid < 0 ? slid * -DARKEST : slid * BRIGHTEST) * 10) / 10;
  }

  protected slide(parts: Partial<GroupLevel>): void {
    this.levelSlid.emit({ ...this.level(), ...parts });
  }

  protected set(parts: Partial<GroupLevel>): void {
    this.levelSet.emit({ ...this.level(), ...parts });
  }
}
