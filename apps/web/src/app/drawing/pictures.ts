import { inject, Injectable } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { StageView } from '@arvex/stage';
import { AsyncSubject, defer, exhaustMap, Observable, repeat, startWith, Subject, takeWhile } from 'rxjs';
import { retryWithPauses } from '../data';
import type { Desk } from './open-desk';
import { StageHost } from './stage-host';

/** A canvas in the page that shows a view of the set. */
export interface ShownView {
  readonly canvas: HTMLCanvasElement;
  /** The view as it is now, with anything that should be known again when it is drawn. */
  readonly view: () => { readonly view: StageView; readonly label?: unknown } | undefined;
  /** Called when a picture is on the canvas, with the label it was asked with. */
  readonly drawn?: (label: unknown) => void;
  /** Samples after which the resting picture is shown, rising; the last ends it. */
  readonly samples: () => readonly number[];
}

/** Time for one picture while something moves; resolution drops until it is kept. */
const MOVING_BUDGET_MS = 45;
const LOWEST_SHARE = 0.35;
/** How long after the last movement the picture becomes sharp again. */
const REST_MS = 140;
/** Longest time a picture of what rests waits for the interface. */
const LONGEST_WAIT_MS = 200;

/** Draws every view in the page: on demand, one picture at a time, coarse while moving, fine at rest, thumbnails between. */
@Injectable({ providedIn: 'root' })
export class Pictures {
  private readonly host = inject(StageHost);
  private readonly views = new Set<ShownView>();
  private readonly dirty = new Set<ShownView>();
  private readonly refining = new Map<ShownView, number>();
  private readonly thumbnails: ((desk: Desk) => Promise<void>)[] = [];
  private readonly wanted$ = new Subject<void>();
  private share = 1;
  /** The view whose samples are being added up. */
  private accumulating: ShownView | undefined;
  private movedAt = -Infinity;

  /** Ends when a first picture of the set was drawn. */
  readonly first$ = new AsyncSubject<void>();

  constructor() {
    this.host.changed$.pipe(takeUntilDestroyed()).subscribe(({ moving }) => {
      this.accumulating = undefined;
      this.views.forEach((view) => this.invalidate(view, moving));
    });
    this.wanted$
      .pipe(
        startWith(undefined),
        exhaustMap(() => this.drawAll()),
        retryWithPauses((error) => this.host.failed(error)),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  /** Shows a view until the returned function is called. */
  show(view: ShownView): () => void {
    this.views.add(view);
    this.invalidate(view);
    return () => {
      this.views.delete(view);
      this.dirty.delete(view);
      this.refining.delete(view);
    };
  }

  /** Asks for a new picture. `moving` says that more will follow at once, so that speed counts more than sharpness. */
  invalidate(view: ShownView, moving = false): void {
    if (!this.views.has(view)) return;
    if (moving) this.movedAt = performance.now();
    this.dirty.add(view);
    this.refining.delete(view);
    this.wanted$.next();
  }

  /** A small picture, drawn when nothing else is to be done, and not at all once nobody listens. */
  thumbnail(view: StageView, widthPx: number, heightPx: number): Observable<ImageBitmap> {
    return new Observable((listener) => {
      const make = async (desk: Desk) => {
        try {
          listener.next(await desk.thumbnail(view, widthPx, heightPx));
          listener.complete();
        } catch (error) {
          listener.error(error);
        }
      };
      this.thumbnails.push(make);
      this.wanted$.next();
      return () => {
        const index = this.thumbnails.indexOf(make);
        if (index >= 0) this.thumbnails.splice(index, 1);
      };
    });
  }

  private get moving(): boolean {
    return performance.now() - this.movedAt < REST_MS;
  }

  private get wanted(): boolean {
    return this.dirty.size > 0 || this.refining.size > 0 || this.thumbnails.length > 0;
  }

  /** Makes one picture after another for as long as one is wanted. */
  private drawAll(): Observable<void> {
    return defer(async () => {
      if (!this.wanted) return;
      await (this.moving ? nextFrame() : idle());
      await this.host.inTurn((desk) => this.drawNext(desk));
    }).pipe(
      repeat(),
      takeWhile(() => this.wanted),
    );
  }

  /** Makes the picture that is wanted most, if one is wanted now. */
  private async drawNext(desk: Desk): Promise<void> {
    const [next] = this.dirty;
    if (next) await this.drawOnce(desk, next);
    else if (this.moving) return;
    else if (this.thumbnails.length > 0)
      await this.thumbnails.pop()?.(desk); // asked for last: looked at now
    else if (!this.host.following()) await this.refineOnce(desk);
  }

  private async drawOnce(desk: Desk, shown: ShownView): Promise<void> {
    this.dirty.delete(shown);
    const asked = shown.view();
    const size = pixelSize(shown.canvas);
    if (!asked || !size) return;
    const moving = this.moving;
    const share = moving ? this.share : 1;
    const [width, height] = [size.width, size.height].map((px) => Math.max(2, Math.round(px * share)));
    const { bitmap, milliseconds } = await desk.draw(asked.view, width ?? 2, height ?? 2).catch((error: unknown) => {
      if (this.views.has(shown)) this.dirty.add(shown); // it is still wanted
      throw error;
    });
    if (this.host.lost()) bitmap.close();
    else put(bitmap, shown.canvas);
    this.host.succeeded();
    shown.drawn?.(asked.label);
    if (!this.host.loading()) {
      this.first$.next();
      this.first$.complete();
    }
    if (moving) this.share = Math.min(1, Math.max(LOWEST_SHARE, share * Math.sqrt(MOVING_BUDGET_MS / milliseconds)));
    if (this.views.has(shown) && !this.dirty.has(shown)) this.refining.set(shown, 0);
  }

  /** Adds one sample to a view that is not fine yet: those that need few samples come first, each to its end. */
  private async refineOnce(desk: Desk): Promise<void> {
    const most = (view: ShownView) => view.samples().at(-1) ?? 0;
    const [shown] = [...this.refining.keys()].sort((a, b) => most(a) - most(b));
    if (!shown) return;
    // The accumulator holds one picture: what another view had begun is begun anew.
    const index = shown === this.accumulating ? (this.refining.get(shown) ?? 0) : 0;
    this.accumulating = shown;
    const asked = shown.view();
    const size = pixelSize(shown.canvas);
    const stops = shown.samples();
    if (!asked || !size || index >= most(shown)) {
      this.refining.delete(shown);
      return;
    }
    const bitmap = await desk.refine(asked.view, size.width, size.height, index, stops.includes(index + 1));
    if (!this.refining.has(shown)) bitmap?.close();
    else {
      if (bitmap) put(bitmap, shown.canvas);
      this.refining.set(shown, index + 1);
    }
  }
}

/** Device pixels of a canvas in the page; nothing while it is not shown. */
function pixelSize(canvas: HTMLCanvasElement): { width: number; height: number } | undefined {
  const ratio = Math.min(2, devicePixelRatio);
  const [width, height] = [Math.round(canvas.clientWidth * ratio), Math.round(canvas.clientHeight * ratio)];
  return width > 1 && height > 1 ? { width, height } : undefined;
}

function put(bitmap: ImageBitmap, canvas: HTMLCanvasElement): void {
  canvas.getContext('bitmaprenderer')?.transferFromImageBitmap(bitmap);
}

function nextFrame(): Promise<unknown> {
  return new Promise((resolve) => requestAnimationFrame(resolve));
}

/** Resolves when the interface has done what it had to do: where graphics are software, a picture takes its processors. */
function idle(): Promise<unknown> {
  if (!('requestIdleCallback' in globalThis)) return nextFrame(); // not every browser says when it is idle
  return new Promise((resolve) => requestIdleCallback(resolve, { timeout: LONGEST_WAIT_MS }));
}
