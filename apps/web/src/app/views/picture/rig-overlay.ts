import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { RigHandle, Vector } from '@arvex/core';
import { onPlane, projectPoint, sightThrough } from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { Moves, RigHandles } from '../../features/moves';
import { followDrag } from '../../ui';

/** The edited camera's rig, its way and the ghost of a move over the free view, with handles that move it over the floor. */
@Component({
  selector: 'arvex-rig-overlay',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width() + ' ' + height()" aria-label="Rig of the camera" role="group">
      @for (line of lines(); track $index) {
        <path [attr.class]="line.kind" [attr.d]="line.path" />
      }
      @for (one of handles(); track one.handle.kind + one.handle.index) {
        <circle
          role="button"
          r="6"
          [attr.aria-label]="'Handle: ' + one.handle.name"
          [class.whole]="one.handle.kind === 'rig'"
          [attr.cx]="one.x"
          [attr.cy]="one.y"
          (pointerdown)="begin($event, one.handle)"
        >
          <title>{{ one.handle.name }}: drag over the floor, Shift-drag up and down</title>
        </circle>
      }
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
      stroke: #e9e4da;
      stroke-width: 1.75;
      stroke-linejoin: round;
      opacity: 0.85;
    }
    .arm,
    .column {
      stroke-width: 4;
    }
    .way {
      stroke: #a3a6ff;
    }
    .ghost,
    .circle,
    .aim,
    .link {
      stroke-dasharray: 6 4;
    }
    .ghost {
      stroke: #a3a6ff;
      stroke-width: 2.5;
    }
    circle {
      fill: #1d1d1f;
      stroke: #e9e4da;
      stroke-width: 2;
      cursor: grab;
      pointer-events: auto;
    }
    .whole {
      fill: #a3a6ff;
    }
  `,
})
export class RigOverlay {
  readonly view = input.required<StageView>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();
  private readonly rig = inject(RigHandles);
  private readonly moves = inject(Moves);

  protected readonly lines = computed(() => {
    const body = this.rig.body();
    const [way, ghost] = [this.moves.path()?.places ?? [], this.moves.ghost()?.places ?? []];
    return [...(body?.lines ?? []), { kind: 'way', points: way }, { kind: 'ghost', points: ghost }].map(
      ({ kind, points }) => ({ kind, path: this.path(points) }),
    );
  });
  protected readonly handles = computed(() =>
    (this.rig.body()?.handles ?? []).flatMap((handle) => {
      const spot = this.spot(handle.atM);
      return spot ? [{ handle, ...spot }] : [];
    }),
  );

  private spot(point: Vector): { x: number; y: number } | undefined {
    const { pose, lens, window } = this.view();
    const seen = projectPoint(point, pose, lens, window);
    return seen && { x: seen.x * this.width(), y: seen.y * this.height() };
  }

  /** A line as far as it lies in front of the eye. */
  private path(points: readonly Vector[]): string {
    let begun = false;
    return points
      .map((point) => {
        const spot = this.spot(point);
        const step = spot ? `${begun ? 'L' : 'M'}${spot.x.toFixed(1)} ${spot.y.toFixed(1)}` : '';
        begun = spot !== undefined;
        return step;
      })
      .join('');
  }

  protected begin(event: PointerEvent, handle: RigHandle): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    const bounds = (event.currentTarget as Element).closest('svg')?.getBoundingClientRect();
    if (!bounds) return;
    const { pose, lens, window } = this.view();
    const [x0, y0, z0] = handle.atM;
    const away = Math.hypot(x0 - pose.positionM[0], y0 - pose.positionM[1], z0 - pose.positionM[2]);
    const perPx = ((window.topMm - window.bottomMm) / lens.focalLengthMm / this.height()) * away;
    let by: Vector = [0, 0, 0];
    followDrag(
      event,
      ({ dy, event: now }) => {
        if (now.shiftKey) by = [0, -dy * perPx, 0];
        else {
          const share = [
            (now.clientX - bounds.left) / bounds.width,
            (now.clientY - bounds.top) / bounds.height,
          ] as const;
          const hit = onPlane(sightThrough(share[0], share[1], pose, lens, window), [x0, y0, z0], [0, 1, 0]);
          if (!hit) return;
          by = [hit[0] - x0, 0, hit[2] - z0];
        }
        this.rig.preview(handle, by);
      },
      (kept) => this.rig.end(handle, by, kept),
    );
  }
}
