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
  styles: `
    :host {
      display: block;
    }
    .finding,
    .ready {
      display: flex;
      align-items: center;
      gap: 8px;
      margin: 0;
      padding: 6px 12px;
      border-bottom: 1px solid var(--line-soft);
      line-height: 1.3;
    }
    mat-icon {
      flex: none;
      font-size: 20px;
      width: 20px;
      height: 20px;
      color: var(--amber);
    }
    .ready {
      color: var(--chalk-2);

      mat-icon {
        color: var(--ok);
      }
    }
    span {
      flex: 1;
    }
    .others {
      display: flex;
      align-items: center;
      gap: 6px;
      width: 100%;
      min-height: 26px;
      padding: 0 12px;
      border-bottom: 1px solid var(--line-soft);
      font-size: 12px;
      color: var(--chalk-2);

      mat-icon {
        color: inherit;
        font-size: 18px;
        width: 18px;
        height: 18px;
      }
    }
  `,
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
