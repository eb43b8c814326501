import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, viewChild } from '@angular/core';
import type { SpeedKey } from '@arvex/core';
import { setRamp, speedAfter } from '@arvex/core';
import { followDrag } from '../../../ui';
import { Tried } from '../../../session';
import { ShotBench } from '../shot-bench';

/** Width and height of the drawn speed, and how many steps it is drawn in. */
const [WIDTH, HEIGHT, STEPS] = [300, 56, 100];
/** Room over and under the curve, pixels. */
const EDGE = 4;
/** Speeds that a key can be dragged to are so far apart, and no faster than that either way, times the true speed. */
const [SPEED_STEP, FASTEST] = [0.05, 20];

/** The speed of the shot in hand along its length, drawn; the keys of a ramp are dragged on it. */
@Component({
  selector: 'arvex-speed-curve',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div #curve class="curve">
      <svg
        [attr.viewBox]="view"
        preserveAspectRatio="none"
        role="img"
        [attr.aria-label]="'Speed along the shot: ' + words()"
      >
        <line x1="0" [attr.x2]="width" [attr.y1]="drawn().one" [attr.y2]="drawn().one" />
        <path [attr.d]="drawn().path" />
      </svg>
      @for (one of handles(); track $index) {
        <button
          type="button"
          class="key"
          [style.left.%]="one.left"
          [style.top.px]="one.top"
          [attr.aria-label]="one.words"
          [title]="one.words"
          (pointerdown)="pull($event, $index)"
          (keydown)="nudge($event, $index)"
        ></button>
      }
    </div>
  `,
  styles: `
    .curve {
      position: relative;
      margin: 4px 12px 8px;
    }
    .key {
      position: absolute;
      width: 24px;
      height: 24px;
      translate: -50% -50%;
      touch-action: none;
      cursor: move;

      &::after {
        content: '';
        position: absolute;
        inset: 8px;
        rotate: 45deg;
        background: var(--iris);
      }
      &:focus-visible::after,
      &:hover::after {
        inset: 6px;
      }
    }
    svg {
      display: block;
      width: 100%;
      height: 56px;
      border: 1px solid var(--line-soft);
      border-radius: var(--radius);
      background: var(--raised);
    }
    path {
      fill: none;
      stroke: var(--iris);
      stroke-width: 1.5;
      vector-effect: non-scaling-stroke;
    }
    line {
      stroke: var(--line);
      stroke-dasharray: 3 3;
      vector-effect: non-scaling-stroke;
    }
  `,
})
export class SpeedCurve {
  private readonly trying = inject(Tried).cut;
  /** The same in words. */
  readonly words = input.required<string>();
  private readonly bench = new ShotBench();
  private readonly curve = viewChild.required<ElementRef<HTMLElement>>('curve');
  protected readonly view = `0 0 ${WIDTH} ${HEIGHT}`;
  protected readonly width = WIDTH;
  private readonly retime = computed(() => this.bench.shot()?.retime);

  /** The speed along the shot, drawn. */
  protected readonly drawn = computed(() => {
    const [shot, retime] = [this.bench.shot(), this.retime()];
    if (!shot || !retime) return { path: '', one: 0, y: () => 0, perPx: 0 };
    const speeds = Array.from({ length: STEPS }, (_, i) =>
      speedAfter(retime, ((i + 0.5) / STEPS) * shot.durationFlicks),
    );
    const [low, high] = [Math.min(0, ...speeds), Math.max(1.1, ...speeds.map((one) => one * 1.1))];
    const y = (speed: number) => HEIGHT - EDGE - ((speed - low) / (high - low)) * (HEIGHT - 2 * EDGE);
    const path = speeds.map((one, i) => `${i === 0 ? 'M' : 'L'}${((i + 0.5) / STEPS) * WIDTH},${y(one)}`).join('');
    return { path, one: y(1), y, perPx: (high - low) / (HEIGHT - 2 * EDGE) };
  });
  /** The keys of the ramp on its drawing. What is held stands between them. */
  protected readonly handles = computed(() => {
    const [shot, retime] = [this.bench.shot(), this.retime()];
    if (!shot || !retime) return [];
    return retime.ramp.map((key, i) => {
      const before = retime.holds.filter(({ afterFlicks }) => afterFlicks < key.afterFlicks);
      const at = before.reduce((sum, { durationFlicks }) => sum + durationFlicks, key.afterFlicks);
      const said = `Key ${i + 1}, frame ${this.bench.frames(key.afterFlicks)}, ${Math.round(key.speed * 100)} %`;
      const words = `${said}: drag it, or the arrow keys`;
      return { left: Math.min(100, (at / shot.durationFlicks) * 100), top: this.drawn().y(key.speed), words };
    });
  });

  /** Drags a key along the shot and up to another speed: tried on the cut until it is let go. */
  protected pull(event: PointerEvent, index: number): void {
    const [shot, key] = [this.bench.shot(), this.retime()?.ramp[index]];
    if (event.button !== 0 || !shot || !key) return;
    const { ramp } = shot.retime;
    const framesPerPx = this.bench.frames(shot.durationFlicks) / this.curve().nativeElement.clientWidth;
    const { perPx } = this.drawn();
    let dragged: readonly SpeedKey[] | undefined;
    followDrag(
      event,
      ({ dx, dy }) => {
        const keys = this.moved(ramp, index, Math.round(dx * framesPerPx), -dy * perPx);
        dragged = keys;
        this.trying.show({ edit: (project) => setRamp(project, shot.id, keys) });
      },
      (kept) => {
        this.trying.end();
        const keys = dragged;
        if (kept && keys) this.bench.edits.run((project) => setRamp(project, shot.id, keys));
      },
    );
  }

  /** The same by the arrow keys. */
  protected nudge(event: KeyboardEvent, index: number): void {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, SPEED_STEP], ArrowDown: [0, -SPEED_STEP] };
    const [frames = 0, speed = 0] = by[event.key as keyof typeof by] ?? [];
    if (frames === 0 && speed === 0) return;
    event.preventDefault();
    event.stopPropagation();
    this.bench.edit((project, id) => setRamp(project, id, this.moved(this.retime()?.ramp ?? [], index, frames, speed)));
  }

  /** A ramp with one of its keys elsewhere: between its neighbours, inside the shot. */
  private moved(ramp: readonly SpeedKey[], index: number, frames: number, speed: number): readonly SpeedKey[] {
    const frameOf = (at: number) => {
      const key = ramp[at];
      return key && this.bench.frames(key.afterFlicks);
    };
    const least = (frameOf(index - 1) ?? -1) + 1;
    const most = (frameOf(index + 1) ?? this.bench.placed()?.frameCount ?? 0) - (ramp[index + 1] ? 1 : 0);
    const frame = Math.max(least, Math.min(most, (frameOf(index) ?? 0) + frames));
    return ramp.map((key, i) => {
      if (i !== index) return key;
      const stepped = Math.round((key.speed + speed) / SPEED_STEP) * SPEED_STEP;
      const to = Math.max(-FASTEST, Math.min(FASTEST, Number(stepped.toFixed(2))));
      return { ...key, afterFlicks: this.bench.flicks(frame), speed: speed === 0 ? key.speed : to };
    });
  }
}
