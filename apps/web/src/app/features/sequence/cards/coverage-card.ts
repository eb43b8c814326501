import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { coverageOf, isMeant, setSequence } from '@arvex/core';
import { Checks } from '../../../readiness';
import { Card, NumberField } from '../../../ui';
import { ShotBench } from '../shot-bench';
import { FoundList } from './found-list';

/** Whether the cut is covered: what is missing, each with its mend; and what every shot has beyond its ends. */
@Component({
  selector: 'arvex-coverage-card',
  imports: [Card, FoundList, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Coverage" [summary]="summary()" card="coverage">
      @if (all().length > 0) {
        <arvex-found-list [found]="all()" (taken)="checks.mend($event)" />
      } @else {
        <p class="quiet">Every frame is covered, and none is shown twice.</p>
      }
      <div class="row">
        <span class="label">All handles</span>
        <arvex-number-field
          label="Frames before each shot at output"
          prefix="in"
          unit="f"
          [units]="bench.units.frames()"
          [decimals]="0"
          [min]="0"
          [max]="10000"
          [value]="handles().in"
          (valueSet)="setHandles({ handleInFlicks: bench.flicks($event) })"
        />
        <arvex-number-field
          label="Frames after each shot at output"
          prefix="out"
          unit="f"
          [units]="bench.units.frames()"
          [decimals]="0"
          [min]="0"
          [max]="10000"
          [value]="handles().out"
          (valueSet)="setHandles({ handleOutFlicks: bench.flicks($event) })"
        />
      </div>
    </arvex-card>
  `,
})
export class CoverageCard {
  protected readonly bench = new ShotBench();
  protected readonly checks = inject(Checks);
  /** Of the open sequence, with what is meant. */
  protected readonly all = computed(() => {
    const project = this.bench.project();
    return project ? coverageOf(project, this.bench.open.id()) : [];
  });
  protected readonly handles = computed(() => {
    const sequence = this.bench.open.sequence();
    return {
      in: this.bench.frames(sequence?.handleInFlicks ?? 0),
      out: this.bench.frames(sequence?.handleOutFlicks ?? 0),
    };
  });
  protected readonly summary = computed(() => {
    const { frameCount, shots } = this.bench.open.cut();
    const project = this.bench.project();
    const count = this.all().filter((one) => project && !isMeant(project, one)).length;
    const whole = `${shots.length} ${shots.length === 1 ? 'shot' : 'shots'} · ${frameCount} f · ${this.bench.seconds(frameCount)}`;
    return count === 0 ? whole : `${count} to mend · ${frameCount} f`;
  });

  protected setHandles(parts: { handleInFlicks?: number; handleOutFlicks?: number }): void {
    this.bench.edits.run((project, id) => setSequence(project, id, 'Handles', parts));
  }
}
