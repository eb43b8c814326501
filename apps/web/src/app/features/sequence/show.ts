import { effect, inject, Injectable, untracked } from '@angular/core';
import { Playback, Playhead, Workspace } from '../../session';

/** Where in time somebody was before, and how playing was set. */
interface Before {
  readonly frame: number;
  readonly mode: 'cut' | 'camera';
  readonly cameraId: string | undefined;
  readonly shotId: string | undefined;
  readonly range: readonly [number, number] | undefined;
  readonly loop: boolean;
}

/**
 * Showing the work to somebody in the room: everything but the picture is away. One walks about freely until the space bar starts the
 * cut, and is back where one stood when it has ended.
 */
@Injectable({ providedIn: 'root' })
export class Show {
  private readonly playhead = inject(Playhead);
  private readonly playback = inject(Playback);
  private readonly workspace = inject(Workspace);
  private before: Before | undefined;
  /** The cut was started, and has not ended. */
  private runs = false;

  readonly on = this.workspace.showing;

  constructor() {
    effect(() => {
      const playing = this.playhead.playing();
      untracked(() => {
        if (this.on() && this.runs && !playing) this.standAgain();
      });
    });
    // Whoever leaves the full screen has seen enough.
    document.addEventListener('fullscreenchange', () => {
      if (this.on() && !document.fullscreenElement) this.end();
    });
  }

  begin(): void {
    if (this.on()) return;
    const { playhead } = this;
    this.before = {
      frame: playhead.frame(),
      mode: playhead.mode(),
      cameraId: playhead.seen()?.cameraId,
      shotId: playhead.shotAlone()?.shot.id,
      range: playhead.range(),
      loop: this.playback.loop(),
    };
    playhead.stop();
    this.workspace.alone.set('free');
    // Where a browser gives no full screen, the window is all there is.
    document.documentElement.requestFullscreen().catch(() => undefined);
  }

  /** Starts the cut from its beginning, or stops it. */
  startOrStop(): void {
    const { playhead, playback } = this;
    if (playhead.playing()) return playhead.stop();
    playhead.toMode('cut');
    playhead.range.set(undefined);
    playback.loop.set(false);
    playhead.goTo(0);
    this.workspace.alone.set('picture');
    this.runs = true;
    playback.toggle();
  }

  end(): void {
    const { before } = this;
    if (!this.on() || !before) return;
    this.runs = false;
    this.workspace.alone.set(undefined);
    const { playhead } = this;
    playhead.stop();
    this.playback.loop.set(before.loop);
    if (before.mode === 'camera') playhead.toMode('camera', before.cameraId);
    else if (before.shotId !== undefined) playhead.toShot(before.shotId);
    playhead.range.set(before.range);
    playhead.goTo(before.frame);
    if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
  }

  /** The free view is where it was. */
  private standAgain(): void {
    this.runs = false;
    this.workspace.alone.set('free');
  }
}
