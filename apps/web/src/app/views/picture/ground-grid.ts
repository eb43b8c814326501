import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { Vector } from '@arvex/core';
import { projectPoint } from '@arvex/core';
import type { StageView } from '@arvex/stage';

/** The grid goes so far, and has a line each so many metres. */
const REACH_M = 60;
const STEP_M = 2;
/** A line is drawn in so many pieces: those behind the eye are left out. */
const PIECES = 30;
/** The horizon lies this far away. */
const HORIZON_M = 20_000;

/** The plan's own ground in a set that has none: a grid up to the horizon, so that one sees where one stands. */
@Component({
  selector: 'arvex-ground-grid',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width() + ' ' + height()" aria-hidden="true">
      <path class="grid" [attr.d]="grid()" />
      <path class="axis" [attr.d]="axes()" />
      <path class="horizon" [attr.d]="horizon()" />
    </svg>
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      pointer-events: none;
    }
    svg {
      width: 100%;
      height: 100%;
    }
    path {
      fill: none;
      stroke: #ece8e1;
      stroke-opacity: 0.16;
    }
    .axis {
      stroke-opacity: 0.45;
    }
    .horizon {
      stroke-opacity: 0.6;
    }
  `,
})
export class GroundGrid {
  readonly view = input.required<StageView>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();

  protected readonly grid = computed(() => {
    const count = Math.floor(REACH_M / STEP_M);
    const steps = Array.from({ length: 2 * count + 1 }, (_, i) => (i - count) * STEP_M).filter((at) => at !== 0);
    return steps
      .flatMap((at) => [this.line([at, 0, -REACH_M], [at, 0, REACH_M]), this.line([-REACH_M, 0, at], [REACH_M, 0, at])])
      .join('');
  });
  protected readonly axes = computed(
    () => this.line([0, 0, -REACH_M], [0, 0, REACH_M]) + this.line([-REACH_M, 0, 0], [REACH_M, 0, 0]),
  );
  protected readonly horizon = computed(() => {
    const [x, y, z] = this.view().pose.positionM;
    const points = Array.from({ length: 73 }, (_, i): Vector => {
      const angle = (i / 36) * Math.PI;
      return [x + Math.sin(angle) * HORIZON_M, y, z - Math.cos(angle) * HORIZON_M];
    });
    return this.path(points);
  });

  private line(from: Vector, to: Vector): string {
    const points = Array.from({ length: PIECES + 1 }, (_, i): Vector => {
      const share = i / PIECES;
      return [from[0] + (to[0] - from[0]) * share, 0, from[2] + (to[2] - from[2]) * share];
    });
    return this.path(points);
  }

  /** Points that are seen, joined; the line is broken where one lies behind the eye. */
  private path(points: readonly Vector[]): string {
    const { pose, lens, window } = this.view();
    let drawing = false;
    return points
      .map((point) => {
        const seen = projectPoint(point, pose, lens, window);
        const command = drawing ? 'L' : 'M';
        drawing = seen !== undefined && Math.abs(seen.x) < 20 && Math.abs(seen.y) < 20;
        if (!seen || !drawing) return '';
        return `${command}${(seen.x * this.width()).toFixed(1)} ${(seen.y * this.height()).toFixed(1)}`;
      })
      .join('');
  }
}
