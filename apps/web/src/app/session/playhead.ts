import type { WritableSignal } from '@angular/core';
import { computed, effect, inject, Injectable, linkedSignal, signal, untracked } from '@angular/core';
import {
  camerasInOrder,
  cutOf,
  flicksPerFrame,
  frameMeant,
  frameSeeing,
  framesInFlicks,
  framesPerSecond,
  sceneEndFlicks,
  startFrameOf,
} from '@arvex/core';
import { ProjectStore, recall, remember } from '../data';
import { OpenSequence } from './open-sequence';
import type { PlayMode, Seen } from './seen';
import { seenAt } from './seen';
import * as z from 'zod';

/** Where in a project somebody is. */
const placeSchema = z.object({
  mode: z.enum(['cut', 'camera']),
  cameraId: z.string().optional(),
  frame: z.number().int().min(0),
});
/** A scene with nothing in it yet still has this many seconds to set marks in. */
const SHORTEST_SCENE_S = 10;

const keyOf = (projectId: string): string => `place.${projectId}`;

/** Where in time the artist is, and what of the project is seen there. */
@Injectable({ providedIn: 'root' })
export class Playhead {
  private readonly store = inject(ProjectStore);
  private readonly sequence = inject(OpenSequence);
  private readonly projectId = computed(() => this.store.project()?.head.id);
  /** A project that is opened again is entered where it was left. */
  private readonly entry = computed(() => {
    const id = this.projectId();
    const place = id === undefined ? undefined : recall(keyOf(id), placeSchema);
    return place ?? { mode: 'cut' as const, cameraId: undefined, frame: 0 };
  });
  private readonly at = linkedSignal(() => this.entry().frame);
  private readonly chosen = linkedSignal(() => this.entry().cameraId);
  /** The camera that was chosen; the first one until then, and once that one is gone. */
  private readonly chosenCamera = computed(() => {
    const [project, chosen] = [this.store.project(), this.chosen()];
    return project && (chosen === undefined || !project.cameras[chosen]) ? camerasInOrder(project)[0]?.id : chosen;
  });

  private readonly chosenMode = linkedSignal<PlayMode | undefined>(() => {
    const { mode } = this.entry();
    return mode === 'camera' || untracked(this.sequence.hasShots) ? mode : undefined;
  });
  /**
   * What is looked at: as somebody has chosen, else the cut once it has shots. Without them it has no time that could go by and no picture:
   * one begins at a camera, whether there is one yet or not.
   */
  readonly mode = computed<PlayMode>(() => this.chosenMode() ?? (this.sequence.hasShots() ? 'cut' : 'camera'));
  /** First and last frame of the range that plays, both included; the whole when not set. */
  readonly range = this.anew<readonly [number, number] | undefined>(undefined);
  /** How fast time goes by and in which direction, times the pace; 0 while it stands. Playback sets it. */
  readonly speed = this.anew(0);
  readonly playing = computed(() => this.speed() !== 0);
  /** Whether somebody types where to go. */
  readonly typing = signal(false);
  /** Counted from 0, and inside what there is. */
  readonly frame = computed(() => Math.min(this.at(), this.length() - 1));
  readonly sequenceId = this.sequence.id;
  /** The one shot of the cut that plays, when not all of it does. */
  private readonly alone = this.anew<string | undefined>(undefined);
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
  readonly seen = computed<Seen | undefined>(() => this.seenAtFrame(this.frame()));
  /**
   * The same for what lies beside the picture: while something plays on a machine that is slow to put its pages together, a few times
   * a second, so that the picture keeps its pace. Whoever presses something acts on what is seen then ({@link lookUp}).
   */
  readonly glance = computed<Seen | undefined>(() => (this.glanced() === undefined ? this.seen() : this.glanced()));
  private readonly glanced = this.anew<Seen | undefined>(undefined);

  constructor() {
    effect(() => {
      const [id, place] = [this.projectId(), { mode: this.mode(), cameraId: this.chosenCamera(), frame: this.frame() }];
      if (!this.playing() && id !== undefined) remember(keyOf(id), place);
    });
  }

  /** What begins anew with each project. */
  private anew<T>(first: T): WritableSignal<T> {
    return linkedSignal<string | undefined, T>({ source: this.projectId, computation: () => first });
  }

  seenAtFrame(frame: number): Seen | undefined {
    const project = this.sequence.project();
    return project && seenAt(project, this.mode(), frame, this.sequenceId(), this.chosenCamera());
  }

  /** Goes to a frame, counted from 0 and kept inside. Stops playing. */
  goTo(frame: number): void {
    this.stop();
    this.at.set(Math.max(0, Math.min(this.length() - 1, Math.round(frame))));
  }

  /** Goes to a frame or timecode that somebody typed. @throws CoreError that says what it cannot read. */
  goToTyped(text: string): void {
    const project = this.store.project();
    if (!project) return;
    const start = this.mode() === 'cut' ? startFrameOf(project, this.sequenceId()) : 0;
    this.goTo(frameMeant(text, project, start, this.frame()));
  }

  step(frames: number): void {
    this.goTo(this.frame() + frames);
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
    const through = cameraId ?? seen.cameraId ?? this.chosenCamera();
    if (through !== undefined) this.chosen.set(through);
    if (mode === this.mode()) return;
    this.range.set(undefined);
    if (mode === 'camera') {
      this.chosenMode.set('camera');
      this.at.set(Math.floor(seen.sceneFlicks / flicksPerFrame(project.head.rate)));
    } else {
      const frame =
        through === undefined ? undefined : frameSeeing(project, this.sequenceId(), through, seen.sceneFlicks);
      this.chosenMode.set('cut');
      this.at.set(Math.min(frame ?? 0, cutOf(project, this.sequenceId()).frameCount - 1));
    }
  }

  /** Plays a shot alone: the one at the playhead when none is given. Where there is none the cut goes on. */
  toShot(shotId = this.seen()?.shot?.id): void {
    this.toMode('cut');
    this.range.set(undefined);
    this.alone.set(shotId);
    const [first, last] = this.playedRange();
    if (this.frame() < first || this.frame() > last) this.at.set(first);
  }

  /** Opens another sequence, at its beginning. */
  openSequence(sequenceId: string): void {
    if (sequenceId === this.sequenceId()) return;
    this.toMode('cut');
    this.range.set(undefined);
    this.sequence.open(sequenceId);
    this.at.set(0);
  }

  /** Time stands still here. */
  stop(): void {
    if (!this.playing()) return;
    this.speed.set(0);
    this.glanced.set(undefined);
  }

  /** Time goes by: a frame is seen while something plays. */
  moveTo(frame: number): void {
    this.at.set(frame);
  }

  /** Sets the first (I) or last (O) frame of the range that plays, here. */
  setRangeEnd(end: 'first' | 'last'): void {
    const [first, last] = this.range() ?? [0, this.length() - 1];
    const here = this.frame();
    this.range.set(end === 'first' ? [here, Math.max(here, last)] : [Math.min(here, first), here]);
  }

  /** First and last frame of what plays: of a range, what is left of it. */
  playedRange(): readonly [number, number] {
    const last = this.length() - 1;
    const [range, shot] = [this.range(), this.shotAlone()];
    if (range) return [Math.min(range[0], last), Math.min(range[1], last)];
    return shot ? [shot.startFrame, shot.startFrame + shot.frameCount - 1] : [0, last];
  }

  /** Brings what lies beside the picture up to it, and leaves it there until this is called again. */
  glanceUp(): void {
    this.glanced.set(this.seen());
  }

  /** Brings what lies beside the picture up to it, if it stays behind. */
  lookUp(): void {
    if (this.glanced() !== undefined) this.glanceUp();
  }
}
