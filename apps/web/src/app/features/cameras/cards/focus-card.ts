import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { BlurCriterion, SubjectPoint } from '@arvex/core';
import { lengthText, SUBJECT_POINTS } from '@arvex/core';
import { Card, ChoiceField, choicesOf, LengthField, NumberField, sharpText, Switch } from '../../../ui';
import { CameraBench } from '../camera-bench';
import { Focus } from '../focus';
import { PictureTools } from '../picture-tools';
import { Subjects } from '../subjects';
import { ChannelState } from '../channel-state';

const MODES = [
  { id: 'manual', name: 'by hand' },
  { id: 'follow', name: 'follows' },
  { id: 'auto', name: 'automatic' },
] as const;
const CRITERIA = [
  { id: 'back', name: 'by the film back' },
  { id: 'pixels', name: 'by delivered pixels' },
  { id: 'typed', name: 'typed' },
] as const;

/** What drives the focus, its distance, and what it holds sharp. */
@Component({
  selector: 'arvex-focus-card',
  imports: [ChannelState, Switch, Card, ChoiceField, LengthField, MatIcon, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './focus-card.html',
  styles: `
    dl {
      display: grid;
      grid-template-columns: 84px 1fr;
      gap: 4px 8px;
      margin: 0 0 8px;
      font-size: 12px;
    }
    dt {
      font-family: var(--sans);
      font-size: 13px;
      color: var(--chalk-2);
    }
    dd {
      margin: 0;
    }
  `,
})
export class FocusCard {
  protected readonly bench = new CameraBench();
  protected readonly focus = inject(Focus);
  protected readonly tools = inject(PictureTools);
  protected readonly modes = MODES;
  protected readonly criteria = CRITERIA;
  protected readonly points = choicesOf(SUBJECT_POINTS);
  protected readonly subjects = inject(Subjects).choices;
  protected readonly summary = computed(() => {
    const focus = this.bench.state()?.focus;
    return focus ? `${this.focus.driver()} ${this.length(focus.distanceM)} · ${this.sharp(focus)}` : '';
  });
  /** Focus as crews measure it, where the lens says how far its pupil lies before the film plane. */
  protected readonly filmPlane = computed(() => {
    const state = this.bench.state();
    const pupilMm = state?.lens.kitLens?.pupilMm ?? null;
    return state && pupilMm !== null ? this.length(state.focus.distanceM + pupilMm / 1000) : '';
  });
  protected readonly depth = computed(() => {
    const focus = this.bench.state()?.focus;
    return focus ? this.length(focus.farM - focus.nearM) : '';
  });

  protected length(metres: number): string {
    return lengthText(metres, this.bench.unit());
  }

  protected sharp(focus: Parameters<typeof sharpText>[0]): string {
    return sharpText(focus, this.bench.unit());
  }

  protected setMode(mode: (typeof MODES)[number]['id']): void {
    const camera = this.bench.camera();
    if (!camera) return;
    if (mode === 'manual') this.focus.byHand();
    else if (mode === 'auto') this.focus.automatic(camera.focus.auto.x, camera.focus.auto.y);
    else this.focus.followSeen();
  }

  protected setPoint(point: SubjectPoint): void {
    this.focus.set(`Focus on ${point}`, { point });
  }

  protected setAuto(parts: { x?: number; y?: number }): void {
    const auto = this.bench.camera()?.focus.auto;
    if (auto) this.focus.automatic(parts.x ?? auto.x, parts.y ?? auto.y);
  }

  protected setCriterion(kind: BlurCriterion['kind']): void {
    const mm = this.bench.state()?.focus.blurLimitMm ?? 0.02;
    const criterion: BlurCriterion =
      kind === 'pixels' ? { kind, count: 2 } : kind === 'typed' ? { kind, mm } : { kind: 'back' };
    this.focus.set('Blur limit', { criterion });
  }

  protected setCriterionValue(value: number): void {
    const criterion = this.bench.camera()?.focus.criterion;
    if (criterion?.kind === 'pixels') this.focus.set('Blur limit', { criterion: { ...criterion, count: value } });
    if (criterion?.kind === 'typed') this.focus.set('Blur limit', { criterion: { ...criterion, mm: value } });
  }
}
