import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { RigTrouble } from '@arvex/core';
import { Card } from '../../../ui';
import { RiggingReport } from '../rigging-report';
import { ShotBench } from '../shot-bench';

/** Whether a crew could take the shot in hand so. */
@Component({
  selector: 'arvex-rigging-card',
  imports: [Card, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bench.open.hasShots()) {
      <arvex-card heading="Could it be rigged" [summary]="summary()" card="rigging">
        @for (one of report.troubles() ?? []; track one.message) {
          <button type="button" class="advice" title="Go to the worst frame" (click)="goTo(one)">
            <mat-icon>construction</mat-icon><span>{{ one.message }}</span>
          </button>
        } @empty {
          <p class="quiet" role="status">
            {{
              report.troubles()
                ? 'The camera is clear of the set, its rig reaches, its lens can be focused.'
                : 'Looking at it …'
            }}
          </p>
        }
      </arvex-card>
    }
  `,
  styleUrl: './advice.scss',
})
export class RiggingCard {
  protected readonly bench = new ShotBench();
  protected readonly report = inject(RiggingReport);
  protected readonly summary = computed(() => {
    const troubles = this.report.troubles();
    if (!troubles) return '';
    return troubles.length === 0 ? 'yes' : `${troubles.length} against it`;
  });

  protected goTo({ shotFrame }: RigTrouble): void {
    const placed = this.bench.placed();
    if (placed) this.bench.playhead.goTo(placed.startFrame + shotFrame);
  }
}
