import { computed, inject, Injectable, signal } from '@angular/core';
import { OpenSequence } from '../../session';
import type { Meeting } from './cut-drag';

/** The two pictures of a joint side by side, looked at on purpose. */
@Injectable({ providedIn: 'root' })
export class JointLook {
  private readonly open = inject(OpenSequence);
  private readonly asked = signal<string | undefined>(undefined);

  readonly meeting = computed<Meeting | undefined>(() => {
    const placed = this.open.cut().shots.find(({ shot }) => shot.id === this.asked());
    if (!placed || placed.index === 0) return undefined;
    return { before: placed.startFrame - 1, after: placed.startFrame, words: 'the joint' };
  });
  /** The shot whose joint is looked at. */
  readonly shotId = computed(() => (this.meeting() ? this.asked() : undefined));

  toggle(shotId: string): void {
    this.asked.set(this.shotId() === shotId ? undefined : shotId);
  }

  end(): void {
    this.asked.set(undefined);
  }
}
