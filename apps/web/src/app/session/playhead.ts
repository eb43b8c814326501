import { ApplicationRef, computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import {
  camerasInOrder,
  cutOf,
  flicksPerFrame,
  frameSeeing,
  framesInFlicks,
  framesPerSecond,
  sceneEndFlicks,
} from '@arvex/core';
import { animationFrames, EMPTY, Subject, switchMap } from 'rxjs';
import { ProjectStore } from '../data';
import { PlayClock } from './play-clock';
import { OpenSequence } from './open-sequence';
import { recall, remember, remembered } from './remembered';
import type { PlayMode, Seen } from './seen';
import { seenAt } from './seen';
import * as z from 'zod';

/** Paces of playing, times the true rate. */
const PACES = [1, 0.5, 0.25] as const;
const paceSchema = z.union(PACES.map((pace) => z.literal(pace)));
/** Where in a project somebody is. */
const placeSchema = z.object({
  mode: z.enum(['cut', 'camera']),
  cameraId: z.string().optional(),
  frame: z.number().int().min(0),
});
/** Speeds of the shuttle, times the pace. */
const SHUTTLE = [1, 2, 4, 8];
/** A scene with nothing in it yet still has this many seconds to set marks in. */
const SHORTEST_SCENE_S = 10;

/** How often it is said what rate is reached: saying it makes the page anew. */
const TOLD_EVERY_MS = 500;

/** Where in time the artist is, and the clock that plays. The true rate is kept by leaving frames out. */
@Injectable({ providedIn: 'root' })
export class Playhead {
  private readonly store = inject(ProjectStore);
  private readonly sequence = inject(OpenSequence);
  private readonly application = inject(ApplicationRef);
  private readonly at = signal(0);
  private readonly chosen = signal<string | undefined>(undefined);

  readonly mode = signal<PlayMode>('cut');
  readonly speed = signal(0);
  readonly loop = signal(true);
  /** Times the true rate: whole, half or a quarter. */
  readonly pace = remembered('pace', paceSchema, 1);
  /** Whether every frame is shown, however long it takes, or the true rate is kept by leaving frames out. */
  readonly everyFrame = remembered('every-frame', z.boolean(), false);
  /** First and last frame of the range that plays, both included; the whole when not set. */
  readonly range = signal<readonly [number, number] | undefined>(undefined);
  readonly playing = computed(() => this.speed() !== 0);
  /** Frames a second that playing asks for. */
  readonly rate = computed(() => {
    const project = this.store.project();
    return project ? framesPerSecond(project.head.rate) * this.pace() * Math.max(1, Math.abs(this.speed())) : 24;
  });
  readonly frame = this.at.asReadonly();
  readonly sequenceId = this.sequence.id;
  /** The one shot of the cut that plays, when not all of it does. */
  private readonly alone = signal<string | undefined>(undefined);
  readonly shotAlone = computed(() => {
    const id = this.mode() === 'cut' ? this.alone() : undefined;
    return id === undefined ? undefined : this.sequence.cut().shots.find(({ shot }) => shot.id === id);
  });
  /** What plays: the cut, one shot of it, or one camera. */
  readonly plays = computed(() => (this.mode() === 'camera' ? 'camera' : this.shotAlone() ? 'shot' : 'cut'));
  /** How many frames there are to play. */
  readonly length = computed(() => {
    const project = this.store.project();
    if (!project) return 1;
    if (this.mode() === 'cut') return Math.max(1, this.sequence.cut().frameCount);
    const { rate } = project.head;
    const scene = framesInFlicks(sceneEndFlicks(project), rate);
    return Math.max(scene, Math.round(SHORTEST_SCENE_S * framesPerSecond(rate)));
  });
  readonly seen = computed<Seen | undefined>(() => this.seenAtFrame(this.at()));
  /**
   * The same for what lies beside the picture: while something plays on a machine that is slow to put its pages together, a few times
   * a second, so that the picture keeps its pace. Whoever presses something acts on what is seen then ({@link lookUp}).
   */
  readonly glance = computed<Seen | undefined>(() => (this.glanced() === undefined ? this.seen() : this.glanced()));
  private readonly glanced = signal<Seen | undefined>(undefined);
  private readonly due = new Subject<number>();
  /** Every frame as it is due while something plays, past change detection. Whoever listens says when it is seen ({@link arrive}). */
  readonly due$ = this.due.asObservable();
  /** The frame that is being drawn. */
  private coming: number | undefined;
  /** The clock runs, or stands. */
  private readonly clock = new Subject<'runs' | 'stands'>();
  /** Frames a second that were really shown, while playing. */
  readonly reached = signal<number | undefined>(undefined);
  /** Frames left out since playing began. */
  readonly dropped = signal(0);

  /** The project whose place is remembered. */
  private entered = '';
  /** The frame at which playing began. */
  private startFrame = 0;
  private readonly pacing = new PlayClock();
  private toldAt = 0;
  private heardMs: (() => number | undefined) | undefined;

  constructor() {
    // A project that is opened again is entered where it was left.
    effect(() => {
      const id = this.store.project()?.head.id;
      if (id !== undefined) untracked(() => this.enter(id));
    });
    effect(() => {
      const place = { mode: this.mode(), cameraId: this.chosen(), frame: this.at() };
      if (!this.playing() && this.entered !== '') remember(`place.${this.entered}`, place);
    });
    this.clock
      .pipe(
        switchMap((state) => (state === 'runs' ? animationFrames() : EMPTY)),
        takeUntilDestroyed(),
      )
      .subscribe(({ timestamp }) => this.show(timestamp));
    // The playhead stays inside what there is.
    effect(() => {
      const last = this.length() - 1;
      if (untracked(this.at) > last) this.at.set(last);
    });
    // The first camera is looked through until another one is chosen.
    effect(() => {
      const project = this.store.project();
      const chosen = this.chosen();
      if (project && (chosen === undefined || !project.cameras[chosen])) {
        const first = camerasInOrder(project)[0]?.id;
        if (first !== chosen) this.chosen.set(first);
      }
    });
  }

  private enter(projectId: string): void {
    if (projectId === this.entered) return;
    this.entered = projectId;
    const place = recall(`place.${projectId}`, placeSchema) ?? { mode: 'cut', cameraId: undefined, frame: 0 };
    this.stop();
    this.range.set(undefined);
    this.mode.set(place.mode);
    this.chosen.set(place.cameraId);
    this.at.set(place.frame);
  }

  seenAtFrame(frame: number): Seen | undefined {
    const project = this.sequence.project();
    return project && seenAt(project, this.mode(), frame, this.sequenceId(), this.chosen());
  }

  /** Goes to a frame, counted from 0 and kept inside. Stops playing. */
  goTo(frame: number): void {
    this.stop();
    this.at.set(Math.max(0, Math.min(this.length() - 1, Math.round(frame))));
  }

  step(frames: number): void {
    this.goTo(this.at() + frames);
  }

  /** Looks through a camera alone, at the scene time that is seen now. */
  lookThrough(cameraId: string): void {
    this.toMode('camera', cameraId);
  }

  /** Changes between the cut and one camera; the picture stays where it can. */
  toMode(mode: PlayMode, cameraId?: string): void {
    this.alone.set(undefined);
    const project = this.store.project();
    const seen = this.seen();
    if (!project || !seen) return;
    this.stop();
    const through = cameraId ?? seen.cameraId ?? this.chosen();
    if (through !== undefined) this.chosen.set(through);
    if (mode === this.mode()) return;
    this.range.set(undefined);
    if (mode === 'camera') {
      this.mode.set('camera');
      this.at.set(Math.floor(seen.sceneFlicks / flicksPerFrame(project.head.rate)));
    } else {
      const frame =
        through === undefined ? undefined : frameSeeing(project, this.sequenceId(), through, seen.sceneFlicks);
      this.mode.set('cut');
      this.at.set(Math.min(frame ?? 0, cutOf(project, this.sequenceId()).frameCount - 1));
    }
  }

  /** Plays a shot alone: the one at the playhead when none is given. Where there is none the cut goes on. */
  toShot(shotId = this.seen()?.shot?.id): void {
    this.toMode('cut');
    this.range.set(undefined);
    this.alone.set(shotId);
    const [first, last] = this.playedRange();
    if (this.at() < first || this.at() > last) this.at.set(first);
  }

  /** Opens another sequence, at its beginning. */
  openSequence(sequenceId: string): void {
    if (sequenceId === this.sequenceId()) return;
    this.toMode('cut');
    this.range.set(undefined);
    this.sequence.open(sequenceId);
    this.at.set(0);
  }

  toggle(): void {
    if (this.playing()) this.stop();
    else this.play(1);
  }

  /** Faster in a direction, or in that direction at all: 1 forward, −1 backward. */
  shuttle(direction: 1 | -1): void {
    const speed = this.speed();
    if (Math.sign(speed) !== direction) this.play(direction);
    else this.play(direction * (SHUTTLE[SHUTTLE.indexOf(Math.abs(speed)) + 1] ?? Math.abs(speed)));
  }

  stop(): void {
    if (!this.playing()) return;
    this.speed.set(0);
    this.coming = undefined;
    this.glanced.set(undefined);
    this.clock.next('stands');
    this.reached.set(undefined);
  }

  /** Sets the first (I) or last (O) frame of the range that plays, here. */
  setRangeEnd(end: 'first' | 'last'): void {
    const [first, last] = this.range() ?? [0, this.length() - 1];
    const here = this.at();
    this.range.set(end === 'first' ? [here, Math.max(here, last)] : [Math.min(here, first), here]);
  }

  /** Plays a range round and round, from its first frame. */
  playRange(first: number, last: number): void {
    this.range.set([Math.max(0, first), Math.min(this.length() - 1, Math.max(first + 1, last))]);
    this.loop.set(true);
    this.goTo(first);
    this.play(1);
  }

  /** The frame to draw while something plays. */
  comingFrame(): number {
    return this.coming ?? this.at();
  }

  /** A frame that was due is seen now: everything else follows it, in the same page of the screen. */
  arrive(frame: number): void {
    if (frame !== this.coming) return; // a picture of what was asked for before
    this.pacing.countDrawn();
    this.moveTo(frame);
    this.application.tick();
  }

  private moveTo(frame: number): void {
    this.coming = undefined;
    this.at.set(frame);
    if (this.pacing.pagesAreSlow && this.pacing.mayGlance(performance.now())) this.glanced.set(this.seen());
  }

  private play(speed: number): void {
    this.coming = undefined;
    const begun = this.playing();
    const [first, last] = this.playedRange();
    const inside = this.at() >= first && this.at() <= last;
    const atEnd = speed > 0 ? this.at() >= last : this.at() <= first;
    if (!inside || atEnd) this.at.set(speed > 0 ? first : last);
    this.speed.set(speed);
    this.startFrame = this.at();
    this.toldAt = performance.now();
    this.pacing.begin(this.toldAt);
    this.dropped.set(0);
    if (!begun) this.clock.next('runs');
  }

  /** First and last frame of what plays. */
  playedRange(): readonly [number, number] {
    const shot = this.shotAlone();
    const whole = shot ? ([shot.startFrame, shot.startFrame + shot.frameCount - 1] as const) : undefined;
    return this.range() ?? whole ?? [0, this.length() - 1];
  }

  changePace(): void {
    const next = PACES[PACES.indexOf(this.pace()) + 1] ?? 1;
    this.pace.set(next);
    if (this.playing()) this.play(this.speed());
  }

  changeEveryFrame(): void {
    this.everyFrame.update((every) => !every);
    if (this.playing()) this.play(this.speed());
  }

  /** Brings what lies beside the picture up to it. */
  lookUp(): void {
    if (this.glanced() !== undefined) this.glanced.set(this.seen());
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

  /** Time decides the frame; how long drawing took does not matter, unless every frame is to be seen. */
  private show(timestamp: number): void {
    const heard = this.heardMs?.();
    const now = heard === undefined ? timestamp : this.pacing.beganAt + heard;
    const project = this.store.project();
    const speed = this.speed();
    if (speed === 0 || !project) return;
    const steps = this.pacing.framesGone(now, this.rate(), this.everyFrame());
    const [first, last] = this.playedRange();
    const count = last - first + 1;
    let frame = this.startFrame + steps * Math.sign(speed);
    if (frame > last || frame < first) {
      if (!this.loop()) {
        this.at.set(speed > 0 ? last : first);
        this.stop();
        return;
      }
      frame = first + ((((frame - first) % count) + count) % count);
    }
    if (now - this.toldAt > TOLD_EVERY_MS) {
      this.toldAt = now;
      this.reached.set(this.pacing.reached(now));
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
