import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { Mark } from '@arvex/core';
import {
  framesInFlicks,
  isMovedOff,
  marksInOrder,
  moveMark,
  moveOf,
  sceneAt,
  secondsFromFlicks,
  setLeg,
  stretchesOf,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Thumbnail } from '../../drawing';
import { ComfortReport, Marks, Moves } from '../../features/moves';
import { Playhead, Viewpoint } from '../../session';
import { ActionButton, cameraColour, followDrag } from '../../ui';

/** Ticks of the ruler are about so far apart, pixels. */
const TICK_PX = 80;
/** Numbers of frames between two ticks. */
const STEPS = [1, 2, 5, 10, 12, 24, 48, 120, 240, 480, 1200, 2400, 4800, 12_000];
/** A mark's picture is so wide, pixels: where one before it takes the room, the mark is a name alone. */
const MARK_PX = 76;
/** More keys than this are told by the graph alone. */
const MOST_KEYS = 2000;

/** What lies between a mark and the next, in frames; `by` is how far it is pulled. */
interface Leg {
  readonly mark: Mark;
  readonly name: string;
  readonly from: number;
  readonly count: number;
  readonly by: number;
}

/** One camera along scene time: a ruler, its move with its keys and what an audience would mind, its marks, the shots that use it. */
@Component({
  selector: 'arvex-camera-track',
  imports: [Thumbnail, ActionButton, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './camera-track.html',
  styleUrl: './camera-track.scss',
})
export class CameraTrack {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  private readonly moves = inject(Moves);
  private readonly report = inject(ComfortReport);
  protected readonly marks = inject(Marks);

  /** Frames along the track, and its width in pixels. */
  readonly length = input.required<number>();
  readonly width = input.required<number>();
  protected readonly seen = this.playhead.seen;
  protected readonly first = computed(() => this.store.project()?.head.firstFrame ?? 0);

  protected readonly ticks = computed(() => {
    const wanted = (this.length() * TICK_PX) / this.width();
    const step = STEPS.find((one) => one >= wanted) ?? Math.ceil(wanted / 12_000) * 12_000;
    return Array.from({ length: Math.ceil(this.length() / step) }, (_, i) => i * step);
  });
  /** The move as a stretch of frames. */
  protected readonly bar = computed(() => {
    const [span, frame, move] = [this.moves.span(), this.moves.frameFlicks(), this.moves.move()];
    if (!span) return undefined;
    const [from, to] = span.map((at) => (sceneAt(move, at) ?? at) / frame) as [number, number];
    return { from, count: Math.max(1, to - from) };
  });
  /** Frames at which something is keyed. */
  protected readonly keys = computed(() => {
    const [move, frame] = [this.moves.move(), this.moves.frameFlicks()];
    const times = new Set(
      Object.entries(move?.curves ?? {}).flatMap(([channel, curve]) =>
        channel === 'timeWarp'
          ? []
          : curve.map((key) => Math.round((sceneAt(move, key.atFlicks) ?? key.atFlicks) / frame)),
      ),
    );
    return times.size > MOST_KEYS ? [] : [...times];
  });
  /** Stretches that an audience would mind. */
  protected readonly minded = computed(() => {
    const found = this.report.comfort();
    if (found?.cameraId !== this.viewpoint.camera()?.id) return [];
    return (found?.comfort.events ?? []).map(({ fromFrame, toFrame }) => {
      return { from: this.report.sceneFrame(fromFrame), count: toFrame - fromFrame + 1 };
    });
  });
  protected readonly used = computed(() => {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return [];
    const { rate } = project.head;
    return stretchesOf(project, camera.id).map(({ placed: { shot }, fromFlicks, toFlicks }) => ({
      shot,
      start: framesInFlicks(fromFlicks, rate),
      count: Math.max(1, framesInFlicks(toFlicks - fromFlicks, rate)),
      colour: cameraColour(camera.number),
    }));
  });
  protected readonly shownMarks = computed(() => {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return [];
    const move = moveOf(project, camera.id);
    let free = 0;
    return marksInOrder(move).map((mark) => {
      const frame = this.marks.frameOf(mark);
      const atPx = (frame / this.length()) * this.width();
      const pictured = atPx >= free;
      if (pictured) free = Math.max(atPx, MARK_PX / 2) + MARK_PX;
      return {
        mark,
        frame,
        pictured,
        sceneFlicks: this.marks.sceneFlicks(mark),
        cameraId: camera.id,
        off: move !== undefined && isMovedOff(move, camera, mark),
      };
    });
  });
  /** What lies between two marks, in frames. */
  protected readonly legs = computed(() =>
    this.shownMarks().flatMap(({ mark, frame }, i, marks): Leg[] => {
      const next = marks[i + 1];
      const pulled = this.pulled();
      const by = pulled?.id === mark.id ? pulled.by : 0;
      return next ? [{ mark, name: `${mark.name}–${next.mark.name}`, from: frame, count: next.frame - frame, by }] : [];
    }),
  );
  /** A leg that is pulled, by so many frames. */
  private readonly pulled = signal<{ readonly id: string; readonly by: number } | undefined>(undefined);
  /** A mark that is dragged, by so many frames. */
  protected readonly dragged = signal<{ readonly id: string; readonly by: number } | undefined>(undefined);

  protected percent(frame: number): number {
    return (frame / this.length()) * 100;
  }

  protected seconds(frames: number): string {
    return `${secondsFromFlicks(frames * this.moves.frameFlicks()).toFixed(1)} s`;
  }

  protected byOf(mark: Mark): number {
    const dragged = this.dragged();
    return dragged?.id === mark.id ? dragged.by : 0;
  }

  /** A drag moves the mark alone, with Shift the later ones go along; a press that stays where it is goes to it. */
  protected begin(event: PointerEvent, mark: Mark): void {
    this.followFrames(event, (by) => this.dragged.set(by === undefined ? undefined : { id: mark.id, by }), {
      kept: (by) => this.move(mark, by, event.shiftKey),
      pressed: () => this.marks.jump(mark),
    });
  }

  /** A drag makes a leg longer or shorter, no shorter than a frame; a press that stays where it is goes to its start. */
  protected pull(event: PointerEvent, leg: Leg): void {
    const within = (by: number) => Math.max(1 - leg.count, by);
    this.followFrames(
      event,
      (by) => this.pulled.set(by === undefined ? undefined : { id: leg.mark.id, by: within(by) }),
      {
        kept: (by) => this.lengthen(leg, within(by)),
        pressed: () => this.marks.jump(leg.mark),
      },
    );
  }

  /** Alt with an arrow key makes a leg longer or shorter by a frame. */
  protected stretch(event: Event, leg: Leg, by: number): void {
    event.preventDefault();
    event.stopPropagation();
    if (leg.count + by >= 1) this.lengthen(leg, by);
  }

  private lengthen({ mark, count }: Leg, by: number): void {
    const legFlicks = (count + by) * this.moves.frameFlicks();
    this.moves.edit((project, cameraId) => setLeg(project, cameraId, mark.id, legFlicks));
  }

  /** Follows a drag along the track in whole frames: told while it lasts, `undefined` when it is over. */
  private followFrames(
    event: PointerEvent,
    told: (by: number | undefined) => void,
    then: { readonly kept: (by: number) => void; readonly pressed: () => void },
  ): void {
    event.stopPropagation();
    if (event.button !== 0) return;
    const perPixel = this.length() / this.width();
    let by = 0;
    followDrag(
      event,
      ({ dx }) => {
        by = Math.round(dx * perPixel);
        told(by);
      },
      (kept, released) => {
        told(undefined);
        if (kept && by !== 0) then.kept(by);
        else if (released) then.pressed();
      },
    );
  }

  /** Alt with an arrow key moves a mark by a frame. */
  protected nudge(event: Event, mark: Mark, by: number): void {
    event.preventDefault();
    event.stopPropagation();
    this.move(mark, by, (event as KeyboardEvent).shiftKey);
  }

  private move(mark: Mark, byFrames: number, withLater: boolean): void {
    const byFlicks = byFrames * this.moves.frameFlicks();
    const before = this.marks.marks();
    const previous = before[before.findIndex(({ id }) => id === mark.id) - 1];
    this.moves.edit((project, cameraId) =>
      withLater && previous
        ? setLeg(project, cameraId, previous.id, mark.atFlicks + byFlicks - previous.atFlicks)
        : moveMark(project, cameraId, mark.id, mark.atFlicks + byFlicks),
    );
  }
}
