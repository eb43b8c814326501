import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Handheld } from '@arvex/core';
import { HANDHELD_DEFAULTS, HANDHELD_PRESETS, handName, withAxis } from '@arvex/core';
import { Card, ChoiceField, DurationField, NumberField, PERCENT, Switch } from '../../../ui';
import { CameraBench } from '../../cameras';
import { Moves } from '../moves';

type Amounts = 'moveMm' | 'moveHz' | 'turnDeg' | 'turnHz';
const ROWS: readonly { key: Amounts; name: string; unit: string; max: number; axes: readonly string[] }[] = [
  { key: 'moveMm', name: 'Strays', unit: 'mm', max: 1000, axes: ['right', 'up', 'back'] },
  { key: 'moveHz', name: 'as often as', unit: 'Hz', max: 20, axes: ['right', 'up', 'back'] },
  { key: 'turnDeg', name: 'Turns', unit: '°', max: 45, axes: ['pan', 'tilt', 'roll'] },
  { key: 'turnHz', name: 'as often as', unit: 'Hz', max: 20, axes: ['pan', 'tilt', 'roll'] },
];

/** A hand that holds the camera, over any rig. */
@Component({
  selector: 'arvex-hand-card',
  imports: [DurationField, Switch, Card, ChoiceField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Handheld" [summary]="summary()" card="hand">
      <div class="row">
        <arvex-switch
          label="Handheld"
          [choices]="[
            { id: 'steady', name: 'steady' },
            { id: 'in-the-hand', name: 'in the hand' },
          ]"
          [value]="hand().on ? 'in-the-hand' : 'steady'"
          (chosen)="$event === 'steady' ? set('Handheld off', { on: false }) : set('Handheld', { on: true })"
        />
      </div>
      @if (hand().on) {
        <div class="row">
          <span class="label">Hand, amount</span>
          <arvex-choice-field
            label="Usual hand"
            [otherwise]="name()"
            [choices]="presets"
            [value]="name()"
            (chosen)="use($event)"
          />
          <arvex-number-field
            label="Amount"
            unit="%"
            [units]="percent"
            [decimals]="0"
            [min]="0"
            [max]="10"
            [value]="hand().amount"
            (valueSet)="amount($event)"
          />
        </div>
        @for (row of rows; track row.key) {
          <div class="row three">
            <span class="label">{{ row.name }}</span>
            @for (axis of row.axes; track axis; let i = $index) {
              <arvex-number-field
                [label]="row.name + ' ' + axis + ', ' + row.unit"
                [prefix]="axis"
                [hint]="axis"
                [unit]="row.unit"
                [min]="0"
                [max]="row.max"
                [value]="hand()[row.key][i] ?? 0"
                (valueSet)="setAxis(row.key, i, $event)"
              />
            }
          </div>
        }
        <div class="row">
          <span class="label">Fades in, out</span>
          <arvex-duration-field
            label="Fades in"
            [min]="0"
            [max]="60"
            [value]="hand().fadeInS"
            (valueSet)="set('Fade of the hand', { fadeInS: $event })"
          />
          <arvex-duration-field
            label="Fades out"
            [min]="0"
            [max]="60"
            [value]="hand().fadeOutS"
            (valueSet)="set('Fade of the hand', { fadeOutS: $event })"
          />
          <arvex-number-field
            label="Seed"
            hint="Another number is another take of the same hand"
            [decimals]="0"
            [min]="0"
            [max]="4294967295"
            [value]="hand().seed"
            (valueSet)="set('Seed of the hand', { seed: round($event) })"
          />
        </div>
        <div class="row">
          <button type="button" class="pill" (click)="end('fromFlicks')">{{ from() }}</button>
          <button type="button" class="pill" (click)="end('toFlicks')">{{ to() }}</button>
        </div>
      }
    </arvex-card>
  `,
})
export class HandCard {
  protected readonly bench = new CameraBench();
  private readonly moves = inject(Moves);
  protected readonly rows = ROWS;
  protected readonly round = Math.round;
  protected readonly percent = PERCENT;
  protected readonly presets = HANDHELD_PRESETS.map(({ name }) => ({ id: name, name }));
  protected readonly hand = computed<Handheld>(() => this.bench.camera()?.handheld ?? HANDHELD_DEFAULTS);
  protected readonly name = computed(() => handName(this.hand()));
  protected readonly summary = computed(() =>
    this.hand().on ? `${this.name()}, ${Math.round(this.hand().amount * 100)} %` : 'steady',
  );
  protected readonly from = computed(() => this.endText(this.hand().fromFlicks, 'Begins', 'from the first frame'));
  protected readonly to = computed(() => this.endText(this.hand().toFlicks, 'Ends', 'with the last frame'));

  protected set(what: string, parts: Partial<Handheld>): void {
    this.bench.set(what, { handheld: { ...this.hand(), ...parts } });
  }

  protected amount(value: number): void {
    const camera = this.bench.camera();
    if (camera) this.bench.setting.setNumbers(camera.id, 'Amount of the hand', { handheld: value });
  }

  protected use(name: string): void {
    const preset = HANDHELD_PRESETS.find((one) => one.name === name);
    if (preset) this.set(`Hand: ${name}`, { ...preset.hand });
  }

  protected setAxis(key: Amounts, axis: number, value: number): void {
    this.set('Hand', { [key]: withAxis(this.hand()[key], axis, value) });
  }

  /** Sets an end at the playhead, or takes it away where it is there already. */
  protected end(which: 'fromFlicks' | 'toFlicks'): void {
    const at = this.moves.atFlicks();
    this.set('Stretch of the hand', { [which]: this.hand()[which] === null ? at : null });
  }

  private endText(flicks: number | null, verb: string, always: string): string {
    const first = this.bench.store.project()?.head.firstFrame ?? 0;
    if (flicks === null) return `${verb} ${always}: set it here`;
    return `${verb} at ${first + Math.round(flicks / this.moves.frameFlicks())}: take that away`;
  }
}
