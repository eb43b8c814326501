import type { AfterViewInit, ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, viewChild } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import { CoreError, framesPerSecond } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { Preparation } from '../../features/cameras';
import { OpenSequence, Playback, Playhead, Workspace } from '../../session';
import { ActionButton, durationText, followDrag, IconButton, rateText, Switch } from '../../ui';
import { CameraTrack } from './camera-track';
import { ShotStrip } from './shot-strip';

/** The shots as a strip of frames in time (or the marks of one camera), the playhead and the transport. */
@Component({
  selector: 'arvex-reel',
  imports: [ActionButton, CameraTrack, IconButton, MatTooltip, ShotStrip, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './reel.html',
  styleUrl: './reel.scss',
})
export class Reel implements AfterViewInit, OnDestroy {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  protected readonly playhead = inject(Playhead);
  protected readonly playback = inject(Playback);
  private readonly workspace = inject(Workspace);
  protected readonly preparation = inject(Preparation);
  private readonly notices = inject(Notices);
  private readonly goToBox = viewChild<ElementRef<HTMLInputElement>>('goTo');
  protected readonly width = signal(1000);
  private readonly observer = new ResizeObserver(([entry]) =>
    this.width.set(Math.round(entry?.contentRect.width ?? 1000)),
  );
  private readonly strip = viewChild.required<ElementRef<HTMLElement>>('strip');

  protected readonly seen = this.playhead.seen;
  protected readonly length = this.playhead.length;
  protected readonly rate = computed(() => {
    const rate = this.store.project()?.head.rate;
    return rate ? rateText(rate) : '';
  });
  /** Below this rate so many frames are left out that a move can no longer be judged. */
  protected readonly enough = computed(() => {
    const rate = this.store.project()?.head.rate;
    return rate ? framesPerSecond(rate) * this.playback.pace() * 0.9 : 0;
  });
  protected readonly paceText = computed(() => ({ 1: '1×', 0.5: '½×', 0.25: '¼×' })[this.playback.pace()]);
  protected readonly rateHint = computed(() => {
    if (!this.playhead.playing()) return 'Frames a second; press to change the rate';
    const dropped = this.playback.dropped();
    return `Frames a second: reached, and the project’s. ${dropped} frames left out since playing began.`;
  });
  /** What is being prepared, in a few words. */
  protected readonly preparingText = computed(() => {
    const preparing = this.preparation.preparing();
    if (!preparing) return '';
    const { done, all, leftS } = preparing;
    return `${Math.floor((done / Math.max(1, all)) * 100)} %${leftS === undefined ? '' : ` · ${durationText(leftS)}`}`;
  });
  /** Whether there is anything that the playhead runs over. */
  protected readonly plays = computed(() => this.playhead.mode() === 'camera' || this.open.hasShots());

  /** Place of the playhead in the strip, pixels. */
  protected readonly headPx = computed(() => (((this.seen()?.frame ?? 0) + 0.5) / this.length()) * this.width());

  constructor() {
    // Whoever asked to type types at once.
    effect(() => this.goToBox()?.nativeElement.focus());
  }

  ngAfterViewInit(): void {
    this.observer.observe(this.strip().nativeElement);
  }

  ngOnDestroy(): void {
    this.observer.disconnect();
  }

  /** Goes where somebody typed. */
  protected go(text: string): void {
    try {
      this.playhead.goToTyped(text);
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
    }
    this.playhead.typing.set(false);
  }

  /** Where the rate of the project is changed. */
  protected openTiming(): void {
    this.workspace.goTo('moves');
    this.workspace.reveal('timing');
  }

  protected readonly runs = [
    { id: 'cut', name: 'the cut', hint: 'The shots one after another' },
    { id: 'shot', name: 'shot', hint: 'The shot at the playhead alone' },
    { id: 'camera', name: 'camera', hint: 'One camera over scene time, with its marks' },
  ] as const;
  /** What is played, where that is not all there is. */
  protected readonly range = computed(
    () => this.plays() && (this.playhead.range() ?? this.playhead.shotAlone()) && this.playhead.playedRange(),
  );

  protected runOver(what: 'cut' | 'shot' | 'camera'): void {
    if (what === 'shot') this.playhead.toShot();
    else this.playhead.toMode(what);
  }

  protected percent(frame: number): number {
    return (frame / this.length()) * 100;
  }

  protected scrub(event: PointerEvent): void {
    if (event.button !== 0) return;
    const box = this.strip().nativeElement.getBoundingClientRect();
    const frameAt = (x: number) => Math.floor(((x - box.left) / box.width) * this.length());
    this.playhead.goTo(frameAt(event.clientX));
    followDrag(
      event,
      ({ event: { clientX } }) => this.playhead.goTo(frameAt(clientX)),
      () => undefined,
    );
  }
}
