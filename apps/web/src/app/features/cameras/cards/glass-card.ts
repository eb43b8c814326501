import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { farthestUsedMm, keepVerticals, STRONGEST_BARREL_PERCENT } from '@arvex/core';
import { Notices } from '../../../data';
import { Card, LengthField, NumberField, Switch } from '../../../ui';
import { CameraBench } from '../camera-bench';
import { IrisFields } from './iris-fields';

/** Width that parallel sight has at first, metres. */
const PARALLEL_WIDTH_M = 10;

/** What else a lens does: shift, distortion, darkening of the edges, the shape of its iris, parallel sight. */
@Component({
  selector: 'arvex-glass-card',
  imports: [Switch, Card, IrisFields, LengthField, MatIcon, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <arvex-card heading="Shift, edges, iris" [summary]="summary()" card="glass">
      @if (bench.camera()?.lens; as lens) {
        <div class="row">
          <span class="label">Shift right, up</span>
          <arvex-number-field
            label="Shift to the right"
            unit="mm"
            hint="Shift to the right on the film back"
            [units]="bench.millimetres"
            [decimals]="1"
            [min]="-100"
            [max]="100"
            [value]="lens.shiftXMm"
            (valueSet)="bench.setLens('Lens shift', { shiftXMm: $event })"
          />
          <arvex-number-field
            label="Shift upward"
            unit="mm"
            hint="Shift upward on the film back"
            [units]="bench.millimetres"
            [decimals]="1"
            [min]="-100"
            [max]="100"
            [value]="lens.shiftYMm"
            (valueSet)="bench.setLens('Lens shift', { shiftYMm: $event })"
          />
        </div>
        <div class="row">
          <button
            type="button"
            class="pill"
            matTooltip="The tilt becomes shift, with the same thing in the middle"
            (click)="verticals()"
          >
            <mat-icon>architecture</mat-icon>Keep verticals
          </button>
          @if (beyond(); as mm) {
            <span class="warning">{{ mm }} mm beyond the lens’s circle</span>
          }
        </div>
        <div class="row">
          <span class="label">Distortion</span>
          <arvex-number-field
            label="Distortion"
            unit="%"
            hint="Displacement of the corner: negative is barrel, positive pincushion"
            [decimals]="1"
            [min]="strongestBarrel"
            [max]="40"
            [value]="lens.distortionPercent"
            (valueSet)="bench.setLens('Distortion', { distortionPercent: $event })"
          />
          <arvex-number-field
            label="Edge darkening"
            unit="stops"
            hint="How much darker the corner is"
            [decimals]="1"
            [min]="0"
            [max]="6"
            [value]="lens.edgeStops"
            (valueSet)="bench.setLens('Edge darkening', { edgeStops: $event })"
          />
        </div>
        <arvex-iris-fields [lens]="lens" (lensSet)="bench.setLens('Iris', $event)" />
        <div class="row">
          <span class="label">Breathing</span>
          <arvex-switch
            label="Whether focusing changes the angle of view"
            [choices]="[
              { id: 'none', name: 'none' },
              { id: 'breathes', name: 'breathes' },
            ]"
            [value]="lens.breathing ? 'breathes' : 'none'"
            (chosen)="
              $event === 'none'
                ? bench.setLens('No breathing', { breathing: false })
                : bench.setLens('Breathing', { breathing: true })
            "
          />
        </div>
        <div class="row">
          <span class="label">Sight</span>
          <arvex-switch
            label="Perspective or parallel sight"
            [choices]="[
              { id: 'perspective', name: 'perspective' },
              { id: 'parallel', name: 'parallel' },
            ]"
            [value]="lens.parallelWidthM === null ? 'perspective' : 'parallel'"
            (chosen)="
              $event === 'perspective'
                ? bench.setLens('Perspective', { parallelWidthM: null })
                : bench.setLens('Parallel sight', { parallelWidthM: width })
            "
          />
        </div>
        @if (lens.parallelWidthM; as metres) {
          <div class="row">
            <span class="label">Width seen</span>
            <arvex-length-field
              label="Width of parallel sight"
              hint="Width of what the film back sees"
              [min]="0.01"
              [value]="metres"
              (valueSet)="bench.setLens('Width of sight', { parallelWidthM: $event })"
            />
          </div>
        }
      }
    </arvex-card>
  `,
})
export class GlassCard {
  protected readonly strongestBarrel = STRONGEST_BARREL_PERCENT;
  protected readonly bench = new CameraBench();
  private readonly notices = inject(Notices);
  protected readonly width = PARALLEL_WIDTH_M;
  protected readonly summary = computed(() => {
    const lens = this.bench.camera()?.lens;
    if (!lens) return '';
    const parts = [
      ...(lens.shiftXMm === 0 && lens.shiftYMm === 0
        ? []
        : [`shift ${lens.shiftXMm.toFixed(1)}, ${lens.shiftYMm.toFixed(1)}`]),
      ...(lens.distortionPercent === 0 ? [] : [`${lens.distortionPercent.toFixed(1)} %`]),
      ...(lens.edgeStops === 0 ? [] : [`edges −${lens.edgeStops.toFixed(1)}`]),
      ...(lens.parallelWidthM === null ? [] : ['parallel']),
      lens.blades === 0 ? 'round iris' : `${lens.blades} blades`,
    ];
    return parts.join(' · ');
  });
  /** How far the frame reaches beyond what the lens covers, mm. */
  protected readonly beyond = computed(() => {
    const state = this.bench.state();
    const circle = state?.lens.kitLens?.imageCircleMm;
    if (!state || circle === undefined) return undefined;
    const over = farthestUsedMm(state) - circle / 2;
    return over > 0.005 ? over.toFixed(1) : undefined;
  });

  protected verticals(): void {
    const [state, camera] = [this.bench.state(), this.bench.camera()];
    if (!state || !camera) return;
    const level = keepVerticals(state);
    if (!level) {
      const why =
        Math.abs(state.rollDeg) > 1e-6
          ? 'The camera is rolled: set roll to 0 first.'
          : 'The tilt is too steep for any shift.';
      this.notices.error(new Error(`Verticals cannot be kept. ${why}`));
      return;
    }
    this.bench.setChannels('Keep verticals', { tilt: 0, shiftY: level.shiftYMm });
  }
}
