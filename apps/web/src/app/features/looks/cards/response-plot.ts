import type { ElementRef } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, input, output, signal, viewChild } from '@angular/core';
import type { ResponsePoint } from '@arvex/core';
import { bentBy, LEAST_APART, MID_TONE, MOST_POINTS, srgbFromLinear } from '@arvex/core';
import { followDrag } from '../../../ui';

/** Size of the plot, in its own units. */
const [WIDTH, HEIGHT] = [300, 190];
const SAMPLES = 96;
/** A key moves a point by so much; with Shift by more. */
const [STEP, LARGE_STEP] = [0.005, 0.05];
/** Stops about the mid-tone that are marked along the bottom. */
const STOPS = [-4, -3, -2, -1, 0, 1, 2, 3];

type Points = readonly ResponsePoint[];

/**
 * A response curve as points on a plot: along the bottom what light comes to by itself, marked in stops about the mid-tone, upward what is
 * shown. A press beside the points makes one; points are dragged, or moved by arrow keys; Delete takes one away.
 */
@Component({
  selector: 'arvex-response-plot',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg
      #plot
      [attr.viewBox]="'0 0 ' + width + ' ' + height"
      role="group"
      aria-label="Points of the response curve"
      (pointerdown)="press($event)"
    >
      @for (stop of stops; track stop.name) {
        <line
          class="grid"
          [class.middle]="stop.name === '0'"
          [attr.x1]="stop.x"
          [attr.x2]="stop.x"
          y1="0"
          [attr.y2]="height"
        />
        <text [attr.x]="stop.x + 2" [attr.y]="height - 4">{{ stop.name }}</text>
      }
      @for (share of quarters; track share) {
        <line class="grid" x1="0" [attr.x2]="width" [attr.y1]="share * height" [attr.y2]="share * height" />
      }
      <line class="straight" x1="0" [attr.y1]="height" [attr.x2]="width" y2="0" />
      @for (other of others(); track $index) {
        <path class="other" [attr.d]="pathOf(other.points)" [style.stroke]="other.colour" />
      }
      <path class="curve" [attr.d]="path()" [style.stroke]="colour()" />
      @for (point of shown(); track $index; let i = $index) {
        <circle
          tabindex="0"
          role="slider"
          r="5"
          [class.chosen]="chosen() === i"
          [attr.aria-label]="'Point ' + (i + 1)"
          [attr.aria-valuenow]="(point.y * 100).toFixed(0)"
          aria-valuemin="0"
          aria-valuemax="100"
          [attr.aria-valuetext]="(point.x * 100).toFixed(0) + ' % becomes ' + (point.y * 100).toFixed(0) + ' %'"
          [attr.cx]="point.x * width"
          [attr.cy]="(1 - point.y) * height"
          (focus)="chosen.set(i)"
          (pointerdown)="drag($event, i)"
          (keydown)="key($event, i)"
        />
      }
    </svg>
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      margin-bottom: 6px;
      border-radius: var(--radius);
      background: #121213;
      cursor: crosshair;
      touch-action: none;
    }
    .grid {
      stroke: #2a2a2c;
    }
    .grid.middle {
      stroke: #4a4a4e;
    }
    .straight {
      stroke: #4a4a4e;
      stroke-dasharray: 3 4;
    }
    path {
      fill: none;
    }
    .curve {
      stroke-width: 2;
    }
    .other {
      stroke-width: 1;
      opacity: 0.45;
    }
    circle {
      fill: #121213;
      stroke: #e8e6e1;
      stroke-width: 1.5;
      cursor: move;
    }
    circle.chosen {
      fill: #a3a6ff;
    }
    text {
      fill: #8b8b90;
      font-size: 9px;
      user-select: none;
    }
  `,
})
export class ResponsePlot {
  readonly points = input.required<Points>();
  readonly colour = input('#e8e6e1');
  /** Curves of other colours, behind. */
  readonly others = input<readonly { readonly points: Points; readonly colour: string }[]>([]);
  readonly slid = output<Points>();
  readonly pointsSet = output<Points>();

  protected readonly width = WIDTH;
  protected readonly height = HEIGHT;
  protected readonly quarters = [0.25, 0.5, 0.75];
  protected readonly stops = STOPS.map((stop) => ({
    name: stop > 0 ? `+${stop}` : String(stop),
    x: srgbFromLinear(MID_TONE * 2 ** stop) * WIDTH,
  }));
  protected readonly chosen = signal<number | undefined>(undefined);
  private readonly dragged = signal<Points | undefined>(undefined);
  private readonly plot = viewChild.required<ElementRef<SVGSVGElement>>('plot');
  protected readonly shown = computed(() => this.dragged() ?? this.points());
  protected readonly path = computed(() => this.pathOf(this.shown()));

  protected pathOf(points: Points): string {
    const curve = bentBy(points);
    return Array.from({ length: SAMPLES + 1 }, (_, i) => {
      const x = i / SAMPLES;
      return `${i === 0 ? 'M' : 'L'}${(x * WIDTH).toFixed(1)} ${((1 - curve(x)) * HEIGHT).toFixed(1)}`;
    }).join('');
  }

  /** A press beside the points makes one on the curve, and takes hold of it. */
  protected press(event: PointerEvent): void {
    if (event.button !== 0 || (event.target as Element).tagName === 'circle') return;
    const points = this.points();
    if (points.length >= MOST_POINTS) return;
    const at = this.placeOf(event);
    const index = points.findIndex(({ x }) => x > at.x);
    const made = points.toSpliced(index < 0 ? points.length : index, 0, at);
    const own = made.indexOf(at);
    if (!standsApart(made)) return;
    this.follow(event, made, own, true);
  }

  protected drag(event: PointerEvent, index: number): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    this.follow(event, this.points(), index, false);
  }

  protected key(event: KeyboardEvent, index: number): void {
    const step = event.shiftKey ? LARGE_STEP : STEP;
    const ways: Readonly<Record<string, readonly [number, number]>> = {
      ArrowUp: [0, step],
      ArrowDown: [0, -step],
      ArrowLeft: [-step, 0],
      ArrowRight: [step, 0],
    };
    const way = ways[event.key];
    const points = this.points();
    const point = points[index];
    if (way && point) this.pointsSet.emit(movedTo(points, index, { x: point.x + way[0], y: point.y + way[1] }));
    else if ((event.key === 'Delete' || event.key === 'Backspace') && points.length > 2)
      this.pointsSet.emit(points.toSpliced(index, 1));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }

  private follow(event: PointerEvent, begun: Points, index: number, isNew: boolean): void {
    this.chosen.set(index);
    let now = begun;
    if (isNew) this.show(begun);
    followDrag(
      event,
      ({ event: moved }) => {
        now = movedTo(begun, index, this.placeOf(moved));
        this.show(now);
      },
      (kept, released) => {
        this.dragged.set(undefined);
        if (kept || (isNew && released)) this.pointsSet.emit(now);
        else this.slid.emit(this.points());
      },
    );
  }

  private show(points: Points): void {
    this.dragged.set(points);
    this.slid.emit(points);
  }

  private placeOf({ clientX, clientY }: PointerEvent): ResponsePoint {
    const { left, top, width, height } = this.plot().nativeElement.getBoundingClientRect();
    return { x: share((clientX - left) / width), y: share(1 - (clientY - top) / height) };
  }
}

const share = (value: number): number => Math.round(Math.max(0, Math.min(1, value)) * 1000) / 1000;

/** Points with one of them moved, between its neighbours. */
function movedTo(points: Points, index: number, { x, y }: ResponsePoint): Points {
  const low = (points[index - 1]?.x ?? -LEAST_APART) + LEAST_APART;
  const high = (points[index + 1]?.x ?? 1 + LEAST_APART) - LEAST_APART;
  return points.with(index, { x: share(Math.max(low, Math.min(high, x))), y: share(y) });
}

const standsApart = (points: Points): boolean =>
  points.every((point, i) => i === 0 || point.x - (points[i - 1]?.x ?? 0) >= LEAST_APART);
