import type { AfterViewInit, ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, input, signal, viewChild } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Channel, Curve, Key } from '@arvex/core';
import { withKey } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { Track } from '../../features/moves';
import { Keys, Moves, Tracks } from '../../features/moves';
import { Playhead } from '../../session';
import { ChoiceField, followDrag } from '../../ui';
import type { TimeAxis, ValueAxis } from './curve-axes';
import { curvePath, flicksOf, ROOM, ticks, timesOf, valueAxis, valuePerPx, xOf, yOf } from './curve-axes';
import { KeyBar } from './key-bar';

/** Height of the row of frame numbers, and of a row of the time table, pixels. */
const RULER_PX = 22;
const ROW_PX = 26;
/** Between curves that are shown together, pixels. */
const MOST_APART_PX = 9;
const ZOOM_STEP = 1.15;
/** One track as it is drawn. */
interface DrawnTrack {
  readonly track: Track;
  readonly axis: ValueAxis;
  readonly path: string;
  readonly keys: readonly { readonly key: Key; readonly x: number; readonly y: number; readonly chosen: boolean }[];
  readonly topPx: number;
}

/** The curves of a move: as a graph over values, or as a time table with a row for each channel. */
@Component({
  selector: 'arvex-curves-view',
  imports: [ChoiceField, KeyBar, MatIcon, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './curves-view.html',
  styleUrl: './curves-view.scss',
})
export class CurvesView implements AfterViewInit, OnDestroy {
  readonly kind = input.required<'graph' | 'table'>();
  protected readonly keys = inject(Keys);
  protected readonly tracks = inject(Tracks);
  protected readonly moves = inject(Moves);
  private readonly playhead = inject(Playhead);
  private readonly store = inject(ProjectStore);
  private readonly area = viewChild.required<ElementRef<SVGSVGElement>>('area');
  private readonly size = signal({ width: 600, height: 160 });
  private readonly chosenTimes = signal<readonly [number, number] | undefined>(undefined);
  private readonly observer = new ResizeObserver(() => this.measure());

  protected readonly rulerPx = RULER_PX;
  protected readonly rowPx = ROW_PX;
  protected readonly box = signal<{ x: number; y: number; width: number; height: number } | undefined>(undefined);

  /** The camera, and every thing of the set that has keys. */
  protected readonly owners = computed(() => {
    const camera = this.moves.camera();
    const things = this.tracks.things().map(({ id, name }) => ({ id, name }));
    return [{ id: 'camera', name: camera ? `${camera.number} ${camera.name}` : 'no camera' }, ...things];
  });
  protected readonly first = computed(() => this.store.project()?.head.firstFrame ?? 0);
  protected readonly time = computed<TimeAxis>(() => {
    const [fromFlicks, toFlicks] =
      this.chosenTimes() ??
      timesOf(
        this.tracks.all().map(({ curve }) => curve),
        this.moves.frameFlicks(),
      );
    return { fromFlicks, toFlicks, widthPx: this.size().width };
  });
  protected readonly height = computed(() =>
    this.kind() === 'graph' ? this.size().height : Math.max(60, RULER_PX + this.tracks.all().length * ROW_PX + 6),
  );
  /** Tracks as drawn: in the graph those that are shown, in the table all. */
  protected readonly drawn = computed<readonly DrawnTrack[]>(() => {
    const graph = this.kind() === 'graph';
    const tracks = graph ? this.tracks.shown() : this.tracks.all();
    const time = this.time();
    return tracks.map((track, i) => {
      const height = this.size().height - RULER_PX;
      // Curves of one form lie a little apart, so that none hides another.
      const apart = Math.min(MOST_APART_PX, (height * 0.4) / tracks.length);
      const topPx = RULER_PX + i * (graph ? apart : ROW_PX);
      const axis = valueAxis(track, topPx, graph ? height - (tracks.length - 1) * apart : ROW_PX);
      const keys = track.curve.map((key) => ({
        key,
        x: xOf(time, key.atFlicks),
        chosen: this.keys.isChosen(track.channel, key),
        y: graph ? yOf(axis, key.value) : topPx + ROW_PX / 2,
      }));
      return { track, axis, topPx, keys, path: graph ? curvePath(track, time, axis) : '' };
    });
  });
  protected readonly playX = computed(() => xOf(this.time(), this.moves.atFlicks()));
  protected readonly frames = computed(() => {
    const time = this.time();
    const frame = this.moves.frameFlicks();
    return ticks(time.fromFlicks / frame, time.toFlicks / frame, time.widthPx / 90)
      .filter((at) => at >= 0 && Number.isInteger(at))
      .map((at) => ({ x: xOf(time, at * frame), text: String(this.first() + at) }));
  });
  /** Lines of value, when one channel is alone. */
  protected readonly values = computed(() => {
    const [only, ...others] = this.kind() === 'graph' ? this.drawn() : [];
    if (!only || others.length > 0) return [];
    const { unit } = only.track.face;
    return ticks(only.axis.low, only.axis.high, 5).map((value) => ({
      y: yOf(only.axis, value),
      text: `${value} ${unit}`,
    }));
  });
  /** Handles of the chosen free key. */
  protected readonly handles = computed(() => {
    const single = this.keys.single();
    const drawn = this.drawn().find(({ track }) => track.channel === single?.track.channel);
    if (!single || !drawn || this.kind() !== 'graph' || single.key.shape !== 'free') return [];
    const { key } = single;
    return (['in', 'out'] as const).flatMap((side) => {
      const handle = key[side];
      if (!handle || handle.flicks === 0) return [];
      const x = xOf(this.time(), key.atFlicks + handle.flicks);
      return [{ side, key, drawn, x, y: yOf(drawn.axis, key.value + handle.value) }];
    });
  });

  ngAfterViewInit(): void {
    this.observer.observe(this.area().nativeElement.parentElement as Element);
    this.measure();
  }

  ngOnDestroy(): void {
    this.observer.disconnect();
  }

  protected number(value: number, unit: string): string {
    return `${value.toFixed(unit === 'mm' || unit === '°' ? 1 : 2)} ${unit}`;
  }

  protected setAlone(channel: Channel, more: boolean): void {
    this.tracks.alone.update((alone) => {
      if (!more && alone.size === 1 && alone.has(channel)) return new Set();
      const next = new Set(more ? alone : []);
      if (more && next.has(channel)) next.delete(channel);
      else next.add(channel);
      return next;
    });
  }

  protected fit(): void {
    this.chosenTimes.set(undefined);
  }

  /** Chooses a key, and drags all that are chosen: in time by whole frames, in the graph in value too. */
  protected beginKey(event: PointerEvent, { track, axis }: DrawnTrack, key: Key): void {
    if (event.button !== 0) return;
    event.stopPropagation();
    const more = event.shiftKey || event.ctrlKey;
    const chosen = this.keys.isChosen(track.channel, key);
    if (more || !chosen) this.keys.choose(track.channel, key.atFlicks, more);
    const perPx = (this.time().toFlicks - this.time().fromFlicks) / this.time().widthPx;
    const frame = this.moves.frameFlicks();
    const axes = new Map(this.drawn().map((one) => [one.track.channel as string, one.axis]));
    let [shiftFlicks, values]: [number, Record<string, number>] = [0, {}];
    followDrag(
      event,
      ({ dx, dy, event: now }) => {
        shiftFlicks = now.altKey ? 0 : Math.round((dx * perPx) / frame) * frame;
        const up = this.kind() === 'table' || now.ctrlKey ? 0 : -dy;
        values = Object.fromEntries([...axes].map(([channel, one]) => [channel, up * valuePerPx(one ?? axis)]));
        this.tracks.dragged.set(this.keys.mapped({ shiftFlicks }, values));
      },
      (kept, released) => {
        this.tracks.dragged.set(undefined);
        // One of several that is pressed and let go is chosen alone.
        if (!kept && released && chosen && !more) this.keys.choose(track.channel, key.atFlicks, false);
        if (kept && (shiftFlicks !== 0 || Object.values(values).some((value) => value !== 0))) {
          this.keys.map('Move keys', { shiftFlicks }, values);
        }
      },
    );
  }

  protected beginHandle(event: PointerEvent, side: 'in' | 'out', key: Key, { track, axis }: DrawnTrack): void {
    event.stopPropagation();
    const perPx = (this.time().toFlicks - this.time().fromFlicks) / this.time().widthPx;
    const handle = key[side] ?? { flicks: 0, value: 0 };
    let next: Curve | undefined;
    followDrag(
      event,
      ({ dx, dy, event: now }) => {
        const flicks = Math.round(handle.flicks + dx * perPx);
        const inside = side === 'in' ? Math.min(-1, flicks) : Math.max(1, flicks);
        const moved = { flicks: inside, value: handle.value - dy * valuePerPx(axis) };
        // Both handles stay in one line, unless Alt breaks them.
        const other = key[side === 'in' ? 'out' : 'in'];
        const opposite =
          other && !now.altKey ? { flicks: other.flicks, value: (moved.value / moved.flicks) * other.flicks } : other;
        const turned: Key = side === 'in' ? { ...key, in: moved, out: opposite } : { ...key, out: moved, in: opposite };
        next = withKey(track.curve, turned);
        this.tracks.dragged.set({ [track.channel]: next });
      },
      (kept) => {
        this.tracks.dragged.set(undefined);
        if (kept && next) this.keys.commit('Handle of a key', { [track.channel]: next });
      },
    );
  }

  /** Chooses what lies in a box; a click without a drag lets go. */
  protected beginBox(event: PointerEvent): void {
    if (event.button !== 0) return;
    const bounds = this.area().nativeElement.getBoundingClientRect();
    const [x0, y0] = [event.clientX - bounds.left, event.clientY - bounds.top];
    if (y0 < RULER_PX) {
      this.scrub(event, bounds.left);
      return;
    }
    const more = event.shiftKey || event.ctrlKey;
    followDrag(
      event,
      ({ dx, dy }) =>
        this.box.set({ x: Math.min(x0, x0 + dx), y: Math.min(y0, y0 + dy), width: Math.abs(dx), height: Math.abs(dy) }),
      (kept) => {
        const box = this.box();
        this.box.set(undefined);
        if (!kept || !box || box.width + box.height < 4) {
          if (!more) this.keys.chosen.set({});
          return;
        }
        const before = more ? this.keys.chosen() : {};
        const found = this.drawn().map(({ track, keys }) => {
          const inside = keys.filter(
            ({ x, y }) => x >= box.x && x <= box.x + box.width && y >= box.y && y <= box.y + box.height,
          );
          const times = new Set([...(before[track.channel] ?? []), ...inside.map(({ key }) => key.atFlicks)]);
          return [track.channel, times] as const;
        });
        this.keys.chosen.set({ ...before, ...Object.fromEntries(found) });
      },
    );
  }

  private scrub(event: PointerEvent, leftPx: number): void {
    const go = (clientX: number) => {
      const flicks = flicksOf(this.time(), clientX - leftPx);
      const by = Math.round((flicks - this.moves.atFlicks()) / this.moves.frameFlicks());
      if (by !== 0) this.playhead.step(by);
    };
    go(event.clientX);
    followDrag(
      event,
      ({ event: now }) => go(now.clientX),
      () => undefined,
    );
  }

  /** A double click on a curve puts a key there, with the value the curve has. */
  protected addKey(event: MouseEvent, { track }: DrawnTrack): void {
    event.stopPropagation();
    const bounds = this.area().nativeElement.getBoundingClientRect();
    const flicks = flicksOf(this.time(), event.clientX - bounds.left);
    this.playhead.step(Math.round((flicks - this.moves.atFlicks()) / this.moves.frameFlicks()));
    this.keys.keyHere(track.channel);
  }

  protected zoom(event: WheelEvent): void {
    event.preventDefault();
    const { fromFlicks, toFlicks, widthPx } = this.time();
    const bounds = this.area().nativeElement.getBoundingClientRect();
    const span = toFlicks - fromFlicks;
    if (event.shiftKey) {
      const by = (((event.deltaX || event.deltaY) / 100) * span) / 10;
      const from = Math.max(-span * ROOM, fromFlicks + by);
      this.chosenTimes.set([from, from + span]);
      return;
    }
    const frame = this.moves.frameFlicks();
    const factor = ZOOM_STEP ** (event.deltaY / 100);
    const next = Math.max(frame * 4, Math.min(frame * 200_000, span * factor));
    const under = flicksOf(this.time(), event.clientX - bounds.left);
    const from = Math.max(-next * ROOM, under - ((event.clientX - bounds.left) / widthPx) * next);
    this.chosenTimes.set([from, from + next]);
  }

  protected keyX({ atFlicks }: Key): number {
    return xOf(this.time(), atFlicks);
  }

  protected keyY({ axis }: DrawnTrack, { value }: Key): number {
    return yOf(axis, value);
  }

  protected frameOf({ atFlicks }: Key): number {
    return this.first() + atFlicks / this.moves.frameFlicks();
  }

  private measure(): void {
    const parent = this.area().nativeElement.parentElement;
    if (parent && parent.clientWidth > 0) this.size.set({ width: parent.clientWidth, height: parent.clientHeight });
  }
}
