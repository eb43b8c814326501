import { effect, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { Effort, GroupsApart, StageView } from '@arvex/stage';
import type { Observable } from 'rxjs';
import { AsyncSubject, defer, exhaustMap, repeat, startWith, Subject, takeWhile } from 'rxjs';
import { retryWithPauses } from '../data';
import { Activity, Playback, Playhead } from '../session';
import { Canvases } from './canvases';
import { Errands } from './errands';
import { PlayedFrames } from './played-frames';
import type { OpenDesk } from './open-desk';
import { EFFORTS, Pace, WHOLE } from './pace';
import { pixelSize, scaled } from './page-canvas';
import { Resting } from './resting';
import type { ShownView } from './shown-view';
import { StageHost } from './stage-host';

const LEAST = EFFORTS.at(-1) as Effort;

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
  private readonly kept = inject(PlayedFrames);
  private readonly views = new Set<ShownView>();
  private readonly dirty = new Set<ShownView>();
  private readonly moving = new Set<ShownView>();
  /** Views that are shown anew from what has been added up. */
  private readonly showing = new Set<ShownView>();
  private readonly wanted$ = new Subject<void>();
  private readonly small = new Errands(() => this.wanted$.next());
  private readonly background = new Errands(() => this.wanted$.next());
  private readonly pace = new Pace(1000 / DRAGGED_RATE);
  private readonly canvases = new Canvases();
  private readonly resting = new Resting(this.host, this.canvases);
  /** Light groups that somebody is about to change: they are added up by themselves once the picture is fine. */
  readonly groupsWanted = signal<GroupsApart | undefined>(undefined);

  /** Ends when a first whole picture of the set was drawn. */
  readonly first$ = new AsyncSubject<void>();
  /** Whether anything stands on the screen yet. What comes first is drawn with the least effort, to be there soonest. */
  private begun = false;
  /** What is given up while something moves, from nothing (the first) on. */
  readonly effort = this.canvases.effort.asReadonly();

  constructor() {
    this.host.changed$.pipe(takeUntilDestroyed()).subscribe(() => {
      this.resting.forget();
      this.views.forEach((view) => this.renew(view));
      this.wanted$.next(); // and what waited for it, where nothing is shown
    });
    // What the graphics held is gone with them.
    effect(() => {
      if (!this.host.lost()) return;
      this.kept.forget();
      this.resting.forget();
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
      for (const set of [this.views, this.dirty, this.moving, this.showing]) set.delete(view);
      this.resting.leave(view);
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
    if (this.resting.isAddedUp(view)) {
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

  /** A picture is drawn before anything else, and refined from its beginning. */
  private renew(view: ShownView): void {
    this.showing.delete(view);
    this.dirty.add(view);
    this.resting.leave(view);
    this.host.isBehind$.next(true);
    this.wanted$.next();
  }

  /** Puts a frame that was drawn before on the canvas at once. @returns whether there is one. */
  private showKept(shown: ShownView): boolean {
    const asked = this.playhead.playing() ? shown.view() : undefined;
    const kept = asked?.frame && this.kept.copyOf(asked.frame.key);
    if (!asked || !kept) return false;
    this.dirty.delete(shown);
    this.host.isBehind$.next(this.dirty.size > 0);
    this.canvases.tell(shown, kept.effort, true);
    this.resting.begin(shown);
    const isNewest = this.canvases.turnOf(shown);
    void kept.bitmap.then((copy) => {
      this.canvases.put(shown, copy, isNewest());
      shown.drawn?.(asked.label);
    });
    return true;
  }

  /** Something plays or is dragged: nothing but that is drawn. */
  private get busy(): boolean {
    return this.moving.size > 0 || this.activity.busy();
  }

  private get wanted(): boolean {
    if (this.host.loading()) return false; // an empty stage is no picture
    const resting = this.refinable + this.small.size + this.prepared > 0 || this.groupsLeft !== undefined;
    return this.dirty.size + this.showing.size > 0 || (resting && !this.busy && this.host.isCurrent());
  }

  /** Views that are not fine yet: while output is made only those that have not got as far as their first finer picture. */
  private get refinable(): number {
    return this.resting.left(this.activity.making()).length;
  }

  /** What is drawn in the background: nothing while output is made. */
  private get prepared(): number {
    return this.activity.making() ? 0 : this.background.size;
  }

  /** Light groups that are to be added up: none while output is made. */
  private get groupsLeft() {
    return this.activity.making() ? undefined : this.resting.groupsLeft(this.views, this.groupsWanted());
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
  private async drawNext(desk: OpenDesk): Promise<void> {
    const [again] = this.showing;
    const [next] = this.dirty;
    if (again) await this.showAgain(desk, again);
    else if (next) {
      await this.drawOnce(desk, next);
      this.host.isBehind$.next(this.dirty.size > 0);
    } else if (this.busy || !this.host.isCurrent()) return;
    else if (this.small.size > 0)
      await this.small.doLast(desk); // asked for last: looked at now
    else if (this.prepared > 0 && this.resting.left(true).length === 0) await this.background.doFirst(desk);
    else await this.makeFiner(desk);
  }

  private async makeFiner(desk: OpenDesk): Promise<void> {
    const { groupsLeft } = this;
    if (this.refinable > 0 && !groupsLeft?.isFirst) await this.resting.refineOnce(desk, this.activity.making());
    else if (groupsLeft && (await this.resting.sampleGroups(desk, groupsLeft))) this.showing.add(groupsLeft.shown);
  }

  /** Shows a view from what has been added up, or draws it where that is not there any more. */
  private async showAgain(desk: OpenDesk, shown: ShownView): Promise<void> {
    this.showing.delete(shown);
    const done = await this.resting.showAgain(desk, shown, this.moving.has(shown)).catch((error: unknown) => {
      this.renew(shown); // it is still wanted
      throw error;
    });
    if (!done) this.renew(shown);
  }

  private async drawOnce(desk: OpenDesk, shown: ShownView): Promise<void> {
    this.dirty.delete(shown);
    const asked = shown.view();
    const size = pixelSize(shown.canvas);
    if (!asked || !size) return;
    const { busy } = this;
    this.pace.aim = 1000 / (this.playhead.playing() ? this.playback.rate() : DRAGGED_RATE);
    const begins = !this.begun && !busy;
    const effort = busy ? this.pace.effort : begins ? LEAST : WHOLE;
    const [width, height] = scaled(size, effort.share);
    const isNewest = this.canvases.turnOf(shown);
    const current = this.host.isCurrent();
    const { bitmap, milliseconds } = await desk.draw(asked.view, width, height, effort).catch((error: unknown) => {
      if (this.views.has(shown)) this.dirty.add(shown); // it is still wanted
      throw error;
    });
    if (asked.frame && current && !this.host.lost()) await this.kept.keep(asked.frame, bitmap, effort);
    this.canvases.put(shown, bitmap, !this.host.lost() && isNewest());
    this.host.succeeded();
    shown.drawn?.(asked.label);
    if (busy) this.pace.tell(effort, milliseconds);
    this.canvases.tell(shown, effort);
    this.goOn(shown, begins);
  }

  /** After a quick picture: the whole one where it was the first of all, otherwise finer ones. */
  private goOn(shown: ShownView, begins: boolean): void {
    this.begun = true;
    const isShown = this.views.has(shown);
    if (begins && isShown) return this.renew(shown);
    this.first$.next();
    this.first$.complete();
    if (isShown && !this.dirty.has(shown)) this.resting.begin(shown);
  }
}

function nextFrame(): Promise<unknown> {
  return new Promise((resolve) => requestAnimationFrame(resolve));
}

/** Resolves when the interface has done what it had to do: where graphics are software, a picture takes its processors. */
function idle(): Promise<unknown> {
  if (!('requestIdleCallback' in globalThis)) return nextFrame(); // not every browser says when it is idle
  return new Promise((resolve) => requestIdleCallback(resolve, { timeout: LONGEST_WAIT_MS }));
}
