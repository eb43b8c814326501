import { ChangeDetectionStrategy, Component, computed, ElementRef, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { MatTooltip } from '@angular/material/tooltip';
import type { ExposureEdit, UsualLight } from '@arvex/core';
import { changeEv, USUAL_LIGHT } from '@arvex/core';
import { ExposureControls, Meter } from '../../features/cameras';
import { Viewpoint } from '../../session';
import { followDrag, ndText } from '../../ui';

const BRIGHTEST_EV = 17;
const DARKEST_EV = -3;
const KEY_STEP_EV = 1 / 3;

/**
 * What belongs to light, at the picture's left edge: EV of the scene (ISO 100, neutral density counted in), the present
 * setting, the meter's needle, and usual light. Dragging changes EV; the first absorber takes it up.
 */
@Component({
  selector: 'arvex-light-strip',
  imports: [MatIcon, MatMenuModule, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './light-strip.html',
  styleUrl: './light-strip.scss',
})
export class LightStrip {
  private readonly viewpoint = inject(Viewpoint);
  private readonly meter = inject(Meter);
  protected readonly exposure = inject(ExposureControls);
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;

  protected readonly usual = USUAL_LIGHT;
  protected readonly brightest = BRIGHTEST_EV;
  protected readonly darkest = DARKEST_EV;
  protected readonly ticks = [16, 14, 12, 10, 8, 6, 4, 2, 0, -2];
  protected readonly ev = this.meter.settingEv;
  protected readonly held = computed(() => this.viewpoint.state()?.exposure.hold ?? false);
  protected readonly absorber = computed(() => this.exposure.absorbers()[0] ?? 'iso');
  /** The meter's needle, while it has read this camera. */
  protected readonly needle = computed(() => {
    const [reading, over] = [this.meter.reading(), this.meter.over()];
    if (!reading || over === undefined) return undefined;
    const stops = Math.abs(over);
    const how = stops < 0.05 ? 'as set' : `${stops.toFixed(1)} stops ${over > 0 ? 'over' : 'under'}`;
    return { ev: reading.ev, bad: stops > 2, text: `The meter reads EV ${reading.ev.toFixed(1)}: ${how}` };
  });

  /** Distance from the top in per cent. */
  protected place(ev: number): number {
    const share = (BRIGHTEST_EV - ev) / (BRIGHTEST_EV - DARKEST_EV);
    return Math.max(0, Math.min(1, share)) * 100;
  }

  /** Whether the knob stands on a number of the scale: it would be read as one with it. */
  protected isUnder(tick: number): boolean {
    return Math.abs(tick - (this.ev() ?? Infinity)) < 0.8;
  }

  protected begin(event: PointerEvent): void {
    const state = this.viewpoint.state();
    if (!state || event.button !== 0) return;
    const scale = (event.currentTarget as HTMLElement).clientHeight / (BRIGHTEST_EV - DARKEST_EV);
    let edit: ExposureEdit | undefined;
    followDrag(
      event,
      ({ dy }) => (edit = this.exposure.previewEv(state, Math.round((-dy / scale) * 10) / 10)),
      (kept) => {
        if (this.exposure.endPreview() && kept && edit) this.keep(edit);
      },
    );
    this.element.querySelector<HTMLElement>('.scale')?.focus();
  }

  protected nudge(event: Event, direction: 1 | -1): void {
    event.preventDefault();
    event.stopPropagation();
    const state = this.viewpoint.state();
    if (!state) return;
    this.keep(changeEv(state, direction * KEY_STEP_EV));
  }

  /** Neutral density, where there is any. */
  protected readonly nd = computed(() => {
    const exposure = this.viewpoint.state()?.exposure;
    return exposure ? ndText(exposure) : '';
  });

  /** Exposes for the middle of a usual light. */
  protected exposeFor({ name, evFrom, evTo }: UsualLight): void {
    const ev = this.ev();
    if (ev !== undefined) this.exposure.byStops(`Expose for ${name}`, (evFrom + evTo) / 2 - ev);
  }

  protected hold(): void {
    const held = !this.held();
    this.exposure.setHold(held ? 'Hold EV' : 'EV is free', { hold: held });
  }

  private keep(edit: ExposureEdit): void {
    const taken = edit.held.absorbed.map(({ part }) => this.exposure.nameOf(part)).join(' and ');
    this.exposure.apply(taken === '' ? 'EV' : `EV by ${taken}`, edit);
  }
}
