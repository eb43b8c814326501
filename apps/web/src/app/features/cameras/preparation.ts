import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Subscription } from 'rxjs';
import { auditTime, concatMap, finalize, from, map, merge, Observable, of, switchMap } from 'rxjs';
import { Notices, ProjectStore } from '../../data';
import { PlayedFrames, Pictures } from '../../drawing';
import { Activity, Playhead } from '../../session';
import { PictureTools } from './picture-tools';
import { Sight } from './sight';

/** First and last frame, both included. */
export type FrameRange = readonly [number, number];

/** What is being prepared. */
export interface Preparing {
  readonly done: number;
  readonly all: number;
  /** Seconds, once there is something to tell by. */
  readonly leftS: number | undefined;
}

/** How long after a change it is looked at anew which frames are ready, and how long that takes in one go, ms. */
const AUDIT_MS = 250;
const TURN_MS = 6;
/** Frames are prepared at least so large, share of the picture's width; smaller ones would not be worth looking at. */
const LEAST_SHARE = 0.25;
/** Larger ones take longer to be drawn and to be shown than a true rate allows. */
const MOST_SHARE = 0.5;
/** Share of what frames may take that is given to what is prepared. */
const ROOM = 0.9;
const PIXEL_BYTES = 4;

/** Frames that play at their true rate because they were drawn before: which are ready, and drawing the others in the background. */
@Injectable({ providedIn: 'root' })
export class Preparation {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly activity = inject(Activity);
  private readonly pictures = inject(Pictures);
  private readonly kept = inject(PlayedFrames);
  private readonly sight = inject(Sight);
  private readonly tools = inject(PictureTools);
  private readonly notices = inject(Notices);
  private work: Subscription | undefined;

  /** Frames of what plays that are ready. */
  readonly ready = signal<readonly FrameRange[]>([]);
  readonly preparing = signal<Preparing | undefined>(undefined);
  /** Whether all that plays is ready. */
  readonly isReady = computed(() => {
    const [first, last] = this.playhead.playedRange();
    return this.ready().some(([from, to]) => from <= first && to >= last);
  });

  constructor() {
    const shown = computed(() => [
      this.store.project(),
      this.playhead.mode(),
      this.playhead.length(),
      this.sight.size(),
      this.tools.display(),
      this.tools.marksSharp(),
      this.activity.busy(),
    ]);
    merge(toObservable(shown), this.kept.changed$)
      .pipe(
        auditTime(AUDIT_MS),
        switchMap(() => this.look()),
        takeUntilDestroyed(),
      )
      .subscribe((ready) => this.ready.set(ready));
  }

  /** Draws what plays and is not ready, from the playhead on, while nothing else is to be drawn. */
  prepare(): void {
    this.cancel();
    const frames = this.missing();
    const { width, height } = this.sight.size();
    const [first, last] = this.playhead.playedRange();
    const room = (this.kept.mostBytes * ROOM) / (width * height * PIXEL_BYTES);
    const share = Math.max(LEAST_SHARE, Math.min(MOST_SHARE, Math.sqrt(room / (last - first + 1))));
    const fitting = frames.slice(0, Math.floor(room / share ** 2));
    if (fitting.length < frames.length) {
      this.notices.done(`Room for ${fitting.length} of ${frames.length} frames: set a range (I, O) to choose which.`);
    }
    const [begin, all] = [performance.now(), fitting.length];
    let done = 0;
    this.preparing.set({ done, all, leftS: undefined });
    this.work = from(fitting)
      .pipe(
        concatMap((frame) => this.draw(frame, share)),
        finalize(() => this.preparing.set(undefined)),
      )
      .subscribe({
        next: () => {
          done += 1;
          const leftS = ((performance.now() - begin) / 1000 / done) * (all - done);
          this.preparing.set({ done, all, leftS });
        },
        error: (error: unknown) => this.notices.error(error),
      });
  }

  cancel(): void {
    this.work?.unsubscribe();
  }

  /** Frames that play and are not known to be ready, those after the playhead first. */
  private missing(): number[] {
    const [first, last] = this.playhead.playedRange();
    const here = Math.min(last, Math.max(first, this.playhead.frame()));
    const count = last - first + 1;
    const all = Array.from({ length: count }, (_, i) => first + ((here - first + i) % count));
    const ready = this.ready();
    return all.filter((frame) => !ready.some(([from, to]) => frame >= from && frame <= to));
  }

  /** Draws a frame that is not kept yet. One that an edit has changed meanwhile is not kept: it shows what was. */
  private draw(frame: number, share: number): Observable<unknown> {
    const seen = this.sight.at(frame);
    if (!seen || this.kept.has(seen.frame.key)) return of(undefined);
    const { width, height } = this.sight.size();
    const effort = { share, shadows: true, lean: false };
    return this.pictures.inBackground(seen.view, Math.round(width * share), Math.round(height * share)).pipe(
      map((bitmap) => {
        if (this.sight.at(frame)?.frame.key === seen.frame.key) this.kept.take(seen.frame, bitmap, effort);
        else bitmap.close();
      }),
    );
  }

  /** Looks which frames are ready, in turns that nobody notices; not while something plays. */
  private look(): Observable<readonly FrameRange[]> {
    return new Observable((listener) => {
      if (this.activity.busy()) return listener.complete();
      const length = this.playhead.length();
      const ranges: [number, number][] = [];
      let [frame, timer] = [0, 0];
      const turn = () => {
        const begin = performance.now();
        for (; frame < length && performance.now() - begin < TURN_MS; frame++) {
          const seen = this.sight.at(frame);
          const open = ranges.at(-1);
          if (!seen || !this.kept.has(seen.frame.key)) continue;
          if (open?.[1] === frame - 1) open[1] = frame;
          else ranges.push([frame, frame]);
        }
        if (frame < length) timer = window.setTimeout(turn);
        else {
          listener.next(ranges);
          listener.complete();
        }
      };
      if (this.kept.size > 0) turn();
      else {
        listener.next([]);
        listener.complete();
      }
      return () => clearTimeout(timer);
    });
  }
}
