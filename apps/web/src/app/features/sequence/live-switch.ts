import { DestroyRef, effect, inject, Injectable, untracked } from '@angular/core';
import type { Stroke } from '@arvex/core';
import { CoreError, cutToCameras } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { OpenSequence, Playhead } from '../../session';
import { CutEdits } from './cut-edits';

/**
 * Cuts to cameras: at the playhead while it stands, live while the cut plays. Live strokes are seen at once, and are one edit when it
 * stops.
 */
@Injectable({ providedIn: 'root' })
export class LiveSwitch {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly edits = inject(CutEdits);
  private readonly notices = inject(Notices);
  private strokes: readonly Stroke[] = [];
  /** Ids of shots that strokes make, the same however often they are laid out anew. */
  private readonly ids: string[] = [];

  constructor() {
    effect(() => {
      if (!this.playhead.playing()) untracked(() => this.keep());
    });
    // A page that goes while it plays keeps what was done.
    const going = () => this.keep();
    addEventListener('pagehide', going);
    inject(DestroyRef).onDestroy(() => removeEventListener('pagehide', going));
  }

  /** Cuts to a camera at the frame that is seen. */
  to(cameraId: string): void {
    const seen = this.playhead.seen();
    if (seen?.mode !== 'cut') {
      this.playhead.lookThrough(cameraId);
      return;
    }
    const stroke = { frame: seen.frame, cameraId };
    if (this.playhead.playing()) this.add(stroke);
    else this.edits.run((project, id) => cutToCameras(project, id, [stroke], () => crypto.randomUUID()));
  }

  private add(stroke: Stroke): void {
    const project = this.store.project();
    if (!project) return;
    const strokes = [...this.strokes.filter(({ frame }) => frame !== stroke.frame), stroke];
    try {
      this.open.trial.set(cutToCameras(project, this.open.id(), strokes, this.counted()));
      this.strokes = strokes;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
    }
  }

  private keep(): void {
    const { strokes } = this;
    if (strokes.length === 0) return;
    this.strokes = [];
    this.open.trial.set(undefined);
    this.edits.run((project, id) => cutToCameras(project, id, strokes, this.counted()));
    this.ids.length = 0;
  }

  private counted(): () => string {
    let n = 0;
    return () => (this.ids[n++] ??= crypto.randomUUID());
  }
}
