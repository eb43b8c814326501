import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import type { Placement, Vector } from '@arvex/core';
import {
  alongAxis,
  boxCornersAt,
  onPlane,
  placementAt,
  placementBox,
  projectPoint,
  sightThrough,
  turned,
  withAxis,
} from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { StageHost } from '../../drawing';
import { PieceDrag, SetPieces } from '../../features/set';
import { Selection, SnapGrid, Viewpoint } from '../../session';
import { followDrag } from '../../ui';

/** Corners of a box joined by its edges: they differ in one bit. */
const EDGES = [0, 1, 2, 3, 4, 5, 6, 7].flatMap((a) =>
  [1, 2, 4].flatMap((bit) => (a & bit ? [] : [[a, a | bit] as const])),
);
const RING_POINTS = 40;
/** Length of the arrows as share of the distance to the eye, so that they look alike near and far. */
const ARROW_SHARE = 0.13;
const AXES: readonly { name: string; label: string; axis: Vector }[] = [
  { name: 'east', label: 'E', axis: [1, 0, 0] },
  { name: 'up', label: 'up', axis: [0, 1, 0] },
  { name: 'south', label: 'S', axis: [0, 0, 1] },
];

interface Spot {
  readonly x: number;
  readonly y: number;
}

/** What is chosen, with handles that move it along the world's axes and over surfaces, turn it and size it. */
@Component({
  selector: 'arvex-piece-handles',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width() + ' ' + height()" aria-label="Handles of what is chosen" role="group">
      @for (edges of boxes(); track $index) {
        <path class="box" [attr.d]="edges" />
      }
      @if (handles(); as shown) {
        <path class="ring grip" [attr.d]="shown.ring" (pointerdown)="beginTurn($event)" data-handle="turn" />
        <path class="ring" [attr.d]="shown.ring" />
        @for (arrow of shown.arrows; track arrow.name) {
          <g class="arrow" [attr.data-handle]="arrow.name" (pointerdown)="beginAxis($event, arrow.axis)">
            <line
              class="grip"
              [attr.x1]="shown.foot.x"
              [attr.y1]="shown.foot.y"
              [attr.x2]="arrow.x"
              [attr.y2]="arrow.y"
            />
            <line [attr.x1]="shown.foot.x" [attr.y1]="shown.foot.y" [attr.x2]="arrow.x" [attr.y2]="arrow.y" />
            <circle [attr.cx]="arrow.x" [attr.cy]="arrow.y" r="9" />
            <text [attr.x]="arrow.x" [attr.y]="arrow.y + 3.5">{{ arrow.label }}</text>
          </g>
        }
        @for (knob of shown.knobs; track knob.name) {
          <rect
            class="knob"
            [attr.data-handle]="'size ' + knob.name"
            [attr.x]="knob.x - 5"
            [attr.y]="knob.y - 5"
            width="10"
            height="10"
            (pointerdown)="beginSize($event, knob)"
          />
        }
        <circle
          class="foot"
          data-handle="move"
          [attr.cx]="shown.foot.x"
          [attr.cy]="shown.foot.y"
          r="8"
          (pointerdown)="beginMove($event)"
        />
      }
    </svg>
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      overflow: hidden;
      pointer-events: none;
    }
    svg {
      display: block;
      width: 100%;
      height: 100%;
    }
    .box,
    .ring {
      fill: none;
      stroke: var(--iris);
      stroke-width: 1.25;
    }
    .box {
      opacity: 0.75;
    }
    line {
      stroke: var(--iris);
      stroke-width: 2;
    }
    .grip {
      stroke: transparent;
      stroke-width: 14;
      pointer-events: stroke;
      cursor: grab;
    }
    .arrow circle,
    .foot,
    .knob {
      fill: #17172b;
      stroke: var(--iris);
      stroke-width: 1.5;
      pointer-events: all;
      cursor: grab;
    }
    .foot {
      fill: var(--iris);
    }
    .arrow circle:hover,
    .knob:hover {
      fill: #3a3c66;
    }
    text {
      fill: #ece8e1;
      font: 500 9px var(--sans);
      text-anchor: middle;
      pointer-events: none;
    }
  `,
})
export class PieceHandles {
  private readonly selection = inject(Selection);
  private readonly viewpoint = inject(Viewpoint);
  private readonly pieceDrag = inject(PieceDrag);
  private readonly pieces = inject(SetPieces);
  private readonly snapGrid = inject(SnapGrid);
  private readonly host = inject(StageHost);

  /** Answers of the stage that come after a drag has ended move nothing any more. */
  private ended = true;

  readonly view = input.required<StageView>();
  readonly width = input.required<number>();
  readonly height = input.required<number>();

  private readonly chosen = computed<readonly Placement[]>(() => {
    const placements = this.viewpoint.drawnProject()?.placements ?? {};
    return this.selection.ids().flatMap((id) => placements[id] ?? []);
  });
  protected readonly boxes = computed(() => {
    const project = this.viewpoint.drawnProject();
    return project ? this.chosen().map((one) => this.edgesOf(boxCornersAt(project, one, this.view().atFlicks))) : [];
  });
  protected readonly handles = computed(() => {
    const [project, last] = [this.viewpoint.drawnProject(), this.chosen().at(-1)];
    if (!project || !last || last.locked) return undefined;
    const { positionM, quaternion } = placementAt(project, last.id, this.view().atFlicks);
    const foot = this.spot(positionM);
    if (!foot) return undefined;
    const eye = this.view().pose.positionM;
    const away = Math.hypot(positionM[0] - eye[0], positionM[1] - eye[1], positionM[2] - eye[2]);
    const reach = away * ARROW_SHARE;
    const { minM, maxM } = placementBox(project, last);
    const sizes = [maxM[0] - minM[0], maxM[1] - minM[1], maxM[2] - minM[2]];
    const faces = [
      { name: 'width', factor: 0, at: [maxM[0], (minM[1] + maxM[1]) / 2, (minM[2] + maxM[2]) / 2] as Vector },
      { name: 'height', factor: 1, at: [minM[0], maxM[1], maxM[2]] as Vector },
      { name: 'depth', factor: 2, at: [(minM[0] + maxM[0]) / 2, (minM[1] + maxM[1]) / 2, maxM[2]] as Vector },
    ];
    return {
      foot,
      ring: this.ringPath(positionM, reach * 0.7),
      arrows: AXES.flatMap(({ name, label, axis }) => {
        const spot = this.spot([
          positionM[0] + axis[0] * reach,
          positionM[1] + axis[1] * reach,
          positionM[2] + axis[2] * reach,
        ]);
        return spot ? [{ name, label, axis, ...spot }] : [];
      }),
      knobs: faces.flatMap(({ name, factor, at }) => {
        const size = sizes[factor] ?? 0;
        const local = turned(at, quaternion);
        const spot = this.spot([positionM[0] + local[0], positionM[1] + local[1], positionM[2] + local[2]]);
        const axis = turned([Number(factor === 0), Number(factor === 1), Number(factor === 2)], quaternion);
        return spot && size > 0.02 ? [{ name, factor, axis, size, ...spot }] : [];
      }),
    };
  });

  protected beginAxis(event: PointerEvent, axis: Vector): void {
    const origin = this.begin(event);
    const from = origin && alongAxis(this.ray(event), origin, axis);
    if (!origin || from === undefined) return;
    this.follow(event, (ray) => {
      const along = alongAxis(ray, origin, axis);
      if (along === undefined) return;
      const by = this.snapGrid.length(along - from);
      this.pieceDrag.move([axis[0] * by, axis[1] * by, axis[2] * by]);
    });
  }

  /** Moves over the surface under the pointer, or over the floor at its own height. */
  protected beginMove(event: PointerEvent): void {
    const origin = this.begin(event);
    if (!origin) return;
    const except = this.selection.ids();
    this.follow(event, (ray) => {
      const flat = onPlane(ray, origin, [0, 1, 0]);
      const toFloor = () =>
        flat && this.moveTo(origin, [this.snapGrid.length(flat[0]), origin[1], this.snapGrid.length(flat[2])]);
      if (!this.snapGrid.surface()) {
        toFloor();
        return;
      }
      void this.host.cast(ray.fromM, ray.direction, 5000, except).then((hit) => {
        if (hit) this.moveTo(origin, hit.pointM);
        else toFloor();
      });
    });
  }

  protected beginTurn(event: PointerEvent): void {
    const origin = this.begin(event);
    if (!origin) return;
    const angleAt = (point: Vector) => (Math.atan2(point[0] - origin[0], -(point[2] - origin[2])) * 180) / Math.PI;
    const first = onPlane(this.ray(event), origin, [0, 1, 0]);
    if (!first) return;
    this.follow(event, (ray) => {
      const point = onPlane(ray, origin, [0, 1, 0]);
      if (!point) return;
      const turn = angleAt(point) - angleAt(first);
      this.pieceDrag.turn(this.snapGrid.angle(turn - 360 * Math.round(turn / 360)));
    });
  }

  protected beginSize(event: PointerEvent, knob: { factor: number; axis: Vector; size: number }): void {
    const origin = this.begin(event);
    const from = origin && alongAxis(this.ray(event), origin, knob.axis);
    if (!origin || from === undefined) return;
    // What grows from its middle grows on both sides; what stands grows upward only.
    const sides = knob.factor === 1 ? 1 : 2;
    this.follow(event, (ray) => {
      const along = alongAxis(ray, origin, knob.axis);
      if (along === undefined) return;
      const size = Math.max(0.02, this.snapGrid.length(knob.size + (along - from) * sides) || 0.02);
      this.pieceDrag.size(withAxis([1, 1, 1], knob.factor, size / knob.size));
    });
  }

  /** @returns where the last one chosen stands. */
  private begin(event: PointerEvent): Vector | undefined {
    const [project, last] = [this.viewpoint.drawnProject(), this.chosen().at(-1)];
    if (event.button !== 0 || !project || !last) return undefined;
    event.stopPropagation();
    event.preventDefault();
    return placementAt(project, last.id, this.pieces.atFlicks).positionM;
  }

  private follow(start: PointerEvent, moved: (ray: ReturnType<PieceHandles['ray']>) => void): void {
    const svg = (start.currentTarget as SVGElement).closest('svg');
    this.ended = false;
    followDrag(
      start,
      ({ event }) => svg && moved(this.ray(event, svg)),
      (kept) => {
        this.ended = true;
        this.pieceDrag.end(kept);
      },
    );
  }

  private moveTo(from: Vector, to: Vector): void {
    if (!this.ended) this.pieceDrag.move([to[0] - from[0], to[1] - from[1], to[2] - from[2]]);
  }

  private ray(event: PointerEvent, svg = (event.currentTarget as SVGElement).closest('svg')) {
    const box = svg?.getBoundingClientRect() ?? { left: 0, top: 0, width: 1, height: 1 };
    const { pose, lens, window } = this.view();
    const [x, y] = [(event.clientX - box.left) / box.width, (event.clientY - box.top) / box.height];
    return sightThrough(x, y, pose, lens, window);
  }

  private spot(point: Vector): Spot | undefined {
    const { pose, lens, window } = this.view();
    const seen = projectPoint(point, pose, lens, window);
    return seen && { x: seen.x * this.width(), y: seen.y * this.height() };
  }

  private edgesOf(corners: readonly Vector[]): string {
    const spots = corners.map((corner) => this.spot(corner));
    return EDGES.flatMap(([a, b]) => {
      const [from, to] = [spots[a], spots[b]];
      return from && to ? [`M${from.x} ${from.y}L${to.x} ${to.y}`] : [];
    }).join('');
  }

  private ringPath([x, y, z]: Vector, radius: number): string {
    const spots = Array.from({ length: RING_POINTS + 1 }, (_, i) => {
      const angle = (i / RING_POINTS) * 2 * Math.PI;
      return this.spot([x + Math.cos(angle) * radius, y, z + Math.sin(angle) * radius]);
    });
    return spots.map((spot, i) => (spot ? `${spots[i - 1] ? 'L' : 'M'}${spot.x} ${spot.y}` : '')).join('');
  }
}
