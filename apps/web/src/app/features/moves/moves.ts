import { computed, inject, Injectable, signal } from '@angular/core';
import type { CloseEdit, Edit, Project, Vector } from '@arvex/core';
import {
  composed,
  CoreError,
  flicksPerFrame,
  keyChannels,
  lengthText,
  moveOf,
  previewed,
  spanOf,
  statesOf,
} from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { Playback, Playhead, Tried, Viewpoint } from '../../session';

/** Most frames of a path that is drawn. */
const MOST_PATH_FRAMES = 3000;

/** An edit of a camera's move at a scene time. */
type EditOf = (project: Project, cameraId: string, atFlicks: number) => Edit;

const nothing: EditOf = () => ({ name: '', operations: [] });

/** A camera's way through the set as it is drawn: a place a frame. */
export interface DrawnPath {
  readonly places: readonly Vector[];
  /** Frames of scene time, counted from 0, of the first place. */
  readonly firstFrame: number;
}

/** Edits of the edited camera's move, and the ghost of one that is not made yet. */
@Injectable({ providedIn: 'root' })
export class Moves {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly playback = inject(Playback);
  private readonly notices = inject(Notices);
  private readonly trials = inject(Tried);

  readonly camera = this.viewpoint.camera;
  readonly move = computed(() => {
    const [project, camera] = [this.store.project(), this.camera()];
    return project && camera ? moveOf(project, camera.id) : undefined;
  });
  readonly atFlicks = computed(() => this.playhead.glance()?.sceneFlicks ?? 0);
  readonly frameFlicks = computed(() => {
    const rate = this.store.project()?.head.rate;
    return rate ? flicksPerFrame(rate) : 1;
  });
  /** First and last key of the move, flicks. */
  readonly span = computed(() => spanOf(this.move()?.curves ?? {}));

  /** What a move that is asked for would make of the camera: shown as a ghost until it is made. */
  readonly asked = signal<EditOf | undefined>(undefined);

  /** The camera's way as it is, and the way that is asked for. */
  readonly path = computed(() => this.pathIn(this.store.project()));
  private readonly outcome = computed(() => {
    const [asked, project, camera] = [this.asked(), this.store.project(), this.camera()];
    if (!asked || !project || !camera) return undefined;
    try {
      return { project: previewed(project, this.begun(project, camera.id, asked)) };
    } catch (error) {
      if (error instanceof CoreError) return { refusal: error.message };
      throw error;
    }
  });
  readonly ghost = computed(() => this.pathIn(this.outcome()?.project));
  /** Why the move that is asked for cannot be made. */
  readonly refusal = computed(() => this.outcome()?.refusal);
  /** The project with the pose that is tried as its camera's own: where what is made while trying begins. */
  readonly tried = computed(() => {
    const [project, camera] = [this.store.project(), this.camera()];
    return project && camera && previewed(project, this.begun(project, camera.id, nothing));
  });

  /** An edit that begins with what is seen: a pose that is tried is keyed at the playhead first, all in one act. */
  private begun(project: Project, cameraId: string, make: EditOf): Edit {
    const [trial, at] = [this.trials.poseOf(cameraId), this.atFlicks()];
    if (!trial || Object.keys(trial).length === 0) return make(project, cameraId, at);
    let name = '';
    const keyed = (now: Project) => keyChannels(now, cameraId, trial, at);
    const made = (now: Project) => {
      const edit = make(now, cameraId, at);
      name = edit.name;
      return edit;
    };
    const { operations } = composed(project, 'Tried pose', [keyed, made]);
    return { name, operations };
  }

  /** Makes an edit of the camera's move; a pose that is tried goes on being tried. @returns whether it was made. */
  edit(make: EditOf): boolean {
    return this.make(make);
  }

  /** Makes an edit that begins where the camera is seen: what is tried becomes part of it. @returns whether it was made. */
  begin(make: EditOf): boolean {
    const made = this.make((project, cameraId) => this.begun(project, cameraId, make));
    if (made) this.trials.letPoseGo();
    return made;
  }

  private make(make: EditOf): boolean {
    const [project, camera] = [this.store.project(), this.camera()];
    if (!project || !camera) return false;
    try {
      return this.store.commit(make(project, camera.id, this.atFlicks()));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return false;
    }
  }

  /** Makes an edit that goes another way than before, and says how closely. */
  editClosely(make: (project: Project, cameraId: string, atFlicks: number) => CloseEdit): void {
    let said = '';
    const unit = this.store.project()?.head.displayUnit ?? 'm';
    const made = this.begin((project, cameraId, at) => {
      const { edit, deviation } = make(project, cameraId, at);
      said = `${edit.name}: at most ${lengthText(deviation.metres, unit)} and ${deviation.degrees.toFixed(2)}° from where it went before.`;
      return edit;
    });
    if (made) this.notices.done(said);
  }

  /** Plays the move alone, from its first frame to its last, again and again; a key that plays it stops it. */
  play(): void {
    const [camera, span] = [this.camera(), this.span()];
    if (this.playhead.playing()) {
      this.playhead.stop();
      return;
    }
    if (!camera) return;
    if (!span || span[0] === span[1]) {
      this.notices.done(`${camera.name} has no move yet: nothing to play.`);
      return;
    }
    this.playhead.lookThrough(camera.id);
    const frame = this.frameFlicks();
    this.playback.playRange(Math.floor(span[0] / frame), Math.ceil(span[1] / frame));
  }

  private pathIn(project: Project | undefined): DrawnPath | undefined {
    const camera = this.camera();
    const span = project && camera && spanOf(moveOf(project, camera.id)?.curves ?? {});
    if (!span || span[0] === span[1]) return undefined;
    const frame = this.frameFlicks();
    const to = Math.min(span[1], span[0] + MOST_PATH_FRAMES * frame);
    const places = statesOf(project, camera.id, span[0], to).map(({ positionM }) => positionM);
    return { places, firstFrame: Math.round(span[0] / frame) };
  }
}
