import { inject, Injectable } from '@angular/core';
import type { Project, Stroke } from '@arvex/core';
import { addShot, CoreError, cutToCameras, shotOfCamera } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { OpenSequence, Playback, Playhead, Tried } from '../../session';
import { CutEdits } from './cut-edits';
import { whenPlayingEnds } from './when-playing-ends';

/**
 * Cuts to cameras: at the playhead while it stands, live while the cut plays. Live strokes are seen at once, and are one edit when it
 * stops.
 */
@Injectable({ providedIn: 'root' })
export class LiveSwitch {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly playback = inject(Playback);
  private readonly edits = inject(CutEdits);
  private readonly notices = inject(Notices);
  private readonly trying = inject(Tried).cut;
  private strokes: readonly Stroke[] = [];
  /** The sequence that they are made in: another one may be opened before they are kept. */
  private sequenceId = '';
  /** Ids of shots that strokes make, the same however often they are laid out anew. */
  private readonly ids: string[] = [];

  constructor() {
    whenPlayingEnds(() => this.keep());
  }

  /** Cuts to a camera at the frame that is seen. */
  to(cameraId: string): void {
    const seen = this.playhead.seen();
    if (this.open.cut().shots.length === 0) {
      this.begin(cameraId);
      return;
    }
    if (seen?.mode !== 'cut') {
      this.playhead.lookThrough(cameraId);
      return;
    }
    const stroke = { frame: seen.frame, cameraId };
    if (this.playhead.playing()) this.add({ frame: this.struckFrame(seen.frame), cameraId });
    else this.edits.run((project, id) => cutToCameras(project, id, [stroke], () => crypto.randomUUID()));
  }

  /** The first shot of an empty cut is of the camera that is switched to. */
  private begin(cameraId: string): void {
    const id = crypto.randomUUID();
    const at = this.playhead.seen()?.sceneFlicks ?? 0;
    const made = this.edits.run((project, sequenceId) =>
      addShot(project, sequenceId, shotOfCamera(project, cameraId, id, undefined, at)),
    );
    if (!made) return;
    this.playhead.toMode('cut');
    this.playhead.goTo(0);
  }

  /** Whether anything was switched that is no edit yet. */
  pending(): boolean {
    return this.strokes.length > 0;
  }

  /** Takes the last stroke back, while the cut goes on playing. */
  takeBack(): void {
    this.attempt(this.strokes.slice(0, -1));
  }

  /**
   * The frame on which a stroke falls: the one that is seen. While the picture of the stroke before it is still to come, time goes on
   * all the same, and it falls where time is.
   */
  private struckFrame(seen: number): number {
    return this.strokes.at(-1)?.frame === seen ? this.playback.clockFrame() : seen;
  }

  private add(stroke: Stroke): void {
    if (this.strokes.length === 0) this.sequenceId = this.open.id();
    this.attempt([...this.strokes.filter(({ frame }) => frame !== stroke.frame), stroke]);
  }

  private attempt(strokes: readonly Stroke[]): void {
    const project = this.store.project();
    if (!project) return;
    try {
      const { sequenceId } = this;
      const edit = (now: Project) => cutToCameras(now, sequenceId, strokes, this.counted());
      if (strokes.length === 0) this.trying.end();
      else {
        edit(project);
        this.trying.show({ edit });
      }
      this.strokes = strokes;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
    }
  }

  private keep(): void {
    const { strokes, sequenceId } = this;
    if (strokes.length === 0) return;
    this.strokes = [];
    this.trying.end();
    this.edits.run((project) => cutToCameras(project, sequenceId, strokes, this.counted()));
    this.ids.length = 0;
  }

  private counted(): () => string {
    let n = 0;
    return () => (this.ids[n++] ??= crypto.randomUUID());
  }
}
