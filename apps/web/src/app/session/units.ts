import { computed, inject, Injectable } from '@angular/core';
import type { UnitSizes } from '@arvex/core';
import { LENGTH_IN_METRES, lengthText, timeInFrames, timeInSeconds } from '@arvex/core';
import { ProjectStore } from '../data';

/** The unit in which the project shows lengths, and what units fields take. */
@Injectable({ providedIn: 'root' })
export class Units {
  private readonly store = inject(ProjectStore);
  readonly length = computed(() => this.store.project()?.head.displayUnit ?? 'm');
  /** Units that any length field takes. */
  readonly metres = LENGTH_IN_METRES;

  /** Units that any field of time takes, in seconds or in frames of the project. */
  readonly seconds = computed<UnitSizes>(() => {
    const rate = this.store.project()?.head.rate;
    return rate ? timeInSeconds(rate) : { s: 1 };
  });
  readonly frames = computed<UnitSizes>(() => {
    const rate = this.store.project()?.head.rate;
    return rate ? timeInFrames(rate) : { f: 1 };
  });

  text(metres: number): string {
    return lengthText(metres, this.length());
  }
}
