import { computed, DestroyRef, inject, Injectable, signal } from '@angular/core';
import { toObservable } from '@angular/core/rxjs-interop';
import type { Observable } from 'rxjs';
import { filter, take } from 'rxjs';
import { Playhead } from './playhead';
import { Tried } from './tried';

/** Whether something plays or is dragged: then the machine belongs to it, and whatever else is to be drawn or measured waits. */
@Injectable({ providedIn: 'root' })
export class Activity {
  private readonly playhead = inject(Playhead);
  private readonly tried = inject(Tried);
  /** A button of the pointer is held down: whatever it pulls goes on until it is let go. */
  private readonly held = signal(false);

  readonly dragging = computed(() => this.held() || this.tried.dragging());
  readonly busy = computed(() => this.playhead.playing() || this.dragging());
  /** Frames of output are made: what would only make a resting picture finer waits. */
  readonly making = signal(false);
  private readonly busy$ = toObservable(this.busy);

  constructor() {
    const ending = new AbortController();
    inject(DestroyRef).onDestroy(() => ending.abort());
    const listening = { capture: true, passive: true, signal: ending.signal };
    addEventListener('pointerdown', () => this.held.set(true), listening);
    for (const press of ['pointerdown', 'keydown']) addEventListener(press, () => this.playhead.lookUp(), listening);
    for (const end of ['pointerup', 'pointercancel', 'dragend', 'blur']) {
      addEventListener(end, () => this.held.set(false), listening);
    }
    // A button that was let go outside of the window is not told.
    const moved = ({ buttons }: PointerEvent) => buttons === 0 && this.held.set(false);
    addEventListener('pointermove', moved, listening);
  }

  /** Once, as soon as nothing plays and nothing is dragged. */
  atRest(): Observable<unknown> {
    return this.busy$.pipe(
      filter((busy) => !busy),
      take(1),
    );
  }
}
