import type { AfterViewInit, ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, untracked, viewChild } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { ProjectStore } from '../../data';
import { FilesIn } from '../../features/interchange';
import { CutDrag, JointSnap, LaneLook, ShotSelection } from '../../features/sequence';
import { OpenSequence, Playhead } from '../../session';
import { ActionButton, followDrag, IconButton, Switch } from '../../ui';
import { CameraLanes } from './camera-lanes';
import { CutLane } from './cut-lane';
import { HEAD_PX, LaneScale } from './lane-scale';
import { MarkerRow } from './marker-row';
import { SoundLanes } from './sound-lanes';

/** The cut in time: its shots, below them a lane for each camera, and the sound. */
@Component({
  selector: 'arvex-lanes',
  imports: [ActionButton, CameraLanes, CutLane, IconButton, MarkerRow, SoundLanes, Switch],
  providers: [LaneScale],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './lanes.html',
  styleUrl: './lanes.scss',
})
export class Lanes implements AfterViewInit, OnDestroy {
  private readonly store = inject(ProjectStore);
  protected readonly open = inject(OpenSequence);
  protected readonly playhead = inject(Playhead);
  protected readonly drag = inject(CutDrag);
  protected readonly snap = inject(JointSnap);
  protected readonly scale = inject(LaneScale);
  private readonly filesIn = inject(FilesIn);
  private readonly selection = inject(ShotSelection);
  private readonly scroller = viewChild.required<ElementRef<HTMLElement>>('scroller');
  private readonly observer = new ResizeObserver(() => this.measure());

  protected readonly headPx = HEAD_PX;
  protected readonly first = computed(() => this.store.project()?.head.firstFrame ?? 0);
  protected readonly isCut = computed(() => this.playhead.mode() === 'cut');
  protected readonly atPx = computed(() => this.scale.x(this.playhead.frame() + 0.5));
  protected readonly shotDrags = [
    { id: 'moves', name: 'moves', hint: 'Dragging a shot puts it between others' },
    { id: 'slips', name: 'slips', hint: 'Dragging a shot changes which part of the action it shows' },
    { id: 'slides', name: 'slides', hint: 'Dragging a shot moves it between its neighbours, which give way' },
  ] as const;

  constructor() {
    inject(LaneLook)
      .asked$.pipe(takeUntilDestroyed())
      .subscribe((extent) => (extent === 'cut' ? this.scale.fit() : this.showShots()));
    // The playhead does not leave the window: it is paged on.
    effect(() => {
      const at = this.atPx();
      untracked(() => this.keepInSight(at));
    });
  }

  ngAfterViewInit(): void {
    this.observer.observe(this.scroller().nativeElement);
    this.measure();
  }

  ngOnDestroy(): void {
    this.observer.disconnect();
  }

  protected scrolled(): void {
    const { scrollLeft, scrollTop } = this.scroller().nativeElement;
    this.scale.scrollPx.set(scrollLeft);
    this.scale.scrollTopPx.set(scrollTop);
  }

  /** With Ctrl frames become larger or smaller where the pointer is. */
  protected wheel(event: WheelEvent): void {
    if (!event.ctrlKey && !event.metaKey) return;
    event.preventDefault();
    this.zoom(event.deltaY < 0 ? 1 : -1, event.clientX - this.leftPx());
  }

  protected zoom(steps: number, atPx = this.atPx() - this.scale.scrollPx()): void {
    const to = this.scale.zoom(steps, atPx);
    // The sheet has its new width once the page is made.
    requestAnimationFrame(() => (this.scroller().nativeElement.scrollLeft = to));
  }

  private showShots(): void {
    const ids = new Set(this.selection.acted());
    const shots = this.open.cut().shots.filter(({ shot }) => ids.has(shot.id));
    const [first, last] = [shots[0], shots.at(-1)];
    if (!first || !last) return;
    const to = this.scale.fitTo(first.startFrame, last.startFrame + last.frameCount);
    requestAnimationFrame(() => (this.scroller().nativeElement.scrollLeft = to));
  }

  private keepInSight(atPx: number): void {
    const scroller = this.scroller().nativeElement;
    const room = this.scale.widthPx();
    const from = this.scale.scrollPx();
    if (atPx >= from && atPx <= from + room) return;
    requestAnimationFrame(() => (scroller.scrollLeft = atPx - (atPx < from ? 0.9 : 0.1) * room));
  }

  protected scrub(event: PointerEvent): void {
    if (event.button !== 0) return;
    const at = (x: number) => Math.floor((x - this.leftPx() + this.scale.scrollPx()) / this.scale.framePx());
    this.playhead.goTo(at(event.clientX));
    followDrag(
      event,
      ({ event: moved }) => this.playhead.goTo(at(moved.clientX)),
      () => undefined,
    );
  }

  /** A file of sound that is dropped lies where it was dropped; others go where they belong. */
  protected dropped(event: DragEvent): void {
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length === 0) return;
    event.preventDefault();
    event.stopPropagation();
    const frame = Math.floor((event.clientX - this.leftPx() + this.scale.scrollPx()) / this.scale.framePx());
    void this.filesIn.take(files, { atFrame: Math.max(0, frame) });
  }

  /** Where the lanes begin in the window. */
  private leftPx(): number {
    return this.scroller().nativeElement.getBoundingClientRect().left + HEAD_PX;
  }

  private measure(): void {
    const { clientWidth, clientHeight } = this.scroller().nativeElement;
    this.scale.widthPx.set(Math.max(100, clientWidth - HEAD_PX));
    this.scale.heightPx.set(clientHeight);
    this.scrolled();
  }
}
