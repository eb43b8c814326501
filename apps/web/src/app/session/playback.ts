import { ApplicationRef, computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { framesPerSecond } from '@arvex/core';
import { animationFrames, Subject, switchMap, takeWhile } from 'rxjs';
import { ProjectStore, remembered } from '../data';
import { PlayClock } from './play-clock';
import { Playhead } from './playhead';
import * as z from 'zod';

/** Paces of playing, times the true rate. */
const PACES = [1, 0.5, 0.25] as const;
const paceSchema = z.union(PACES.map((pace) => z.literal(pace)));
/** Speeds of the shuttle, times the pace. */
const SHUTTLE = [1, 2, 4, 8];
/** How often it is said what rate is reached: saying it makes the page anew. */
const TOLD_EVERY_MS = 500;

/** What moves the playhead by the clock, or by the sound that is heard. The true rate is kept by leaving frames out. */
@Injectable({ providedIn: 'root' })
export class Playback {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly application = inject(ApplicationRef);

  readonly loop = signal(true);
  /** Times the true rate: whole, half or a quarter. */
  readonly pace = remembered('pace', paceSchema, 1);
  /** Whether every frame is shown, however long it takes, or the true rate is kept by leaving frames out. */
  readonly everyFrame = remembered('every-frame', z.boolean(), false);
  /** Frames a second that playing asks for. */
  readonly rate = computed(() => {
    const project = this.store.project();
    const speed = Math.max(1, Math.abs(this.playhead.speed()));
    return project ? framesPerSecond(project.head.rate) * this.pace() * speed : 24;
  });
  private readonly due = new Subject<number>();
  /** Every frame as it is due while something plays, past change detection. Whoever listens says when it is seen ({@link arrive}). */
  readonly due$ = this.due.asObservable();
  private readonly told = signal<number | undefined>(undefined);
  /** Frames a second that were really shown, while playing. */
  readonly reached = computed(() => (this.playhead.playing() ? this.told() : undefined));
  /** Frames left out since playing began. */
  readonly dropped = signal(0);

  private readonly begins = new Subject<void>();
  /** The frame that is being drawn. */
  private coming: number | undefined;
  /** The frame at which playing began. */
  private startFrame = 0;
  private readonly pacing = new PlayClock();
  private toldAt = 0;
  private heardMs: (() => number | undefined) | undefined;

  constructor() {
    const clock = () => animationFrames().pipe(takeWhile(() => this.playhead.playing()));
    this.begins.pipe(switchMap(clock), takeUntilDestroyed()).subscribe(({ timestamp }) => this.show(timestamp));
  }

  toggle(): void {
    if (this.playhead.playing()) this.playhead.stop();
    else this.play(1);
  }

  /** Faster in a direction, or in that direction at all: 1 forward, −1 backward. */
  shuttle(direction: 1 | -1): void {
    const speed = this.playhead.speed();
    if (Math.sign(speed) !== direction) this.play(direction);
    else this.play(direction * (SHUTTLE[SHUTTLE.indexOf(Math.abs(speed)) + 1] ?? Math.abs(speed)));
  }

  /** Plays a range round and round, from its first frame. */
  playRange(first: number, last: number): void {
    const end = Math.min(this.playhead.length() - 1, Math.max(first + 1, last));
    this.playhead.range.set([Math.max(0, first), end]);
    this.loop.set(true);
    this.playhead.goTo(first);
    this.play(1);
  }

  changePace(): void {
    this.pace.set(PACES[PACES.indexOf(this.pace()) + 1] ?? 1);
    this.playOn();
  }

  changeEveryFrame(): void {
    this.everyFrame.update((every) => !every);
    this.playOn();
  }

  /** The frame to draw while something plays. */
  comingFrame(): number {
    return this.coming ?? this.playhead.frame();
  }

  /** The frame that time has come to, whether its picture is there or not; the one that is seen while every frame is shown. */
  clockFrame(): number {
    if (!this.playhead.playing() || this.everyFrame()) return this.playhead.frame();
    const steps = this.pacing.framesGoneBy(this.nowMs(performance.now()), this.rate());
    return this.inRange(this.startFrame + steps * Math.sign(this.playhead.speed()));
  }

  /** A frame that was due is seen now: everything else follows it, in the same page of the screen. */
  arrive(frame: number): void {
    if (frame !== this.coming || !this.playhead.playing()) return; // a picture of what was asked for before
    this.pacing.countDrawn();
    this.moveTo(frame);
    this.application.tick();
  }

  /**
   * Lets frames follow a sound: `heardMs` says how much of it has been heard since playing began, or nothing while it stands. Without one
   * they follow the clock of the machine.
   */
  followSound(heardMs: (() => number | undefined) | undefined): void {
    this.heardMs = heardMs;
  }

  /** How long it has been playing by the machine's clock, milliseconds. */
  playedMs(): number {
    return performance.now() - this.pacing.beganAt;
  }

  private play(speed: number): void {
    const { playhead } = this;
    const begun = playhead.playing();
    const [first, last] = playhead.playedRange();
    const at = playhead.frame();
    const atEnd = speed > 0 ? at >= last : at <= first;
    if (at < first || at > last || atEnd) playhead.moveTo(speed > 0 ? first : last);
    playhead.speed.set(speed);
    this.coming = undefined;
    this.startFrame = playhead.frame();
    this.toldAt = performance.now();
    this.told.set(undefined);
    this.pacing.begin(this.toldAt);
    this.dropped.set(0);
    if (!begun) this.begins.next();
  }

  /** What plays goes on from here as it is set now. */
  private playOn(): void {
    if (this.playhead.playing()) this.play(this.playhead.speed());
  }

  private moveTo(frame: number): void {
    this.coming = undefined;
    this.playhead.moveTo(frame);
    if (this.pacing.pagesAreSlow && this.pacing.mayGlance(performance.now())) this.playhead.glanceUp();
  }

  /** Now by the machine's clock, or by the sound that is heard; milliseconds. */
  private nowMs(timestamp: number): number {
    const heard = this.heardMs?.();
    return heard === undefined ? timestamp : this.pacing.beganAt + heard;
  }

  /** A frame that time has come to, in the range that plays: round and round, or at its ends. */
  private inRange(frame: number): number {
    const [first, last] = this.playhead.playedRange();
    if (!this.loop()) return Math.min(last, Math.max(first, frame));
    const count = last - first + 1;
    return first + ((((frame - first) % count) + count) % count);
  }

  /** Time decides the frame; how long drawing took does not matter, unless every frame is to be seen. */
  private show(timestamp: number): void {
    const { playhead } = this;
    const now = this.nowMs(timestamp);
    const speed = playhead.speed();
    const steps = this.pacing.framesGone(now, this.rate(), this.everyFrame());
    const [first, last] = playhead.playedRange();
    const gone = this.startFrame + steps * Math.sign(speed);
    if ((gone > last || gone < first) && !this.loop()) {
      playhead.goTo(speed > 0 ? last : first);
      return;
    }
    const frame = this.inRange(gone);
    if (now - this.toldAt > TOLD_EVERY_MS) {
      this.toldAt = now;
      this.told.set(this.pacing.reached(now));
      this.dropped.set(this.everyFrame() ? 0 : this.pacing.leftOut());
    }
    if (frame === this.comingFrame() || this.pacing.isBehind(now)) return;
    if (this.coming !== undefined) this.moveTo(this.coming); // its picture takes too long to be waited for
    this.pacing.show(now);
    this.coming = frame;
    if (this.due.observed) this.due.next(frame);
    else this.arrive(frame);
  }
}
