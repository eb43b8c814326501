import { signal } from '@angular/core';
import type { Effort } from '@arvex/stage';
import { WHOLE } from './pace';
import { put } from './page-canvas';
import type { ShownView } from './shown-view';

/** What stands on each canvas of the page: how good it is, and that no picture overtakes a later one. */
export class Canvases {
  /** Rises with every picture of a view that is asked for. */
  private readonly turns = new WeakMap<ShownView, number>();
  /** Views whose picture is not as good as at rest. */
  private readonly coarse = new WeakSet<ShownView>();
  /** What was given up for the last picture, from nothing (the first) on. */
  readonly effort = signal<Effort>(WHOLE);

  /** Begins a picture of a view. @returns whether it is still the one that was begun last. */
  turnOf(shown: ShownView): () => boolean {
    const turn = (this.turns.get(shown) ?? 0) + 1;
    this.turns.set(shown, turn);
    return () => this.turns.get(shown) === turn;
  }

  /** Whether a view's picture is not as good as at rest. */
  isCoarse(shown: ShownView): boolean {
    return this.coarse.has(shown);
  }

  /** Says how good the picture of a view is, or is about to be. */
  tell(shown: ShownView, effort: Effort, coarse = effort !== WHOLE): void {
    if (coarse) this.coarse.add(shown);
    else this.coarse.delete(shown);
    this.effort.set(effort);
  }

  /** Puts a picture on its canvas, where it counts. */
  put(shown: ShownView, bitmap: ImageBitmap, counts: boolean): void {
    if (counts) put(bitmap, shown.canvas);
    else bitmap.close();
  }
}
