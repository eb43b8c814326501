import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Vector } from '@arvex/core';
import type { Picked, Scopes, StagedSet, StageView, Survey } from '@arvex/stage';
import { NOTHING_STAGED, setPatch } from '@arvex/stage/patch';
import type { Remote } from 'comlink';
import { proxy, transfer, wrap } from 'comlink';
import {
  AsyncSubject,
  concatMap,
  defer,
  exhaustMap,
  firstValueFrom,
  Observable,
  repeat,
  ReplaySubject,
  share,
  startWith,
  Subject,
  takeWhile,
  tap,
} from 'rxjs';
import { Notices, retryWithPauses } from '../data';
import { Viewpoint } from '../session';
import type { StageDesk } from './stage-desk';

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

type Desk = Remote<StageDesk> | StageDesk;

/** Time for one picture while something moves; resolution drops until it is kept. */
const MOVING_BUDGET_MS = 45;
const LOWEST_SHARE = 0.35;
/** How long after the last movement the picture becomes sharp again. */
const REST_MS = 140;
/** Time in which the cards of what was newly chosen come. */
const SETTLING_MS = 250;
/** Longest time a picture of what rests waits for the interface. */
const LONGEST_WAIT_MS = 200;

const GRAPHICS_LOST = 'The graphics of this machine began anew. The picture comes back by itself.';

/** Draws every view in the page with one stage: on demand, one picture at a time, coarse while moving, fine at rest. */
@Injectable({ providedIn: 'root' })
export class StageHost {
  private readonly viewpoint = inject(Viewpoint);
  private readonly notices = inject(Notices);
  private readonly views = new Set<ShownView>();
  private readonly dirty = new Set<ShownView>();
  private readonly refining = new Map<ShownView, number>();
  private readonly thumbnails: ((desk: Desk) => Promise<void>)[] = [];
  private readonly wanted$ = new Subject<void>();
  /** Opened by the first who asks; where that fails, anew by the next. */
  private readonly desk$ = defer(openDesk).pipe(
    tap((desk) => void desk.watchGraphics(proxy((lost: boolean) => this.graphics(lost)))),
    share({
      connector: () => new ReplaySubject<Desk>(1),
      resetOnError: true,
      resetOnComplete: false,
      resetOnRefCountZero: false,
    }),
  );
  /** What of the project is on the stage. */
  private staged: StagedSet = NOTHING_STAGED;
  /** What should be. */
  private readonly set = computed(() => this.viewpoint.drawnProject(), {
    equal: (a, b) => a?.sets === b?.sets && a?.assets === b?.assets && a?.placements === b?.placements,
  });
  /** A change of the set that is being taken in: what is read then leaves no time for refining. */
  private following = false;
  /** What is being drawn, to wait for its end. */
  private drawing: Promise<void> = Promise.resolve();
  /** Until when no picture and no reading is begun. */
  private aside: Promise<void> = Promise.resolve();
  private share = 1;
  /** The view whose samples are being added up. */
  private accumulating: ShownView | undefined;
  private movedAt = -Infinity;

  /** Ends when a first picture of the set was drawn. */
  readonly firstPicture$ = new AsyncSubject<void>();
  readonly loading = signal(true);
  /** Why there is no picture, when there is none; it is tried again after growing pauses. */
  readonly failure = signal<string | undefined>(undefined);

  constructor() {
    toObservable(this.set)
      .pipe(
        concatMap(() => defer(() => this.follow()).pipe(retryWithPauses((error) => this.failed(error)))),
        takeUntilDestroyed(),
      )
      .subscribe();
    this.wanted$
      .pipe(
        startWith(undefined),
        exhaustMap(() => this.drawAll()),
        retryWithPauses((error) => this.failed(error)),
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

  /** What lies under a point of a view. */
  async pick(view: StageView, x: number, y: number): Promise<Picked | undefined> {
    return (await this.desk()).pick(view, x, y);
  }

  /** What a ray meets first, passing over some placements. */
  async cast(fromM: Vector, direction: Vector, farM: number, except: readonly string[] = []) {
    return (await this.desk()).cast(fromM, direction, farM, except);
  }

  /** Ground heights under points, from so far above each, passing over some placements. */
  async groundUnder(points: readonly Vector[], fromAboveM: number, except: readonly string[] = []) {
    return (await this.desk()).groundUnder(points, fromAboveM, except);
  }

  /** One picture as output makes it, as PNG. */
  async png(view: StageView, widthPx: number, heightPx: number, samples: number) {
    const desk = await this.desk();
    const begin = performance.now();
    const blob = await desk.png(view, widthPx, heightPx, samples);
    return { blob, milliseconds: performance.now() - begin };
  }

  /** Light of a small picture, linear RGBA in cd/m², rows from the top. */
  light(view: StageView, widthPx: number, heightPx: number): Observable<Float32Array> {
    return this.desk$.pipe(concatMap((desk) => desk.light(view, widthPx, heightPx)));
  }

  /** Histogram and waveform of a small picture. */
  scopes(view: StageView, widthPx: number, heightPx: number): Observable<Scopes> {
    return this.desk$.pipe(concatMap((desk) => desk.scopes(view, widthPx, heightPx)));
  }

  /** What lies in the frame: the nearest thing, and what the clip distances cut. */
  survey(view: StageView): Observable<Survey> {
    return this.desk$.pipe(concatMap((desk) => desk.survey(view)));
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

  /** Leaves the machine to what is done meanwhile in the interface: no picture and no reading is begun until that is shown. */
  async standAside(done: () => Promise<void>): Promise<void> {
    await this.aside;
    let comeBack: () => void = () => undefined;
    this.aside = new Promise((resolve) => (comeBack = resolve));
    try {
      await this.drawing;
      await done();
    } finally {
      setTimeout(comeBack, SETTLING_MS);
    }
  }

  private desk(): Promise<Desk> {
    return firstValueFrom(this.desk$);
  }

  /** Brings the newest set to the stage; what did not arrive there is brought again the next time. */
  private async follow(): Promise<void> {
    const project = this.set();
    if (!project) return;
    const { sets, assets, placements } = project;
    const [before, next] = [this.staged, { sets, assets, placements }];
    if (next.sets === before.sets && next.assets === before.assets && next.placements === before.placements) return;
    this.following = true;
    try {
      await this.aside;
      const missing = await (await this.desk()).follow(setPatch(before, next));
      this.staged = next;
      if (missing.length > 0)
        this.notices.error(new Error(`${missing.length} files of the set could not be read; reload to try again.`));
      this.failure.set(undefined);
    } finally {
      this.following = false;
      this.loading.set(false);
    }
    const moving = this.viewpoint.piecePreview() !== undefined;
    this.views.forEach((view) => this.invalidate(view, moving));
  }

  private failed(error: unknown): void {
    this.failure.set(`No picture can be drawn: ${(error as Error).message}`);
  }

  /** While the graphics are away nothing is drawn; when they are back, everything is. */
  private graphics(lost: boolean): void {
    this.failure.set(lost ? GRAPHICS_LOST : undefined);
    this.accumulating = undefined;
    if (!lost) this.views.forEach((view) => this.invalidate(view));
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
      const desk = await this.desk();
      await (this.moving ? nextFrame() : idle());
      await this.aside;
      this.drawing = this.drawNext(desk);
      await this.drawing;
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
    else if (!this.following) await this.refineOnce(desk);
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
    if (this.failure() === GRAPHICS_LOST) bitmap.close();
    else put(bitmap, shown.canvas);
    if (this.failure() !== GRAPHICS_LOST) this.failure.set(undefined);
    shown.drawn?.(asked.label);
    if (!this.loading()) {
      this.firstPicture$.next();
      this.firstPicture$.complete();
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

/** The stage in a worker, with another worker for search trees; in the window where workers have no graphics. */
async function openDesk(): Promise<Desk> {
  let worker: Worker | undefined;
  try {
    worker = new Worker(new URL('./stage.worker', import.meta.url), { type: 'module' });
    const desk = wrap<StageDesk>(worker);
    await desk.open();
    await desk.growTreesThrough(proxy(openTreePort));
    return desk;
  } catch {
    worker?.terminate();
    const { StageDesk: DeskClass } = await import('./stage-desk');
    const desk = new DeskClass();
    await desk.open();
    return desk;
  }
}

/** A way to a worker that builds search trees, made when the first large file asks for it. */
function openTreePort(): MessagePort {
  const trees = new Worker(new URL('./bounds-tree.worker', import.meta.url), { type: 'module' });
  const { port1, port2 } = new MessageChannel();
  trees.postMessage({ port: port1 }, [port1]);
  return transfer(port2, [port2]);
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
