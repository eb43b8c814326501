import { effect, inject, Injectable, untracked } from '@angular/core';
import { Playhead, Workspace } from '../../session';

/** What was on the screen before. */
interface Before {
  readonly frame: number;
  readonly mode: 'cut' | 'camera';
  readonly loop: boolean;
  readonly upper: Parameters<Workspace['show']>[0];
  readonly lower: Parameters<Workspace['show']>[0];
}

/**
 * Showing the work to somebody in the room: everything but the picture is away. One walks about freely until the space bar starts the
 * cut, and is back where one stood when it has ended.
 */
@Injectable({ providedIn: 'root' })
export class Show {
  private readonly playhead = inject(Playhead);
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
    const { upper, lower } = this.workspace.views();
    const { playhead } = this;
    this.before = { frame: playhead.frame(), mode: playhead.mode(), loop: playhead.loop(), upper, lower };
    playhead.stop();
    this.on.set(true);
    this.workspace.show('free', 'upper');
    // Where a browser gives no full screen, the window is all there is.
    document.documentElement.requestFullscreen().catch(() => undefined);
  }

  /** Starts the cut from its beginning, or stops it. */
  startOrStop(): void {
    const { playhead } = this;
    if (playhead.playing()) return playhead.stop();
    playhead.toMode('cut');
    playhead.range.set(undefined);
    playhead.loop.set(false);
    playhead.goTo(0);
    this.workspace.show('picture', 'upper');
    this.runs = true;
    playhead.toggle();
  }

  end(): void {
    const { before } = this;
    if (!this.on() || !before) return;
    this.runs = false;
    this.on.set(false);
    this.playhead.stop();
    this.playhead.loop.set(before.loop);
    this.playhead.toMode(before.mode);
    this.playhead.goTo(before.frame);
    this.workspace.show(before.upper, 'upper');
    this.workspace.show(before.lower);
    if (document.fullscreenElement) void document.exitFullscreen().catch(() => undefined);
  }

  /** The free view is where it was. */
  private standAgain(): void {
    this.runs = false;
    this.workspace.show('free', 'upper');
  }
}
