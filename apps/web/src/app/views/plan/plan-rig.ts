import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { RigHandle, Vector } from '@arvex/core';
import { framesPerSecond, GAUGE_M, marksInOrder, markState, moveOf } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { DrawnPath } from '../../features/moves';
import { Moves, RigHandles } from '../../features/moves';
import { Playhead } from '../../session';
import { cameraColour, followDrag } from '../../ui';

const flat = (points: readonly Vector[]): string =>
  points.map(([x, , z]) => `${x.toFixed(3)},${z.toFixed(3)}`).join(' ');

/** The edited camera's way and rig as they lie in plan: a dot for each second, the ghost of a move that is asked for, handles. */
@Component({
  // Drawn into the plan, so it has to be an SVG element itself.

  selector: 'g[arvexPlanRig]',
  imports: [MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (handles.body(); as body) {
      @for (line of body.lines; track $index) {
        <svg:polyline
          [attr.class]="'rig ' + line.kind"
          [attr.points]="points(line.points)"
          [attr.stroke-width]="(line.kind === 'arm' || line.kind === 'column' ? 4 : 1.5) * perPixel()"
          [attr.stroke-dasharray]="
            line.kind === 'circle' || line.kind === 'aim' || line.kind === 'link' ? dash() : null
          "
        />
        @if (line.kind === 'track') {
          <svg:polyline
            class="catch"
            [attr.points]="points(line.points)"
            [attr.stroke-width]="gaugeM + 10 * perPixel()"
            (dblclick)="add($event)"
          />
        }
      }
    }
    @if (way(); as line) {
      <svg:polyline
        class="path"
        [attr.points]="line.points"
        [attr.stroke]="line.colour"
        [attr.stroke-width]="2 * perPixel()"
      />
      @for (dot of line.seconds; track $index) {
        <svg:circle [attr.cx]="dot[0]" [attr.cy]="dot[2]" [attr.r]="2.2 * perPixel()" [attr.fill]="line.colour" />
      }
    }
    @if (ghost(); as line) {
      <svg:polyline
        class="ghost"
        data-testid="ghost"
        [attr.points]="line.points"
        [attr.stroke-width]="2.5 * perPixel()"
        [attr.stroke-dasharray]="dash()"
      />
      @for (dot of line.seconds; track $index) {
        <svg:circle class="ghost-dot" [attr.cx]="dot[0]" [attr.cy]="dot[2]" [attr.r]="2.6 * perPixel()" />
      }
    }
    @for (one of marks(); track one.id) {
      <svg:circle
        class="mark"
        [attr.cx]="one.at[0]"
        [attr.cy]="one.at[2]"
        [attr.r]="3.5 * perPixel()"
        [attr.stroke]="one.colour"
        [attr.stroke-width]="1.5 * perPixel()"
      />
      <svg:text [attr.x]="one.at[0]" [attr.y]="one.at[2] + 16 * perPixel()" [attr.font-size]="10.5 * perPixel()">
        {{ one.name }}
      </svg:text>
    }
    @for (handle of handles.body()?.handles ?? []; track handle.kind + handle.index) {
      <svg:rect
        class="rig-handle"
        role="button"
        [class.whole]="handle.kind === 'rig'"
        [attr.aria-label]="'Handle: ' + handle.name"
        [attr.x]="handle.atM[0] - 5 * perPixel()"
        [attr.y]="handle.atM[2] - 5 * perPixel()"
        [attr.width]="10 * perPixel()"
        [attr.height]="10 * perPixel()"
        [attr.rx]="(handle.kind === 'rig' ? 0 : 5) * perPixel()"
        [attr.stroke-width]="1.75 * perPixel()"
        [matTooltip]="
          handle.name + (handle.kind === 'node' ? ': drag it; a double click takes it out' : ': drag to move')
        "
        (pointerdown)="begin($event, handle)"
        (dblclick)="remove($event, handle)"
      />
    }
  `,
  styleUrl: './plan-rig.scss',
})
export class PlanRig {
  readonly perPixel = input.required<number>();
  /** A place of the plan under the pointer: x and z. */
  readonly placeOf = input.required<(event: MouseEvent) => readonly [number, number]>();
  /** A tool of the plan is in hand: presses are its. */
  readonly toolInHand = input(false);
  protected readonly handles = inject(RigHandles);
  private readonly moves = inject(Moves);
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  protected readonly points = flat;
  protected readonly gaugeM = GAUGE_M;

  protected readonly dash = computed(() => `${6 * this.perPixel()} ${4 * this.perPixel()}`);
  protected readonly way = computed(() => this.drawn(this.moves.path()));
  protected readonly ghost = computed(() => this.drawn(this.moves.ghost()));
  protected readonly marks = computed(() => {
    const [project, camera] = [this.store.project(), this.moves.camera()];
    if (!project || !camera) return [];
    return marksInOrder(moveOf(project, camera.id))
      .filter(({ leftOut }) => !leftOut)
      .map((mark) => ({
        id: mark.id,
        name: mark.name,
        at: markState(project, camera.id, mark).positionM,
        colour: cameraColour(camera.number),
      }));
  });

  private drawn(path: DrawnPath | undefined) {
    const rate = this.store.project()?.head.rate;
    if (!path || !rate) return undefined;
    const second = Math.round(framesPerSecond(rate));
    const seconds = path.places.filter((_, i) => (i + path.firstFrame) % second === 0);
    return { points: flat(path.places), seconds, colour: cameraColour(this.moves.camera()?.number ?? 1) };
  }

  protected begin(event: PointerEvent, handle: RigHandle): void {
    if (event.button !== 0 || this.toolInHand()) return;
    event.stopPropagation();
    this.playhead.stop();
    let by: Vector = [0, 0, 0];
    followDrag(
      event,
      ({ dx, dy }) => {
        by = [dx * this.perPixel(), 0, dy * this.perPixel()];
        this.handles.preview(handle, by);
      },
      (kept) => this.handles.end(handle, by, kept),
    );
  }

  protected remove(event: Event, handle: RigHandle): void {
    if (this.toolInHand()) return;
    event.stopPropagation();
    this.handles.remove(handle);
  }

  protected add(event: MouseEvent): void {
    if (this.toolInHand()) return;
    event.stopPropagation();
    this.handles.addAt(...(this.placeOf()(event) as [number, number]));
  }
}
