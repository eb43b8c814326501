import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Finding } from '@arvex/core';
import type { StepId } from '../session';
import { ProjectStore, remembered } from '../data';
import { Units, Viewpoint } from '../session';
import { checkedOf } from './checked';
import { Checks } from './checks';
import * as z from 'zod';

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
    @if (checked().length > 0) {
      <button
        type="button"
        class="others"
        [attr.aria-expanded]="checkedShown()"
        (click)="checkedShown.set(!checkedShown())"
      >
        <mat-icon>{{ checkedShown() ? 'keyboard_arrow_up' : 'keyboard_arrow_down' }}</mat-icon>
        {{ right() }} of {{ checked().length }} are right
      </button>
      @if (checkedShown()) {
        <ul aria-label="What is looked at before it is handed on">
          @for (one of checked(); track one.words) {
            <li [class.wrong]="!one.isRight">
              <mat-icon>{{ one.isRight ? 'check' : 'warning' }}</mat-icon>{{ one.words }}
            </li>
          }
        </ul>
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
  styles: `
    :host {
      display: block;
    }
    ul {
      margin: 0;
      padding: 4px 12px 6px;
      border-bottom: 1px solid var(--line-soft);
      list-style: none;
    }
    li {
      display: flex;
      align-items: center;
      gap: 8px;
      min-height: 24px;

      mat-icon {
        flex: none;
        width: 18px;
        height: 18px;
        font-size: 18px;
        color: var(--ok);
      }
      &.wrong mat-icon {
        color: var(--amber);
      }
    }
  `,
})
export class Findings {
  protected readonly checks = inject(Checks);
  private readonly viewpoint = inject(Viewpoint);
  private readonly store = inject(ProjectStore);
  private readonly units = inject(Units);
  readonly step = input.required<StepId>();
  /** Those of all cameras are shown. */
  protected readonly all = signal(false);
  private readonly here = computed<readonly Finding[]>(() => this.checks.in(this.step()));
  private readonly own = computed(() =>
    this.here().filter(({ cameraId }) => cameraId === undefined || cameraId === this.viewpoint.camera()?.id),
  );
  protected readonly others = computed(() => this.here().filter((finding) => !this.own().includes(finding)));
  protected readonly shown = computed(() => (this.all() ? [...this.own(), ...this.others()] : this.own()));
  protected readonly checkedShown = remembered('checked-shown', z.boolean(), false);
  /** Of a camera, what is right as well. */
  protected readonly checked = computed(() => {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (this.step() !== 'cameras' || !project || !camera || !state) return [];
    const length = (metres: number) => this.units.text(metres);
    return checkedOf({ project, camera, state, length }, this.own());
  });
  protected readonly right = computed(() => this.checked().filter(({ isRight }) => isRight).length);
  /** That nothing stands against the camera. */
  protected readonly ready = computed(() => {
    const camera = this.viewpoint.camera();
    return this.step() === 'cameras' && camera ? `${camera.name} is ready to hand on.` : '';
  });
}
