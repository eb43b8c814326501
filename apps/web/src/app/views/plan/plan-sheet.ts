import { computed, DestroyRef, inject, signal } from '@angular/core';
import { LENGTH_IN_METRES } from '@arvex/core';
import { Units } from '../../session';
import type { PlanPoint } from './plan-shapes';
import { roundLengthM } from './plan-shapes';

/** Metres across of a plan with nothing in it, the least of one with something, and the limits of zooming. */
const EMPTY_WIDTH_M = 20;
const LEAST_SHOWN_M = 10;
const WIDTHS_M = { min: 2, max: 3000 };
const ZOOM_STEP = 1.15;
/** Share of the plan that an arrow key moves it by. */
const KEY_SHARE = 0.1;
/** The grid's lines, and the ends of the scale bar, are about so far apart, pixels. */
const GRID_PX = 110;
const BAR_PX = 140;

/** What is smaller than this on the sheet is a dot, pixels. */
const TOLD_APART_PX = 8;

function extent(values: readonly number[]): number {
  return Math.max(...values) - Math.min(...values);
}

/**
 * The sheet on which the plan is drawn: what of the floor it shows and how large, moved and zoomed by hand, wheel and keys.
 * Needs an injection context.
 */
export class PlanSheet {
  private readonly units = inject(Units);
  private readonly size = signal({ width: 1, height: 1 });
  private readonly centre = signal<PlanPoint>([0, 0]);
  private readonly widthM = signal(EMPTY_WIDTH_M);

  /** Metres for a CSS pixel. */
  readonly perPixel = computed(() => this.widthM() / this.size().width);
  readonly viewBox = computed(() => {
    const [x, z] = this.centre();
    const [width, height] = [this.widthM(), this.size().height * this.perPixel()];
    return `${x - width / 2} ${z - height / 2} ${width} ${height}`;
  });
  /** Whether it has a size on the screen yet. */
  readonly isLaidOut = computed(() => this.size().width > 1);
  /** Distance of the grid's lines: a round number of the project's unit. */
  readonly gridM = computed(() => roundLengthM(GRID_PX * this.perPixel(), this.unitM()));
  readonly scaleBar = computed(() => {
    const metres = roundLengthM(BAR_PX * this.perPixel(), this.unitM());
    return { pixels: metres / this.perPixel(), text: this.units.text(metres) };
  });
  private readonly unitM = computed(() => {
    const unit = this.units.length();
    return unit === 'ft' || unit === 'in' ? (LENGTH_IN_METRES['ft'] ?? 1) : 1;
  });

  constructor(private readonly element: HTMLElement) {
    const observer = new ResizeObserver(() => this.measure());
    observer.observe(element);
    inject(DestroyRef).onDestroy(() => observer.disconnect());
  }

  /** The place of the floor under the pointer, metres east and south. */
  readonly placeOf = (event: MouseEvent): PlanPoint => {
    const [x, z] = this.centre();
    const [right, down] = this.fromMiddle(event);
    return [x + right * this.perPixel(), z + down * this.perPixel()];
  };

  /** Takes hold of the sheet: gives what moves it with the pointer, by pixels from here. */
  grab(): (dx: number, dy: number) => void {
    const [x, z] = this.centre();
    return (dx, dy) => this.centre.set([x - dx * this.perPixel(), z - dy * this.perPixel()]);
  }

  /** Zooms by notches, up is nearer; the place under the pointer stays where it is. */
  zoomAbout(event: MouseEvent, notches: number): void {
    const before = this.perPixel();
    this.zoomBy(ZOOM_STEP ** notches);
    const shift = before - this.perPixel();
    const [right, down] = this.fromMiddle(event);
    this.centre.update(([x, z]) => [x + right * shift, z + down * shift]);
  }

  /** Moves by arrows, zooms by plus and minus. @returns whether the key did something. */
  key(key: string): boolean {
    const step = this.widthM() * KEY_SHARE;
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[key];
    const zoom = { '+': 1 / ZOOM_STEP, '=': 1 / ZOOM_STEP, '-': ZOOM_STEP }[key];
    if (way) this.centre.update(([x, z]) => [x + (way[0] ?? 0) * step, z + (way[1] ?? 0) * step]);
    if (zoom !== undefined) this.zoomBy(zoom);
    return way !== undefined || zoom !== undefined;
  }

  /** Shows all these places with some room about them; without any, the middle of the floor. */
  show(spots: readonly PlanPoint[], room = 1): void {
    const [xs, zs] = [spots.map(([x]) => x), spots.map(([, z]) => z)];
    const [minX, maxX, minZ, maxZ] = [Math.min(...xs), Math.max(...xs), Math.min(...zs), Math.max(...zs)];
    const { width, height } = this.size();
    const isEmpty = spots.length === 0;
    this.centre.set(isEmpty ? [0, 0] : [(minX + maxX) / 2, (minZ + maxZ) / 2]);
    this.widthM.set(
      isEmpty
        ? EMPTY_WIDTH_M
        : Math.max(LEAST_SHOWN_M, (maxX - minX) * 1.2, ((maxZ - minZ) * 1.3 * width) / height) * room,
    );
  }

  /** Shows these places where they are not all seen, or are too small to be told apart; else the sheet stays where it is. */
  bringInSight(spots: readonly PlanPoint[]): void {
    const [x, z] = this.centre();
    const [halfX, halfZ] = [this.widthM() / 2, (this.size().height * this.perPixel()) / 2];
    const seen = spots.every(([px, pz]) => Math.abs(px - x) <= halfX && Math.abs(pz - z) <= halfZ);
    const across = Math.max(...[0, 1].map((axis) => extent(spots.map((spot) => spot[axis] ?? 0))));
    if (!seen || across < TOLD_APART_PX * this.perPixel()) this.show(spots);
  }

  private zoomBy(factor: number): void {
    this.widthM.update((width) => Math.max(WIDTHS_M.min, Math.min(WIDTHS_M.max, width * factor)));
  }

  /** How far right and down of the sheet's middle the pointer is, pixels. */
  private fromMiddle({ clientX, clientY }: MouseEvent): readonly [number, number] {
    const box = this.element.getBoundingClientRect();
    return [clientX - box.left - box.width / 2, clientY - box.top - box.height / 2];
  }

  private measure(): void {
    const { clientWidth: width, clientHeight: height } = this.element;
    if (width > 0 && height > 0) this.size.set({ width, height });
  }
}
