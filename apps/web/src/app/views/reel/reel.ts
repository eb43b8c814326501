import type { AfterViewInit, ElementRef, OnDestroy } from '@angular/core';
import { ChangeDetectionStrategy, Component, computed, inject, signal, viewChild } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Shot } from '@arvex/core';
import { cutOf, framesInFlicks, framesPerSecond } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Thumbnails } from '../../drawing';
import { Playhead, Viewpoint, Workspace } from '../../session';
import { CameraTrack } from './camera-track';
import { ActionButton, Bitmap, cameraColour, followDrag, IconButton, rateText, Switch } from '../../ui';

/** Width of one picture in the strip, pixels. */
const PICTURE_PX = 104;
/** Pictures of a shot at most. */
const MOST_PICTURES = 12;

interface Block {
  readonly key: string;
  readonly name: string;
  readonly detail: string;
  readonly startFrame: number;
  readonly frameCount: number;
  readonly cameraId: string | null;
  /** Scene times of the pictures that fill the block. */
  readonly times: readonly number[];
  readonly colour: string;
  readonly number: number | undefined;
}

/** The shots as a strip of frames in time (or the marks of one camera), the playhead and the transport. */
@Component({
  selector: 'arvex-reel',
  imports: [ActionButton, CameraTrack, IconButton, Switch, Bitmap, MatIcon, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './reel.html',
  styleUrl: './reel.scss',
})
export class Reel implements AfterViewInit, OnDestroy {
  private readonly store = inject(ProjectStore);
  protected readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  protected readonly thumbnails = inject(Thumbnails);
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
    return rate ? framesPerSecond(rate) * this.playhead.pace() * 0.9 : 0;
  });
  protected readonly paceText = computed(() => ({ 1: '1×', 0.5: '½×', 0.25: '¼×' })[this.playhead.pace()]);
  protected readonly rateHint = computed(() => {
    if (!this.playhead.playing()) return 'Frames a second; press to change the rate';
    const dropped = this.playhead.dropped();
    return `Frames a second: reached, and the project’s. ${dropped} frames left out since playing began.`;
  });
  protected readonly firstFrame = computed(() => this.store.project()?.head.firstFrame ?? 0);

  /** Shots of the cut in proportion to their length. */
  protected readonly blocks = computed<Block[]>(() => {
    const project = this.store.project();
    if (!project || this.playhead.mode() !== 'cut') return [];
    return cutOf(project, this.playhead.sequenceId()).shots.map(({ shot, startFrame, frameCount }) => {
      const camera = shot.cameraId === null ? undefined : project.cameras[shot.cameraId];
      return {
        key: shot.id,
        name: shot.name,
        detail: `${frameCount} f`,
        startFrame,
        frameCount,
        cameraId: shot.cameraId,
        times: this.timesIn(shot, frameCount),
        colour: camera ? cameraColour(camera.number) : 'var(--red)',
        number: camera?.number,
      };
    });
  });

  /** Where the focus goes over to somebody: of the camera alone, or of every shot of the cut. */
  protected readonly racks = computed(() => {
    const project = this.store.project();
    if (!project) return [];
    const { rate } = project.head;
    const one = (cameraId: string, fromFlicks: number, toFlicks: number, at: (flicks: number) => number) =>
      (project.cameras[cameraId]?.focus.mode === 'follow' ? project.cameras[cameraId].focus.racks : [])
        .filter(
          ({ startFlicks, durationFlicks }) => startFlicks < toFlicks && startFlicks + durationFlicks > fromFlicks,
        )
        .map((rack) => {
          const name = project.placements[rack.subjectId]?.name ?? '';
          const count = Math.max(1, framesInFlicks(rack.durationFlicks, rate));
          const start = at(rack.startFlicks);
          return { key: `${rack.id} ${start}`, name, start, count, text: `Focus goes to ${name} in ${count} frames` };
        });
    if (this.playhead.mode() === 'camera') {
      const camera = this.viewpoint.camera();
      return camera ? one(camera.id, 0, Infinity, (flicks) => framesInFlicks(flicks, rate)) : [];
    }
    return cutOf(project, this.playhead.sequenceId()).shots.flatMap(({ shot, startFrame }) => {
      const { cameraId, sceneStartFlicks: from, durationFlicks } = shot;
      const at = (flicks: number) => startFrame + framesInFlicks(flicks - from, rate);
      return cameraId === null ? [] : one(cameraId, from, from + durationFlicks, at);
    });
  });

  ngAfterViewInit(): void {
    this.observer.observe(this.strip().nativeElement);
  }

  ngOnDestroy(): void {
    this.observer.disconnect();
  }

  /** Times of as many pictures as fit in a shot's block, each from the middle of its share. */
  private timesIn(shot: Shot, frameCount: number): number[] {
    const width = (frameCount / this.length()) * this.width();
    const count = Math.max(1, Math.min(MOST_PICTURES, Math.round(width / PICTURE_PX)));
    return Array.from(
      { length: count },
      (_, i) => shot.sceneStartFlicks + Math.floor((shot.durationFlicks * (i + 0.5)) / count),
    );
  }

  /** Where the rate of the project is changed. */
  protected openTiming(): void {
    this.workspace.goTo('moves');
    this.workspace.reveal('timing');
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
