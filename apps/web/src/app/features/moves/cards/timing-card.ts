import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { CopyGroup, CopyHow, RateKeeps } from '@arvex/core';
import {
  camerasInOrder,
  changeRate,
  COPY_GROUPS,
  copyMove,
  FLICKS_PER_SECOND,
  framesInFlicks,
  rampMove,
  rateEffects,
  rateLabel,
  RATES,
  reverseMove,
  secondsFromFlicks,
  shiftMove,
  stretchMove,
} from '@arvex/core';
import { Card, ChoiceField, NumberField, PERCENT, Switch } from '../../../ui';
import { CameraBench } from '../../cameras';
import { Moves } from '../moves';

const GROUP_NAMES: Readonly<Record<CopyGroup, string>> = {
  place: 'place and rig',
  head: 'head and aim',
  lens: 'lens',
  focus: 'focus and f-stop',
  exposure: 'exposure',
};

/** How long a move lasts, when it begins, which way it runs, how its speed changes; and the move for other cameras. */
@Component({
  selector: 'arvex-timing-card',
  imports: [Switch, Card, ChoiceField, MatIcon, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './timing-card.html',
  styleUrl: './timing-card.scss',
})
export class TimingCard {
  protected readonly bench = new CameraBench();
  protected readonly moving = inject(Moves);
  protected readonly percent = PERCENT;
  protected readonly groups = (Object.keys(COPY_GROUPS) as CopyGroup[]).map((id) => ({ id, name: GROUP_NAMES[id] }));

  protected readonly subjectsFollow = signal(false);
  protected readonly speeds = signal({ from: 0.5, to: 1.5 });
  protected readonly keep = signal<RateKeeps>('seconds');
  protected readonly rateId = signal<string | undefined>(undefined);
  protected readonly copied = signal<ReadonlySet<CopyGroup>>(new Set<CopyGroup>(['place', 'head']));
  protected readonly how = signal<CopyHow>('relative');
  protected readonly to = signal<ReadonlySet<string>>(new Set());

  protected readonly rates = RATES.map((rate) => ({ id: rateLabel(rate), name: `${rateLabel(rate)} a second`, rate }));
  protected readonly first = computed(() => this.bench.store.project()?.head.firstFrame ?? 0);
  protected readonly rate = computed(() => this.bench.store.project()?.head.rate);
  protected readonly lengthFlicks = computed(() => {
    const span = this.moving.span();
    return span ? span[1] - span[0] : 0;
  });
  protected readonly seconds = computed(() => secondsFromFlicks(this.lengthFlicks()));
  protected readonly frames = computed(() => this.lengthFlicks() / this.moving.frameFlicks());
  protected readonly begins = computed(() => this.first() + (this.moving.span()?.[0] ?? 0) / this.moving.frameFlicks());
  protected readonly summary = computed(() =>
    this.moving.span() ? `${Math.round(this.frames())} f · ${this.seconds().toFixed(2)} s` : 'no move',
  );
  protected readonly others = computed(() => {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    return project ? camerasInOrder(project).filter(({ id }) => id !== camera?.id) : [];
  });

  /** What another rate does to the shots, by both ways of keeping. */
  protected readonly effects = computed(() => {
    const project = this.bench.store.project();
    const rate = this.rates.find(({ id }) => id === this.rateId())?.rate;
    if (!project || !rate) return undefined;
    const [bySeconds, byFrames] = [rateEffects(project, rate, 'seconds'), rateEffects(project, rate, 'frames')];
    return bySeconds.map((seconds, i) => ({
      name: seconds.what,
      before: seconds,
      seconds,
      frames: byFrames[i] ?? seconds,
    }));
  });

  protected stretchTo(flicks: number): void {
    const options = { subjectsFollow: this.subjectsFollow() };
    this.moving.edit((project, cameraId) => stretchMove(project, cameraId, flicks, options));
  }

  protected stretchSeconds(seconds: number): void {
    this.stretchTo(seconds * FLICKS_PER_SECOND);
  }

  protected stretchFrames(frames: number): void {
    this.stretchTo(Math.round(frames) * this.moving.frameFlicks());
  }

  protected begin(frame: number): void {
    const by = Math.round(frame - this.begins()) * this.moving.frameFlicks();
    const options = { subjectsFollow: this.subjectsFollow() };
    this.moving.edit((project, cameraId) => shiftMove(project, cameraId, by, options));
  }

  protected reverse(): void {
    this.moving.edit((project, cameraId) => reverseMove(project, cameraId));
  }

  protected ramp(): void {
    const { from, to } = this.speeds();
    this.moving.edit((project, cameraId) => rampMove(project, cameraId, from, to));
  }

  protected setSpeeds(parts: Partial<{ from: number; to: number }>): void {
    this.speeds.update((speeds) => ({ ...speeds, ...parts }));
  }

  protected changeRate(): void {
    const rate = this.rates.find(({ id }) => id === this.rateId())?.rate;
    if (!rate) return;
    const options = { subjectsFollow: this.subjectsFollow() };
    if (this.moving.edit((project) => changeRate(project, rate, this.keep(), options))) this.rateId.set(undefined);
  }

  protected framesOf(flicks: number): number {
    const rate = this.rate();
    return rate ? framesInFlicks(flicks, rate) : 0;
  }

  protected toggle<T>(set: ReadonlySet<T>, one: T): ReadonlySet<T> {
    const next = new Set(set);
    if (!next.delete(one)) next.add(one);
    return next;
  }

  protected copy(): void {
    const project = this.bench.store.project();
    if (!project) return;
    this.moving.edit((now, cameraId) => copyMove(now, cameraId, [...this.to()], [...this.copied()], this.how()));
  }
}
