import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Finding } from '@arvex/core';
import type { StepId } from '../session';
import { Checks } from './checks';

/** What the checks found in a step, each with the way to the mend. */
@Component({
  selector: 'arvex-findings',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (
      finding of here();
      track finding.code + finding.cameraId + finding.shotId + finding.placementId + finding.message
    ) {
      <div class="finding">
        <mat-icon>warning</mat-icon>
        <span>{{ finding.message }}</span>
        <button type="button" class="pill" (click)="checks.mend(finding)">{{ finding.mend }}</button>
      </div>
    }
  `,
  styles: `
    .finding {
      display: flex;
      align-items: center;
      gap: 8px;
      padding: 8px 12px;
      border-bottom: 1px solid var(--line-soft);
    }
    mat-icon {
      flex: none;
      font-size: 20px;
      width: 20px;
      height: 20px;
      color: var(--amber);
    }
    span {
      flex: 1;
    }
  `,
})
export class Findings {
  protected readonly checks = inject(Checks);
  readonly step = input.required<StepId>();
  protected readonly here = computed<readonly Finding[]>(() => this.checks.in(this.step()));
}
