import { ChangeDetectionStrategy, Component, computed, input, output } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { PlanCamera } from './plan-shapes';
import { acrossField, aimHandle, fieldPath, fieldSides } from './plan-shapes';

/** Length of field drawn for a camera that is sharp to infinity. */
const LONGEST_FIELD_M = 60;

/** A near clip is drawn once it lies so many pixels before the camera. */
const NEAR_SEEN = 1 / 18;

/** A camera in plan: its field, and for the one that is looked through what is sharp, its axis and the handle to aim it. */
@Component({
  // Drawn into the plan, so it has to be an SVG element itself.

  selector: 'g[arvexPlanCamera]',
  imports: [MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './plan-camera.html',
  styleUrl: './plan-camera.scss',
  host: { class: 'camera', '[class.current]': 'shown().current', '[style.color]': 'shown().colour' },
})
export class PlanCameraMark {
  readonly shown = input.required<PlanCamera>();
  /** Metres that a pixel is wide. */
  readonly perPixel = input.required<number>();
  readonly aimPressed = output<PointerEvent>();
  readonly bodyPressed = output<PointerEvent>();

  protected readonly field = computed(() => {
    const { state } = this.shown();
    return fieldPath(state, 0.01, this.lengthM());
  });
  protected readonly sides = computed(() => fieldSides(this.shown().state, 0.01, this.lengthM()));
  /** How far the field is drawn: of the camera that is looked through as far as it is sharp or cut, of others less. */
  private readonly lengthM = computed(() => {
    const { state, current } = this.shown();
    const reach = Math.max(4, state.focus.distanceM * (current ? 3 : 2.2));
    return Math.min(LONGEST_FIELD_M, state.clip.farM, reach);
  });
  /** Clip distances near enough to be seen, with their names. */
  protected readonly clips = computed(() => {
    const { state } = this.shown();
    const { nearM, farM } = state.clip;
    return [
      ...(nearM * NEAR_SEEN > this.perPixel() ? [{ name: 'near clip', ...acrossField(state, nearM) }] : []),
      ...(farM <= LONGEST_FIELD_M ? [{ name: 'far clip', ...acrossField(state, farM) }] : []),
    ];
  });
  protected readonly sharp = computed(() => {
    const { state } = this.shown();
    return fieldPath(state, state.focus.nearM, Math.min(LONGEST_FIELD_M, state.focus.farM));
  });
  protected readonly focusPlane = computed(() => {
    const { state } = this.shown();
    return fieldPath(state, state.focus.distanceM, state.focus.distanceM);
  });
  /** Whether its head is turned by hand: not where it looks at a subject, or along a path. */
  protected readonly isTurned = computed(() => {
    const { aim } = this.shown().camera;
    return aim.kind === 'free' || aim.kind === 'point' || (aim.kind === 'subject' && aim.weight < 1);
  });
  protected readonly aim = computed(() => aimHandle(this.shown().state, this.perPixel()));
}
