import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import type { GroupLevel } from '@arvex/core';
import { IconButton } from './icon-button';
import { NumberField } from './number-field';

const SLIDER_STOPS = 6;

/** The level of one light group: on or off, stops over or under, tint. */
@Component({
  selector: 'arvex-level-row',
  imports: [IconButton, MatSliderModule, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      [arvexIconButton]="level().on ? 'lightbulb' : 'light_off'"
      [attr.aria-pressed]="level().on"
      [label]="name() + (level().on ? ' is on' : ' is off')"
      (click)="set({ on: !level().on })"
    ></button>
    <span class="name">{{ name() }}</span>
    <mat-slider [min]="-stops" [max]="stops" [step]="0.1" [disabled]="!level().on">
      <input
        #stops
        matSliderThumb
        [attr.aria-label]="'Stops of ' + name()"
        [value]="slid()"
        (change)="set({ stops: stops.valueAsNumber })"
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
    mat-slider {
      flex: none;
      width: 84px;
      min-width: 0;
      margin: 0 4px;
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
  readonly levelSet = output<GroupLevel>();
  protected readonly stops = SLIDER_STOPS;
  protected readonly slid = computed(() => Math.max(-SLIDER_STOPS, Math.min(SLIDER_STOPS, this.level().stops)));

  protected set(parts: Partial<GroupLevel>): void {
    this.levelSet.emit({ ...this.level(), ...parts });
  }
}
