import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { cutOf } from '@arvex/core';
import { Playhead } from '../../../session';
import { NumberField, Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

/** Which frames are rendered: all, some, every so many-th, with handles. */
@Component({
  selector: 'arvex-frames-editor',
  imports: [MatCheckbox, NumberField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Which</span>
      <arvex-switch
        label="Which frames"
        [choices]="choices()"
        [value]="order().frames.range ? 'range' : 'all'"
        (chosen)="choose($event)"
      />
    </div>
    @if (order().frames.range; as range) {
      <div class="row">
        <span class="label">Range</span>
        <arvex-number-field
          label="First frame"
          prefix="from"
          [decimals]="0"
          [min]="0"
          [value]="range.first"
          (valueSet)="setRange($event, range.last)"
        />
        <arvex-number-field
          label="Last frame"
          prefix="to"
          [decimals]="0"
          [min]="0"
          [value]="range.last"
          (valueSet)="setRange(range.first, $event)"
        />
      </div>
    }
    <div class="row">
      <span class="label">Every</span>
      <arvex-number-field
        label="Every so many-th frame"
        unit="f"
        [decimals]="0"
        [min]="1"
        [max]="1000"
        [value]="order().frames.step"
        hint="Movies go on at their true speed, at a lower rate"
        (valueSet)="setFrames({ step: whole($event) })"
      />
    </div>
    <mat-checkbox [checked]="order().takesKept" (change)="set({ takesKept: $event.checked })">
      only what has changed is made anew
    </mat-checkbox>
    @if (order().what.kind === 'shots') {
      <mat-checkbox [checked]="order().frames.handles" (change)="setFrames({ handles: $event.checked })">
        with the handles of each shot
      </mat-checkbox>
    }
  `,
})
export class FramesEditor extends OrderEditor {
  private readonly playhead = inject(Playhead);
  protected readonly choices = computed(() =>
    switchChoices(['all', 'range'] as const, {
      all: this.order().what.kind === 'cameras' ? 'own range' : 'all',
      range: 'from … to',
    }),
  );
  protected readonly whole = Math.round;

  protected choose(which: 'all' | 'range'): void {
    if (which === 'all') return this.setFrames({ range: null });
    const project = this.store.project();
    if (!project) return;
    const { firstFrame } = project.head;
    // What plays round and round is what one means.
    const playing = this.playhead.range();
    const count = cutOf(project, this.playhead.sequenceId()).frameCount;
    const [from, to] = playing ?? [0, Math.max(0, count - 1)];
    this.setFrames({ range: { first: firstFrame + from, last: firstFrame + to } });
  }

  protected setRange(first: number, last: number): void {
    const [a, b] = [Math.round(first), Math.round(last)];
    this.setFrames({ range: { first: Math.min(a, b), last: Math.max(a, b) } });
  }

  protected setFrames(change: Partial<ReturnType<typeof this.order>['frames']>): void {
    this.set({ frames: { ...this.order().frames, ...change } });
  }
}
