import { effect, inject, untracked } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { fromEvent, merge } from 'rxjs';
import { ProjectStore } from '../../data';
import { Playhead } from '../../session';

/**
 * Calls `keep` where what was done while something played has to become an edit: when it has stopped, before anything is taken back
 * or another project is opened, and when the page goes. Needs an injection context.
 */
export function whenPlayingEnds(keep: () => void): void {
  const [playhead, store] = [inject(Playhead), inject(ProjectStore)];
  effect(() => {
    if (!playhead.playing()) untracked(keep);
  });
  merge(fromEvent(window, 'pagehide'), store.finishing$).pipe(takeUntilDestroyed()).subscribe(keep);
}
