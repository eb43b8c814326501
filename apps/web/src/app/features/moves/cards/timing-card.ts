import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import {
  FLICKS_PER_SECOND,
  GOES_ALONG,
  rampMove,
  reverseMove,
  secondsFromFlicks,
  shiftMove,
  stretchMove,
} from '@arvex/core';
import { remembered } from '../../../data';
import { Units } from '../../../session';
import { Card, DurationField, NumberField, PERCENT, Switch } from '../../../ui';
import { CameraBench } from '../../cameras';
import { Moves } from '../moves';
import { CopyMove } from './copy-move';
import { RateChange } from './rate-change';
import * as z from 'zod';

/** How long a move lasts, when it begins, which way it runs, how its speed changes. */
@Component({
  selector: 'arvex-timing-card',
  imports: [DurationField, Card, CopyMove, MatIcon, MatTooltip, NumberField, RateChange, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './timing-card.html',
})
export class TimingCard {
  protected readonly bench = new CameraBench();
  protected readonly moves = inject(Moves);
  protected readonly units = inject(Units);
  protected readonly percent = PERCENT;

  /** What goes along, in stretching, slow motion and another rate alike. */
  protected readonly along = remembered('stretch-takes', z.enum(GOES_ALONG), 'camera');
  protected readonly goesAlong = [
    { id: 'camera', name: 'camera', hint: 'The camera’s move alone; subjects keep their pace' },
    { id: 'subjects', name: 'subjects', hint: 'Who walks or moves in the set; the camera keeps its pace' },
    { id: 'both', name: 'both', hint: 'The camera and everything that moves in the set' },
  ] as const;
  /** Who else changes pace, by name: said before anything is stretched. */
  protected readonly alongWords = computed(() => {
    const project = this.bench.store.project();
    const moving = Object.values(project?.placements ?? {}).filter(
      ({ motion, clip }) => motion.kind !== 'still' || clip,
    );
    const names = moving.slice(0, 3).map(({ name }) => name);
    const who = [...names, ...(moving.length > 3 ? [`${moving.length - 3} more`] : [])].join(', ');
    if (moving.length === 0) return 'Nothing else moves in the set.';
    return this.along() === 'camera'
      ? `${who}: as they are. Other cameras too.`
      : `${who}: another pace, for all cameras. Their moves stay as they are.`;
  });
  protected readonly slows = [
    { factor: 2, name: 'half speed', hint: 'Twice as long' },
    { factor: 4, name: 'quarter speed', hint: 'Four times as long' },
    { factor: 0.5, name: 'double speed', hint: 'Half as long' },
  ] as const;
  protected readonly speeds = signal({ from: 0.5, to: 1.5 });
  protected readonly first = computed(() => this.bench.store.project()?.head.firstFrame ?? 0);
  protected readonly lengthFlicks = computed(() => {
    const span = this.moves.span();
    return span ? span[1] - span[0] : 0;
  });
  protected readonly seconds = computed(() => secondsFromFlicks(this.lengthFlicks()));
  protected readonly frames = computed(() => this.lengthFlicks() / this.moves.frameFlicks());
  protected readonly begins = computed(() => this.first() + (this.moves.span()?.[0] ?? 0) / this.moves.frameFlicks());
  protected readonly summary = computed(() =>
    this.moves.span() ? `${Math.round(this.frames())} f · ${this.seconds().toFixed(2)} s` : 'no move',
  );

  protected stretchTo(flicks: number): void {
    const options = { along: this.along() };
    this.moves.edit((project, cameraId) => stretchMove(project, cameraId, flicks, options));
  }

  /** Everything that goes along, so many times as long. */
  protected slowBy(factor: number): void {
    this.stretchTo(Math.max(1, Math.round(this.frames() * factor)) * this.moves.frameFlicks());
  }

  protected stretchSeconds(seconds: number): void {
    this.stretchTo(seconds * FLICKS_PER_SECOND);
  }

  protected stretchFrames(frames: number): void {
    this.stretchTo(Math.round(frames) * this.moves.frameFlicks());
  }

  protected begin(frame: number): void {
    const by = Math.round(frame - this.begins()) * this.moves.frameFlicks();
    const options = { along: this.along() };
    this.moves.edit((project, cameraId) => shiftMove(project, cameraId, by, options));
  }

  protected reverse(): void {
    this.moves.edit((project, cameraId) => reverseMove(project, cameraId));
  }

  protected ramp(): void {
    const { from, to } = this.speeds();
    this.moves.edit((project, cameraId) => rampMove(project, cameraId, from, to));
  }

  protected setSpeeds(parts: Partial<{ from: number; to: number }>): void {
    this.speeds.update((speeds) => ({ ...speeds, ...parts }));
  }
}
