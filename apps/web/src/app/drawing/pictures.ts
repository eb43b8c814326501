import { effect, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Effort, GroupsApart, StageView } from '@arvex/stage';
import type { Observable} from 'rxjs';
import { AsyncSubject, defer, exhaustMap, repeat, startWith, Subject, takeWhile } from 'rxjs';
import { retryWithPauses } from '../data';
import { Activity, Playback, Playhead } from '../session';
import { AddedUp } from './added-up';
import type { FrameName } from './kept-frames';
import { KeptFrames } from './kept-frames';
import { Errands } from './errands';
import type { Desk } from './open-desk';
import { pixelSize, put, scaled } from './page-canvas';
import { EFFORTS, Pace } from './pace';
import { StageHost } from './stage-host';

/** What a canvas in the page is to show. */
interface AskedView {
  readonly view: StageView;
  /** Anything that should be known again when it is drawn. */
  readonly label?: unknown;
  /** A frame that is played: kept, and shown again without drawing it. */
  readonly frame?: FrameName | undefined;
}

/** A canvas in the page that shows a view of the set. */
export interface ShownView {
  readonly canvas: HTMLCanvasElement;
  /** The view as it is now. */
  readonly view: () => AskedView | undefined;
  /** Called when a picture is on the canvas, with the label it was asked with. */
  readonly drawn?: (label: unknown) => void;
  /** Samples after which the resting picture is shown, rising; the last ends it. */
  readonly samples: () => readonly number[];
  /** Whether light groups that somebody is about to change are added up for it. */
  readonly groupsApart?: boolean;
}

const [WHOLE, LEAST] = [EFFORTS[0], EFFORTS.at(-1)] as [Effort, Effort];

/** What is dragged is shown so often a second, if the machine can. */
const DRAGGED_RATE = 12;
/** Longest time a picture of what rests waits for the interface. */
const LONGEST_WAIT_MS = 200;

/** Draws every view in the page: on demand, one picture at a time, as well as the pace allows, fine at rest, thumbnails between. */
@Injectable({ providedIn: 'root' })
export class Pictures {
  private readonly host = inject(StageHost);
  private readonly activity = inject(Activity);
  private readonly playhead = inject(Playhead);
  private readonly playback = inject(Playback);
  private readonly kept = inject(KeptFrames);
  private readonly views = new Set<ShownView>();
  private readonly dirty = new Set<ShownView>();
  private readonly moving = new Set<ShownView>();
  private readonly refining = new Map<ShownView, number>();
  /** Views whose picture is not as good as at rest. */
  private readonly coarse = new Set<ShownView>();
  private readonly wanted$ = new Subject<void>();
  private readonly small = new Errands(() => this.wanted$.next());
  private readonly background = new Errands(() => this.wanted$.next());
  private readonly pace = new Pace(1000 / DRAGGED_RATE);
  /** The view whose samples are being added up. */
  private accumulating: ShownView | undefined;
  /** What has been added up: changes of look, display and light mix are shown from there. */
  private readonly addedUp = new AddedUp<ShownView>(() => this.host.hasAsFiled());
  /** Views that are shown anew from what has been added up. */
  private readonly showing = new Set<ShownView>();
  /** Light groups that somebody is about to change: they are added up by themselves once the picture is fine. */
  readonly groupsWanted = signal<GroupsApart | undefined>(undefined);
  /** Rises with every picture of a view that is asked for: a later one is not overtaken by an earlier one. */
  private readonly turns = new WeakMap<ShownView, number>();

  /** Ends when a first whole picture of the set was drawn. */
  readonly first$ = new AsyncSubject<void>();
  /** Whether anything stands on the screen yet. What comes first is drawn with the least effort, to be there soonest. */
  private begun = false;
  /** What is given up while something moves, from nothing (the first) on. */
  readonly effort = signal<Effort>(WHOLE);

  constructor() {
    this.host.changed$.pipe(takeUntilDestroyed()).subscribe(() => {
      this.accumulating = undefined;
      this.addedUp.forget();
      this.views.forEach((view) => this.renew(view));
      this.wanted$.next(); // and what waited for it, where nothing is shown
    });
    // What the graphics held is gone with them.
    effect(() => {
      if (!this.host.lost()) return;
      this.kept.forget();
      this.addedUp.forget();
    });
    // What waited goes on as soon as nothing moves any more, and once the set is there; light groups once they are wanted.
    effect(() => {
      this.groupsWanted();
      if (!this.activity.busy() && !this.activity.making() && !this.host.loading()) this.wanted$.next();
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
    this.renew(view);
    return () => {
      for (const set of [this.views, this.dirty, this.moving, this.refining, this.coarse, this.showing])
        set.delete(view);
      this.host.isBehind$.next(this.dirty.size > 0);
      this.wanted$.next();
    };
  }

  /** Asks for a new picture. `moving` says that more will follow at once, until it is asked for without. */
  invalidate(view: ShownView, moving = false): void {
    if (!this.views.has(view)) return;
    if (moving) this.moving.add(view);
    else this.moving.delete(view);
    if (this.showKept(view)) return;
    if (this.isAddedUp(view)) {
      this.dirty.delete(view);
      this.showing.add(view);
      this.wanted$.next();
    } else this.renew(view);
  }

  /** A small picture, drawn when nothing else is to be done, and not at all once nobody listens. */
  thumbnail(view: StageView, widthPx: number, heightPx: number): Observable<Blob> {
    return this.small.of((desk) => desk.thumbnail(view, widthPx, heightPx));
  }

  /** A frame of so many pixels, drawn once every view shows its first finer picture, before the next ones; not at all once nobody listens. */
  inBackground(view: StageView, widthPx: number, heightPx: number): Observable<ImageBitmap> {
    return this.background.of(async (desk) => (await desk.draw(view, widthPx, heightPx)).bitmap);
  }

  /** Whether what a view asks for can be shown from what has been added up. */
  private isAddedUp(shown: ShownView): boolean {
    const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
    if (!asked || !size || this.host.lost() || !this.host.isCurrent()) return false;
    return this.addedUp.ways(shown, asked.view, size) !== undefined;
  }

  /** A picture is drawn before anything else, and refined from its beginning. */
  private renew(view: ShownView): void {
    this.showing.delete(view);
    this.dirty.add(view);
    this.refining.delete(view);
    this.host.isBehind$.next(true);
    this.wanted$.next();
  }

  /** Puts a frame that was drawn before on the canvas at once. @returns whether there is one. */
  private showKept(shown: ShownView): boolean {
    const asked = this.playhead.playing() ? shown.view() : undefined;
    const kept = asked?.frame && this.kept.copyOf(asked.frame.key);
    if (!asked || !kept) return false;
    this.effort.set(kept.effort);
    this.dirty.delete(shown);
    this.host.isBehind$.next(this.dirty.size > 0);
    this.coarse.add(shown);
    this.refining.set(shown, 0);
    const isNewest = this.turnOf(shown);
    void kept.bitmap.then((copy) => {
      if (isNewest()) put(copy, shown.canvas);
      else copy.close();
      shown.drawn?.(asked.label);
    });
    return true;
  }

  /** Begins a picture of a view. @returns whether it is still the one that was begun last. */
  private turnOf(shown: ShownView): () => boolean {
    const turn = (this.turns.get(shown) ?? 0) + 1;
    this.turns.set(shown, turn);
    return () => this.turns.get(shown) === turn;
  }

  /** Something plays or is dragged: nothing but that is drawn. */
  private get busy(): boolean {
    return this.moving.size > 0 || this.activity.busy();
  }

  private get wanted(): boolean {
    if (this.host.loading()) return false; // an empty stage is no picture
    const resting = this.refinable.length + this.small.size + this.prepared > 0 || this.groupsLeft !== undefined;
    return this.dirty.size + this.showing.size > 0 || (resting && !this.busy && this.host.isCurrent());
  }

  /** Views that are not fine yet: while output is made only those that have not got as far as their first finer picture. */
  private get refinable(): readonly ShownView[] {
    const views = [...this.refining.keys()];
    return this.activity.making() ? views.filter((view) => this.isRough(view)) : views;
  }

  /** What is drawn in the background: nothing while output is made. */
  private get prepared(): number {
    return this.activity.making() ? 0 : this.background.size;
  }

  /** Makes one picture after another for as long as one is wanted. */
  private drawAll(): Observable<void> {
    return defer(async () => {
      if (!this.wanted) return;
      await (this.busy ? nextFrame() : idle());
      await this.host.inTurn((desk) => this.drawNext(desk));
    }).pipe(
      repeat(),
      takeWhile(() => this.wanted),
    );
  }

  /** Makes the picture that is wanted most, if one is wanted now. */
  private async drawNext(desk: Desk): Promise<void> {
    const [again] = this.showing;
    const [next] = this.dirty;
    if (again) await this.showAgain(desk, again);
    else if (next) {
      await this.drawOnce(desk, next);
      this.host.isBehind$.next(this.dirty.size > 0);
    } else if (this.busy || !this.host.isCurrent()) return;
    else if (this.small.size > 0)
      await this.small.doLast(desk); // asked for last: looked at now
    else if (this.prepared > 0 && ![...this.refining.keys()].some((view) => this.isRough(view)))
      await this.background.doFirst(desk);
    else if (this.refinable.length > 0 && !this.groupsFirst) await this.refineOnce(desk);
    else await this.sampleGroups(desk);
  }

  /** Whether a view has not got as far as its first finer picture: the one with the lens and the shutter in it. */
  private isRough(view: ShownView): boolean {
    return (this.refining.get(view) ?? 0) < (view.samples()[0] ?? 0);
  }

  /** Shows a view from what has been added up, or draws it where that is not there any more. */
  private async showAgain(desk: Desk, shown: ShownView): Promise<void> {
    this.showing.delete(shown);
    const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
    const way = asked && size && this.addedUp.ways(shown, asked.view, size);
    if (!asked || !size || !way) {
      this.renew(shown);
      return;
    }
    const isNewest = this.turnOf(shown);
    const { width, height } = size;
    const drawn = way === 'remix' ? desk.remix(asked.view, width, height) : desk.redevelop(asked.view, width, height);
    const { bitmap } = await drawn.catch((error: unknown) => {
      this.renew(shown); // it is still wanted
      throw error;
    });
    if (way === 'remix') {
      this.addedUp.remixed(asked.view);
      this.refining.delete(shown); // it goes on with its groups
      this.accumulating = undefined;
    } else if (this.accumulating === shown) this.refining.set(shown, this.addedUp.countOf(shown));
    this.coarse.delete(shown);
    this.effort.set(WHOLE);
    if (this.host.lost() || !isNewest()) bitmap.close();
    else put(bitmap, shown.canvas);
    this.host.succeeded();
    shown.drawn?.(asked.label);
  }

  /** The view whose light groups are to be added up by themselves, which of them, and how many samples are there. */
  private get groupsLeft() {
    const groups = this.groupsWanted();
    if (!groups || this.activity.making()) return undefined;
    for (const shown of this.views) {
      if (!shown.groupsApart) continue;
      const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
      if (!asked || !size || asked.view.mix) continue;
      const count = this.addedUp.groupSamples(shown, asked.view, size, groups);
      // Each sample of them costs as many as there are groups: they go as far as its second finer picture.
      const enough = shown.samples()[1] ?? shown.samples()[0] ?? 0;
      if (count < enough) return { shown, asked, size, groups, count };
    }
    return undefined;
  }

  /** Whether light groups go before what makes a picture finer: it shows its first finer one, and they are too few to be shown. */
  private get groupsFirst(): boolean {
    const left = this.groupsLeft;
    return left !== undefined && left.count < FEW_SAMPLES && !this.isRough(left.shown);
  }

  /** Takes one more sample of each light group, and shows them where the picture is made of them. */
  private async sampleGroups(desk: Desk): Promise<void> {
    const left = this.groupsLeft;
    if (!left) return;
    const { shown, asked, size, groups, count } = left;
    await desk.sampleGroups(asked.view, size.width, size.height, count, groups);
    this.addedUp.groupsAdded(shown, asked.view, size, groups, count + 1);
    if (this.addedUp.isMixed(shown) && shown.samples().includes(count + 1)) this.showing.add(shown);
  }

  private async drawOnce(desk: Desk, shown: ShownView): Promise<void> {
    this.dirty.delete(shown);
    const asked = shown.view();
    const size = pixelSize(shown.canvas);
    if (!asked || !size) return;
    const { busy } = this;
    this.pace.aim = 1000 / (this.playhead.playing() ? this.playback.rate() : DRAGGED_RATE);
    const begins = !this.begun && !busy;
    const effort = busy ? this.pace.effort : begins ? LEAST : WHOLE;
    const [width, height] = scaled(size, effort.share);
    const isNewest = this.turnOf(shown);
    const current = this.host.isCurrent();
    const { bitmap, milliseconds } = await desk.draw(asked.view, width, height, effort).catch((error: unknown) => {
      if (this.views.has(shown)) this.dirty.add(shown); // it is still wanted
      throw error;
    });
    if (asked.frame && current && !this.host.lost()) await this.kept.keep(asked.frame, bitmap, effort);
    if (this.host.lost() || !isNewest()) bitmap.close();
    else put(bitmap, shown.canvas);
    this.host.succeeded();
    shown.drawn?.(asked.label);
    if (busy) this.pace.tell(effort, milliseconds);
    if (effort === WHOLE) this.coarse.delete(shown);
    else this.coarse.add(shown);
    this.effort.set(effort);
    this.goOn(shown, begins);
  }

  /** After a quick picture: the whole one where it was the first of all, otherwise finer ones. */
  private goOn(shown: ShownView, begins: boolean): void {
    this.begun = true;
    const isShown = this.views.has(shown);
    if (begins && isShown) return this.renew(shown);
    this.first$.next();
    this.first$.complete();
    if (isShown && !this.dirty.has(shown)) this.refining.set(shown, 0);
  }

  /** Adds one sample to a view that is not fine yet: those that need few samples come first, each to its end. */
  private async refineOnce(desk: Desk): Promise<void> {
    const most = (view: ShownView) => view.samples().at(-1) ?? 0;
    const [shown] = [...this.refinable].sort((a, b) => most(a) - most(b));
    if (!shown) return;
    // The accumulator holds one picture: what another view had begun is begun anew.
    const index = shown === this.accumulating ? (this.refining.get(shown) ?? 0) : 0;
    this.accumulating = shown;
    const asked = shown.view();
    const size = pixelSize(shown.canvas);
    if (!asked || !size || index >= most(shown)) {
      this.refining.delete(shown);
      return;
    }
    // A coarse picture gives way to the first whole one there is.
    const showing = shown.samples().includes(index + 1) || (this.coarse.has(shown) && index >= FIRST_SHOWN);
    const bitmap = await desk.refine(asked.view, size.width, size.height, index, showing);
    this.addedUp.added(shown, asked.view, size, index + 1);
    if (!this.refining.has(shown)) bitmap?.close();
    else {
      if (bitmap) {
        put(bitmap, shown.canvas);
        this.coarse.delete(shown);
        this.effort.set(WHOLE);
      }
      this.refining.set(shown, index + 1);
    }
  }
}

/** Samples of light groups that are taken before a picture is made as fine as it gets: what is changed is shown from them at once. */
const FEW_SAMPLES = 4;

/** Two samples light what lies flat as the whole sky does: the first of a picture at rest that is true. */
const FIRST_SHOWN = 1;

function nextFrame(): Promise<unknown> {
  return new Promise((resolve) => requestAnimationFrame(resolve));
}

/** Resolves when the interface has done what it had to do: where graphics are software, a picture takes its processors. */
function idle(): Promise<unknown> {
  if (!('requestIdleCallback' in globalThis)) return nextFrame(); // not every browser says when it is idle
  return new Promise((resolve) => requestIdleCallback(resolve, { timeout: LONGEST_WAIT_MS }));
}
