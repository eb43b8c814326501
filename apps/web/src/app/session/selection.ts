import { computed, inject, Injectable, signal } from '@angular/core';
import type { Placement } from '@arvex/core';
import { ProjectStore } from '../data';

/** Which things of the set are worked on. The last one chosen is the one whose numbers are shown. */
@Injectable({ providedIn: 'root' })
export class Selection {
  private readonly store = inject(ProjectStore);
  private readonly chosen = signal<readonly string[]>([]);

  /** Chosen placements that are still there, in the order in which they were chosen. */
  readonly placements = computed<readonly Placement[]>(() => {
    const placements = this.store.project()?.placements ?? {};
    return this.chosen().flatMap((id) => placements[id] ?? []);
  });
  readonly ids = computed(() => this.placements().map((placement) => placement.id));
  readonly last = computed(() => this.placements().at(-1));

  has(id: string): boolean {
    return this.ids().includes(id);
  }

  set(...ids: string[]): void {
    this.chosen.set(ids);
  }

  /** Chooses one alone, or (`more`) puts it to the others or takes it from them. */
  pick(id: string | undefined, more = false): void {
    if (id === undefined) {
      if (!more) this.chosen.set([]);
    } else if (!more) this.chosen.set([id]);
    else this.chosen.update((ids) => (ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id]));
  }
}
