import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import type { Cdl } from '@arvex/core';
import { CDL_DEFAULTS } from '@arvex/core';
import { AmountRow, Card } from '../../../ui';
import { CameraBench } from '../../cameras';
import { LookFiles } from '../look-files';
import { Looks } from '../looks';

type Triple = readonly [number, number, number];
type Sop = 'slope' | 'offset' | 'power';

const PARTS = [
  { key: 'slope', name: 'Slope', rest: 1, min: 0, max: 2, typedMin: 0, typedMax: 100, decimals: 3 },
  { key: 'offset', name: 'Offset', rest: 0, min: -0.2, max: 0.2, typedMin: -10, typedMax: 10, decimals: 4 },
  { key: 'power', name: 'Power', rest: 1, min: 0.2, max: 2, typedMin: 0.01, typedMax: 10, decimals: 3 },
] as const;
const COLOURS = ['red', 'green', 'blue'] as const;

/** Slope, offset and power of a look, for all colours together and for each (ASC CDL). */
@Component({
  selector: 'arvex-decision-card',
  imports: [AmountRow, Card],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Slope, offset, power" [summary]="summary()" card="decision">
      @if (bench.camera()) {
        @for (part of parts; track part.key) {
          <p class="quiet">{{ part.name }}</p>
          @for (colour of colours; track colour; let i = $index) {
            <arvex-amount-row
              [label]="part.name + ', ' + colour"
              [rest]="part.rest"
              [min]="part.min"
              [max]="part.max"
              [typedMin]="part.typedMin"
              [typedMax]="part.typedMax"
              [decimals]="part.decimals"
              [value]="cdl()[part.key][i] ?? part.rest"
              (slid)="looks.preview({ cdl: with(part.key, i, $event) })"
              (valueSet)="looks.set(part.name, { cdl: with(part.key, i, $event) })"
            />
          }
        }
        <div class="foot">
          <button
            type="button"
            class="pill"
            (click)="files.copyValues('The colour decision', { cdl: looks.kept().cdl })"
          >
            Copy
          </button>
          <button type="button" class="pill" (click)="files.paste()">Paste</button>
          <button type="button" class="pill" (click)="looks.set('Colour decision as it is', { cdl: rest() })">
            As it is
          </button>
        </div>
      }
    </arvex-card>
  `,
  styleUrl: './looks.scss',
})
export class DecisionCard {
  protected readonly bench = new CameraBench();
  protected readonly looks = inject(Looks);
  protected readonly files = inject(LookFiles);
  protected readonly parts = PARTS;
  protected readonly colours = COLOURS;
  protected readonly cdl = computed(() => this.looks.settings().cdl);
  protected readonly summary = computed(() => {
    const { slope, offset, power } = this.cdl();
    const said = (name: string, of: Triple, rest: number) =>
      of.every((value) => value === rest) ? [] : [`${name} ${of.map((value) => value.toFixed(2)).join(' ')}`];
    const words = [...said('slope', slope, 1), ...said('offset', offset, 0), ...said('power', power, 1)];
    return words.length > 0 ? words.join(' · ') : 'as it is';
  });
  /** Saturation is the look's: it stays. */
  protected readonly rest = computed<Cdl>(() => ({ ...CDL_DEFAULTS, saturation: this.looks.kept().cdl.saturation }));

  protected with(part: Sop, at: number, value: number): Cdl {
    const { cdl } = this.looks.kept();
    const triple = cdl[part].map((was, i) => (i === at ? value : was)) as unknown as Triple;
    return { ...cdl, [part]: triple };
  }
}
