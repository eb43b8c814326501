import { computed, inject, Injectable } from '@angular/core';
import { LENGTH_IN_METRES, lengthText } from '@arvex/core';
import { ProjectStore } from '../data';

/** The unit in which the project shows lengths. */
@Injectable({ providedIn: 'root' })
export class Units {
  private readonly store = inject(ProjectStore);
  readonly length = computed(() => this.store.project()?.head.displayUnit ?? 'm');
  /** Units that any length field takes. */
  readonly metres = LENGTH_IN_METRES;

  text(metres: number): string {
    return lengthText(metres, this.length());
  }
}
