import { computed, inject, Injectable, signal } from '@angular/core';
import { Playhead } from '../../session';

/** Width of the column with the lanes' names, pixels. */
export const HEAD_PX = 148;
/** Room after the end of the cut, pixels. */
const ROOM_PX = 40;
/** The largest that a frame is shown, pixels. */
const MOST_FRAME_PX = 24;
const ZOOM_STEP = 1.25;
/** Of the window, what shots that are shown alone take. */
const FITTED_SHARE = 0.8;
/** What lies this far outside of the window is made too, pixels. */
const MARGIN_PX = 200;
/** Spans that lie no further apart than this are drawn as one, pixels. */
const APART_PX = 2;
/** Ticks are about so far apart, pixels, and so many frames. */
const TICK_PX = 80;
const STEPS = [1, 2, 5, 10, 12, 24, 48, 120, 240, 480, 1200, 2400, 4800, 12_000, 48_000];

/** A stretch of the cut: frames, the last one not included. */
interface Span {
  readonly from: number;
  readonly to: number;
}

/** How frames of the cut lie on the screen, and which part of them is seen. */
@Injectable()
export class LaneScale {
  private readonly playhead = inject(Playhead);
  /** Of the window with the lanes, without their names, pixels. */
  readonly widthPx = signal(800);
  readonly heightPx = signal(200);
  readonly scrollPx = signal(0);
  readonly scrollTopPx = signal(0);
  /** Chosen by zooming; the whole cut fits until then. */
  private readonly chosen = signal<number | undefined>(undefined);

  /** Frames that can be laid out: all of the cut. */
  readonly length = computed(() => (this.playhead.mode() === 'cut' ? this.playhead.length() : 1));
  private readonly fitPx = computed(() => Math.max(0.02, (this.widthPx() - ROOM_PX) / this.length()));
  readonly framePx = computed(() => Math.min(MOST_FRAME_PX, Math.max(this.fitPx(), this.chosen() ?? 0)));
  readonly sheetPx = computed(() => Math.ceil(this.length() * this.framePx()) + ROOM_PX);
  /** The first and the last frame of which anything is seen. */
  readonly seen = computed<readonly [number, number]>(() => {
    const from = (this.scrollPx() - MARGIN_PX) / this.framePx();
    return [Math.max(0, Math.floor(from)), Math.ceil(from + (this.widthPx() + 2 * MARGIN_PX) / this.framePx())];
  });
  readonly ticks = computed(() => {
    const step = STEPS.find((frames) => frames * this.framePx() >= TICK_PX) ?? 48_000;
    const [from, to] = this.seen();
    const first = Math.ceil(from / step) * step;
    const count = Math.max(0, Math.floor((Math.min(to, this.length()) - first) / step) + 1);
    return Array.from({ length: count }, (_, i) => first + i * step);
  });

  x(frame: number): number {
    return frame * this.framePx();
  }

  isSeen(from: number, to: number): boolean {
    const [first, last] = this.seen();
    return to >= first && from <= last;
  }

  /** What is drawn of spans that rise: those that are seen, as one where the eye could not tell them apart. */
  drawn(spans: readonly Span[]): readonly Span[] {
    const apart = APART_PX / this.framePx();
    const drawn: Span[] = [];
    for (const { from, to } of spans) {
      const before = drawn.at(-1);
      if (!this.isSeen(from, to)) continue;
      if (before && from - before.to <= apart)
        drawn[drawn.length - 1] = { from: before.from, to: Math.max(before.to, to) };
      else drawn.push({ from, to });
    }
    return drawn;
  }

  /**
   * Shows frames larger or smaller about a place.
   * @returns where the window has to be scrolled to so that the place stays, pixels.
   */
  zoom(steps: number, atPx: number): number {
    const before = this.framePx();
    this.chosen.set(before * ZOOM_STEP ** steps);
    return ((this.scrollPx() + atPx) / before) * this.framePx() - atPx;
  }

  /**
   * Shows some frames as wide as the window, with a little of what is beside them.
   * @returns where the window has to be scrolled to, pixels.
   */
  fitTo(from: number, to: number): number {
    this.chosen.set((this.widthPx() * FITTED_SHARE) / Math.max(1, to - from));
    return this.x((from + to) / 2) - this.widthPx() / 2;
  }

  /** Shows all of the cut. */
  fit(): void {
    this.chosen.set(undefined);
  }
}
