import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import type { GoesAlong, RateKeeps } from '@arvex/core';
import { changeRate, rateEffects, rateExposures, rateLabel, RATES } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { ChoiceField, Switch } from '../../../ui';
import { Moves } from '../moves';

/** Another frame rate for the project, and what it does to each shot. */
@Component({
  selector: 'arvex-rate-change',
  imports: [ChoiceField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './rate-change.html',
  styles: `
    table {
      width: 100%;
      margin: 6px 0;
      border-collapse: collapse;
      font-size: 11.5px;
    }
    th {
      font-weight: 400;
      text-align: left;
      color: var(--chalk-2);
    }
    td,
    th {
      padding: 2px 4px 2px 0;
    }
  `,
})
export class RateChange {
  /** What keeps its frames when frames are kept. */
  protected readonly along = signal<GoesAlong>('both');
  protected readonly goesAlong = [
    { id: 'both', name: 'all', hint: 'Cameras and everything that moves in the set' },
    { id: 'camera', name: 'cameras', hint: 'Moves of cameras; subjects keep their seconds' },
    { id: 'subjects', name: 'subjects', hint: 'Who moves in the set; cameras keep their seconds' },
  ] as const;
  private readonly store = inject(ProjectStore);
  private readonly moves = inject(Moves);
  protected readonly keep = signal<RateKeeps>('seconds');
  protected readonly rateId = signal<string | undefined>(undefined);
  protected readonly rates = RATES.map((rate) => ({ id: rateLabel(rate), name: `${rateLabel(rate)} a second`, rate }));

  /** What another rate does to the shots, by both ways of keeping. */
  protected readonly effects = computed(() => {
    const project = this.store.project();
    const rate = this.rates.find(({ id }) => id === this.rateId())?.rate;
    if (!project || !rate) return undefined;
    const [bySeconds, byFrames] = [rateEffects(project, rate, 'seconds'), rateEffects(project, rate, 'frames')];
    return bySeconds.map((seconds, i) => ({
      name: seconds.what,
      before: seconds,
      seconds,
      frames: byFrames[i] ?? seconds,
    }));
  });

  /** What another rate does to how cameras are exposed, in words. */
  protected readonly exposures = computed(() => {
    const project = this.store.project();
    const rate = this.rates.find(({ id }) => id === this.rateId())?.rate;
    if (!project || !rate) return [];
    return rateExposures(project, rate).map(({ of, held, stops }) => {
      const amount = (n: number) => `${n > 0 ? '+' : '−'}${Math.abs(n).toFixed(2)} stops`;
      if (!held)
        return `${of}: ${Math.abs(stops).toFixed(2)} stops ${stops < 0 ? 'darker' : 'brighter'}, as EV is not held.`;
      const parts = held.absorbed.map(
        (one) => `${{ nd: 'ND', iso: 'ISO', shutter: 'shutter', stop: 'f-stop' }[one.part]} takes ${amount(one.stops)}`,
      );
      return `${of}: EV is held, ${parts.join(', ')}.`;
    });
  });

  protected changeRate(): void {
    const rate = this.rates.find(({ id }) => id === this.rateId())?.rate;
    if (!rate) return;
    const options = { along: this.along() };
    if (this.moves.edit((project) => changeRate(project, rate, this.keep(), options))) this.rateId.set(undefined);
  }
}
