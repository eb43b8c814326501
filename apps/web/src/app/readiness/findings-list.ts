import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Finding } from '@arvex/core';
import type { StepId } from '../session';
import { Viewpoint } from '../session';
import { Checks } from './checks';

/** What the checks found in a step, each with the way to the mend: of the edited camera at once, of others when asked for. */
@Component({
  selector: 'arvex-findings',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (
      finding of shown();
      track finding.code + finding.cameraId + finding.shotId + finding.placementId + finding.message
    ) {
      <div class="finding">
        <mat-icon>warning</mat-icon>
        <span>{{ finding.message }}</span>
        <button type="button" class="pill" (click)="checks.mend(finding)">{{ finding.mend }}</button>
      </div>
    } @empty {
      @if (ready(); as words) {
        <p class="ready" role="status"><mat-icon>check_circle</mat-icon>{{ words }}</p>
      }
    }
    @if (others().length > 0) {
      <button type="button" class="others" [attr.aria-expanded]="all()" (click)="all.set(!all())">
        <mat-icon>{{ all() ? 'keyboard_arrow_up' : 'keyboard_arrow_down' }}</mat-icon>
        {{ all() ? 'Only this camera' : others().length + ' more to mend on other cameras' }}
      </button>
    }
  `,
  styleUrl: '../ui/findings.scss',
  styles: ':host { display: block; }',
})
export class Findings {
  protected readonly checks = inject(Checks);
  private readonly viewpoint = inject(Viewpoint);
  readonly step = input.required<StepId>();
  /** Those of all cameras are shown. */
  protected readonly all = signal(false);
  private readonly here = computed<readonly Finding[]>(() => this.checks.in(this.step()));
  private readonly own = computed(() =>
    this.here().filter(({ cameraId }) => cameraId === undefined || cameraId === this.viewpoint.camera()?.id),
  );
  protected readonly others = computed(() => this.here().filter((finding) => !this.own().includes(finding)));
  protected readonly shown = computed(() => (this.all() ? [...this.own(), ...this.others()] : this.own()));
  /** That nothing stands against the camera. */
  protected readonly ready = computed(() => {
    const camera = this.viewpoint.camera();
    return this.step() === 'cameras' && camera ? `${camera.name} is ready to hand on.` : '';
  });
}
