import { ChangeDetectionStrategy, Component, computed, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { HoldAt, RetimeKeeps, SpeedKey } from '@arvex/core';
import {
  fitAction,
  holdFrame,
  isTrueSpeed,
  rampOf,
  reverseShot,
  sceneEndOf,
  setRamp,
  setSpeed,
  speedAfter,
  trueSpeed,
} from '@arvex/core';
import { Card, IconButton, NumberField, PERCENT, Switch, switchChoices } from '../../../ui';
import { ShotBench } from '../shot-bench';
import { SpeedCurve } from './speed-curve';

/** How scene time goes by in a shot: slow, fast, backward, held, ramped. */
@Component({
  selector: 'arvex-speed-card',
  imports: [Card, IconButton, MatIcon, NumberField, SpeedCurve, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './speed-card.html',
  styles: `
    .key {
      gap: 4px;

      arvex-switch {
        flex: 0 0 138px;
      }
    }
  `,
})
export class SpeedCard {
  protected readonly bench = new ShotBench();
  protected readonly percent = PERCENT;
  protected readonly keeps = signal<RetimeKeeps>('action');
  protected readonly keepsChoices = [
    { id: 'action', name: 'the action', hint: 'The shot shows the same, and is longer or shorter for it' },
    { id: 'length', name: 'the length', hint: 'The shot is as long, and shows less or more of the action' },
  ] as const;
  protected readonly eases = switchChoices(['even', 'eased', 'held']);
  protected readonly holdFrames = signal(12);

  protected readonly retime = computed(() => this.bench.shot()?.retime);
  /** Of the whole shot, times the true speed. */
  protected readonly speed = computed(() => {
    const [placed, retime] = [this.bench.placed(), this.retime()];
    if (!placed || !retime) return 1;
    if (retime.ramp.length === 0) return retime.speed;
    return (sceneEndOf(placed) - placed.sceneStartFlicks) / placed.shot.durationFlicks;
  });
  protected readonly isTrue = computed(() => {
    const retime = this.retime();
    return !retime || isTrueSpeed(retime);
  });
  protected readonly ramp = computed(() =>
    (this.retime()?.ramp ?? []).map((key) => ({ key, frame: this.bench.frames(key.afterFlicks) })),
  );
  protected readonly holds = computed(() =>
    (this.retime()?.holds ?? []).map((hold) => ({
      frame: this.bench.frames(hold.afterFlicks) + 1,
      frames: this.bench.frames(hold.durationFlicks),
    })),
  );
  protected readonly shown = computed(() => {
    const placed = this.bench.placed();
    if (!placed) return '';
    const { sceneStartFlicks: from } = placed;
    return `${this.bench.sceneTime(from)} to ${this.bench.sceneTime(Math.max(0, sceneEndOf(placed)))}`;
  });
  protected readonly summary = computed(() => {
    const { ramp, holds } = this.retime() ?? { ramp: [], holds: [] };
    const what = [`${Math.round(this.speed() * 1000) / 10} %`];
    if (ramp.length > 0) what.push('ramp');
    if (holds.length > 0) what.push('held');
    return what.join(' · ');
  });
  protected setSpeed(speed: number): void {
    this.bench.edit((project, id) => setSpeed(project, id, speed, this.keeps()));
  }

  protected fit(frames: number): void {
    this.bench.edit((project, id) => fitAction(project, id, Math.round(frames)));
  }

  protected reverse(): void {
    this.bench.edit(reverseShot);
  }

  protected whole(): void {
    this.bench.edit(trueSpeed);
  }

  /** Holds a frame: at an end, or the one at the playhead. */
  protected hold(at: 'in' | 'out' | 'here'): void {
    const placed = this.bench.placed();
    if (!placed) return;
    const here = Math.max(0, Math.min(placed.frameCount - 1, this.bench.playhead.frame() - placed.startFrame));
    const where: HoldAt = at === 'here' ? here : at;
    this.bench.edit((project, id) => holdFrame(project, id, where, this.holdFrames()));
  }

  protected makeRamp(): void {
    const shot = this.bench.shot();
    if (shot) this.bench.edit((project, id) => setRamp(project, id, rampOf(shot)));
  }

  /** A key where the playhead is. */
  protected addKey(): void {
    const [placed, retime] = [this.bench.placed(), this.retime()];
    if (!placed || !retime) return;
    const after = this.bench.flicks(this.bench.playhead.frame() - placed.startFrame);
    const key: SpeedKey = { afterFlicks: after, speed: speedAfter({ ...retime, holds: [] }, after), ease: 'eased' };
    this.bench.edit((project, id) => setRamp(project, id, [...retime.ramp, key]));
  }

  protected setKey(index: number, parts: Partial<SpeedKey>): void {
    const ramp = (this.retime()?.ramp ?? []).map((key, i) => (i === index ? { ...key, ...parts } : key));
    this.bench.edit((project, id) => setRamp(project, id, ramp));
  }

  protected setKeyFrame(index: number, frame: number): void {
    this.setKey(index, { afterFlicks: this.bench.flicks(frame) });
  }

  protected dropKey(index: number): void {
    const ramp = (this.retime()?.ramp ?? []).filter((_, i) => i !== index);
    this.bench.edit((project, id) => setRamp(project, id, ramp));
  }
}
