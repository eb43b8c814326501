import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { DisplayUnit, GeometryFile, Placement, Vector } from '@arvex/core';
import { eachAxis, guessUnit, METRES_PER_UNIT, setPlacement, withAxis } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Units } from '../../../session';
import { NumberField } from '../../../ui';
import { FrameSelection } from '../frame-selection';
import { SetPieces } from '../pieces';

/** Height of the figure that stands beside what came in, metres. */
const FIGURE_M = 1.75;
const DRAWING = { width: 292, height: 96 } as const;
const UNIT_NAMES: Readonly<Record<DisplayUnit, string>> = { m: 'metre', cm: 'cm', mm: 'mm', ft: 'foot', in: 'inch' };

/** How large imported geometry is: beside a figure, in numbers, and taken in other units. */
@Component({
  selector: 'arvex-geometry-size',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + drawing.width + ' ' + drawing.height" role="img" [attr.aria-label]="sizeText()">
      <line
        class="floor"
        x1="0"
        [attr.y1]="drawing.height - 4"
        [attr.x2]="drawing.width"
        [attr.y2]="drawing.height - 4"
      />
      <rect
        class="thing"
        [attr.x]="shape().x"
        [attr.y]="drawing.height - 4 - shape().height"
        [attr.width]="shape().width"
        [attr.height]="shape().height"
      />
      <g
        [attr.transform]="
          'translate(' + shape().figureX + ' ' + (drawing.height - 4) + ') scale(' + shape().figure + ')'
        "
      >
        <circle cx="0" cy="-0.935" r="0.065" />
        <path
          d="M-0.1-0.84q0.1-0.04 0.2 0l0.06 0.4-0.05 0.01-0.04-0.26-0.01 0.2 0.03 0.49h-0.08l-0.01-0.44-0.01 0.44h-0.08l0.03-0.49-0.01-0.2-0.04 0.26-0.05-0.01z"
        />
      </g>
      <text [attr.x]="shape().figureX" [attr.y]="drawing.height - 8 - shape().figure" text-anchor="middle">
        {{ units.text(figureM) }}
      </text>
    </svg>
    <p class="num">{{ sizeText() }} · {{ file().triangles }} {{ file().triangles === 1 ? 'triangle' : 'triangles' }}</p>
    @if (guess(); as unit) {
      <p class="warning">
        That is an unlikely size. Taken in {{ names[unit] }} it is {{ units.text(largest() * ratio(unit)) }} at its
        longest.
      </p>
    }
    <div class="row">
      <span class="label">File’s unit</span>
      <div class="choices" role="group" aria-label="Unit in which the file was made">
        @for (unit of unitIds; track unit) {
          <button
            type="button"
            [attr.aria-pressed]="unit === madeIn()"
            [class.guess]="unit === guess()"
            [disabled]="placement().locked"
            (click)="rescale(unit)"
          >
            {{ names[unit] }}
          </button>
        }
      </div>
    </div>
    <div class="row">
      <span class="label">Scale</span>
      @for (axis of axes; track axis.index) {
        <arvex-number-field
          [label]="'Scale ' + axis.name"
          [hint]="axis.name"
          unit="×"
          [decimals]="3"
          [min]="0.000001"
          [max]="1000000"
          [value]="placement().scale[axis.index] ?? 1"
          [disabled]="placement().locked"
          (valueSet)="setScale(axis.index, $event)"
        />
      }
    </div>
    @for (text of file().leftOut; track text) {
      <p class="left-out">left out: {{ text }}</p>
    }
  `,
  styles: `
    svg {
      display: block;
      width: 100%;
      margin-bottom: 6px;
      border-radius: var(--radius);
      background: var(--ground);
    }
    .thing {
      fill: var(--iris-wash);
      stroke: var(--iris);
    }
    .floor {
      stroke: var(--line);
    }
    g {
      fill: var(--chalk-2);
    }
    text {
      fill: var(--chalk-2);
      font: 10px var(--mono);
    }
    p {
      margin: 0 0 7px;
      font-size: 12px;
    }
    .left-out {
      color: var(--chalk-2);
    }
    .guess {
      box-shadow: inset 0 0 0 1px var(--amber);
    }
  `,
})
export class GeometrySize {
  private readonly pieces = inject(SetPieces);
  private readonly store = inject(ProjectStore);
  private readonly frame = inject(FrameSelection);
  protected readonly units = inject(Units);
  readonly placement = input.required<Placement>();
  readonly file = input.required<GeometryFile>();

  protected readonly drawing = DRAWING;
  protected readonly figureM = FIGURE_M;
  protected readonly names = UNIT_NAMES;
  protected readonly unitIds = Object.keys(METRES_PER_UNIT) as DisplayUnit[];
  protected readonly axes = ['x', 'y', 'z'].map((name, index) => ({ name, index }));

  private readonly size = computed(() => {
    const [{ minM, maxM }, { scale }] = [this.file(), this.placement()];
    return eachAxis((i) => (maxM[i] - minM[i]) * scale[i]);
  });
  protected readonly largest = computed(() => Math.max(...this.size()));
  protected readonly sizeText = computed(() =>
    this.size()
      .map((side) => this.units.text(side))
      .join(' × '),
  );
  protected readonly guess = computed(() => guessUnit(this.size()));
  /** The unit whose size in metres is the present scale, if there is one. */
  protected readonly madeIn = computed(() =>
    this.unitIds.find((unit) =>
      this.placement().scale.every((one) => Math.abs(one / METRES_PER_UNIT[unit] - 1) < 1e-6),
    ),
  );
  /** Thing and figure side by side, as large as the drawing allows. */
  protected readonly shape = computed(() => {
    const [x, y, z] = this.size();
    const across = Math.max(x, z);
    const gap = 0.15 * Math.max(across, FIGURE_M);
    const scale = Math.min(
      (DRAWING.height - 22) / Math.max(y, FIGURE_M),
      (DRAWING.width - 30) / (across + gap + FIGURE_M * 0.3),
    );
    const width = Math.max(1, across * scale);
    const figure = FIGURE_M * scale;
    const left = (DRAWING.width - width - gap * scale - figure * 0.3) / 2;
    return {
      x: left,
      width,
      height: Math.max(1, y * scale),
      figure,
      figureX: left + width + gap * scale + figure * 0.15,
    };
  });

  /** How much larger or smaller it becomes when it is taken in another unit than now. */
  protected ratio(unit: DisplayUnit): number {
    return METRES_PER_UNIT[unit] / (this.placement().scale[0] || 1);
  }

  protected rescale(unit: DisplayUnit): void {
    const size = METRES_PER_UNIT[unit];
    const { positionM, scale: before } = this.placement();
    // It stays where it was set down: the middle of its foot does not move. What stands at the origin came with it.
    const { minM, maxM } = this.file();
    const footM: Vector = [(minM[0] + maxM[0]) / 2, minM[1], (minM[2] + maxM[2]) / 2];
    const isAtOrigin = positionM.every((part) => part === 0);
    const moved = eachAxis((axis) => positionM[axis] + (isAtOrigin ? 0 : footM[axis] * (before[axis] - size)));
    this.pieces.edit((project) =>
      setPlacement(project, this.placement().id, `Take in ${UNIT_NAMES[unit]}:`, {
        scale: [size, size, size],
        positionM: moved,
      }),
    );
    // Alone in the set it was looked at in its wrong size.
    if (Object.keys(this.store.project()?.placements ?? {}).length === 1) this.frame.toSelection();
  }

  protected setScale(axis: number, value: number): void {
    const scale = withAxis(this.placement().scale, axis, value);
    this.pieces.edit((project) => setPlacement(project, this.placement().id, 'Scale', { scale }));
  }
}
