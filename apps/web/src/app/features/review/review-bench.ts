import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Finding } from '@arvex/core';
import { cutOf, frameName } from '@arvex/core';
import { viewOf, withShutter } from '@arvex/stage/view';
import { Notices, ProjectStore } from '../../data';
import { StageHost } from '../../drawing';
import { Checks, Findings } from '../../readiness';
import { Playhead, Viewpoint } from '../../session';
import { bytesText, durationText, rateText, Switch, switchChoices } from '../../ui';
import { OUTPUT_SAMPLES, Renders } from './renders';

/** Shares of the delivery size. */
const SHARES = { full: 1, half: 0.5, quarter: 0.25 } as const;
type ShareId = keyof typeof SHARES;

interface OneFrame {
  readonly address: string;
  readonly fileName: string;
  readonly seconds: number;
  readonly share: number;
  readonly bytes: number;
}

/** What a pixel of a picture takes as PNG, about. */
const USUAL_BYTES_A_PIXEL = 1.2;

/** What leaves nothing to be rendered; all else that coverage names can be rendered as it is. */
const BLOCKING: ReadonlySet<Finding['code']> = new Set(['sequence-empty', 'shot-without-camera']);

/** The bench of the Review step: how the cut is rendered, and a frame to try first. */
@Component({
  selector: 'arvex-review-bench',
  imports: [Switch, Findings, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './review-bench.html',
  styleUrls: ['../../ui/bench-step.scss', './review-bench.scss'],
})
export class ReviewBench {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);
  private readonly checks = inject(Checks);
  protected readonly renders = inject(Renders);
  protected readonly shares = switchChoices(Object.keys(SHARES) as ShareId[]);
  protected readonly shareId = signal<ShareId>('half');
  protected readonly share = computed(() => SHARES[this.shareId()]);
  protected readonly drawing = signal(false);
  protected readonly frame = signal<OneFrame | undefined>(undefined);

  private readonly delivery = computed(() => this.store.project()?.head.delivery);
  protected readonly size = computed(() => {
    const delivery = this.delivery();
    if (!delivery) return { width: 0, height: 0 };
    const even = (px: number) => Math.max(2, 2 * Math.round((px * this.share()) / 2));
    return { width: even(delivery.widthPx), height: even(delivery.heightPx) };
  });
  protected readonly frames = computed(() => {
    const project = this.store.project();
    return project ? cutOf(project, this.playhead.sequenceId()).frameCount : 0;
  });
  protected readonly rate = computed(() => {
    const rate = this.store.project()?.head.rate;
    return rate ? rateText(rate) : '';
  });
  /** What keeps the cut from being rendered. */
  protected readonly blocking = computed(() => this.checks.in('sequence').find(({ code }) => BLOCKING.has(code)));
  /** What the whole will take, from the frame that was tried at this size. */
  protected readonly estimate = computed(() => {
    const one = this.frame();
    return one?.share === this.share() ? durationText(one.seconds * this.frames()) : undefined;
  });

  /** Bytes that the frames of the cut take about: what a frame that was tried took, or a usual one of this size. */
  private readonly needed = computed(() => {
    const { width, height } = this.size();
    const one = this.frame();
    const each = one?.share === this.share() ? one.bytes : width * height * USUAL_BYTES_A_PIXEL;
    return each * this.frames();
  });
  /** How much room the project takes, how much this render takes about, and how much is left. */
  protected readonly room = computed(() => {
    const room = this.renders.room();
    if (!room) return undefined;
    const [project, render, free] = [room.projectBytes, this.needed(), room.freeBytes].map(bytesText);
    return `This takes about ${render} of ${free} that are free; the project has ${project} so far.`;
  });
  protected readonly tight = computed(() => {
    const room = this.renders.room();
    return room !== undefined && this.needed() > room.freeBytes * 0.9;
  });

  constructor() {
    // Looked at when the bench opens, and whenever the list of renders is another one or one of them has ended.
    const ended = computed(() =>
      this.renders
        .all()
        .map(({ id, state }) => `${id} ${state}`)
        .join(),
    );
    effect(() => {
      ended();
      untracked(() => void this.renders.lookAtRoom());
    });
  }

  /** Draws the frame at the playhead just as output will, and says how long that took. */
  protected async oneFrame(): Promise<void> {
    const [project, state, seen] = [this.store.project(), this.viewpoint.state(), this.playhead.seen()];
    if (!project || !state || !seen) return;
    this.drawing.set(true);
    try {
      const { width, height } = this.size();
      const { blob, milliseconds } = await this.host.png(
        withShutter(viewOf(state, seen.sceneFlicks), project, state),
        width,
        height,
        OUTPUT_SAMPLES,
      );
      const before = this.frame();
      if (before) URL.revokeObjectURL(before.address);
      const name =
        seen.mode === 'cut' ? frameName(project, this.playhead.sequenceId(), seen.frame) : `frame.${seen.frameNumber}`;
      this.frame.set({
        address: URL.createObjectURL(blob),
        fileName: `${name}.png`,
        seconds: milliseconds / 1000,
        share: this.share(),
        bytes: blob.size,
      });
    } catch (error) {
      this.notices.error(error);
    } finally {
      this.drawing.set(false);
    }
  }

  protected render(): void {
    void this.renders.start(this.share());
  }

  protected mend(): void {
    const finding = this.blocking();
    if (finding) this.checks.mend(finding);
  }
}
