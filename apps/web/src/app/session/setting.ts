import { inject, Injectable, signal } from '@angular/core';
import type { ChannelValues, Edit, Pose, Project } from '@arvex/core';
import { composed, ownValues, setValues, worldValues } from '@arvex/core';
import { ProjectStore } from '../data';
import { Playhead } from './playhead';
import type { EditOf } from './tried';
import { Tried } from './tried';

/** Sets what of a camera can move: keyed, tried out or kept, as the camera and the artist want it. */
@Injectable({ providedIn: 'root' })
export class Setting {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly tried = inject(Tried);

  /** Whether everything that is set becomes a key at the playhead. */
  readonly autoKey = signal(false);

  /** Values of the world (place, pan, tilt, roll) as the numbers of a camera's rig; others as they are. */
  ownValues(cameraId: string, values: ChannelValues): ChannelValues {
    const project = this.store.project();
    return project?.cameras[cameraId] ? this.ownIn(project, cameraId, values) : values;
  }

  private ownIn(project: Project, cameraId: string, values: ChannelValues): ChannelValues {
    return ownValues(project, cameraId, values, this.atFlicks(), this.tried.poseOf(cameraId));
  }

  private atFlicks(): number {
    return this.playhead.seen()?.sceneFlicks ?? 0;
  }

  /**
   * Sets pose or lens of a camera, place and turn as in the world. With automatic keying every value becomes a key here and now.
   * Else it is kept at once where nothing moves it, and tried out, kept only by marking, where keys do: so nobody
   * destroys a composed view by looking about.
   */
  setChannels(cameraId: string, what: string, values: ChannelValues): boolean {
    return this.setWith(cameraId, what, [], values);
  }

  /** As {@link setChannels}, with the numbers of the camera's own rig and head. */
  setNumbers(cameraId: string, what: string, values: ChannelValues): boolean {
    return this.together(cameraId, what, [], () => values);
  }

  /**
   * Edits of a camera and values that are set with them, as one act: one step of undo.
   * @param values as in the world, or {@link setNumbers}' own where the project they are set on is not asked for.
   */
  setWith(cameraId: string, what: string, edits: readonly EditOf[], values: ChannelValues): boolean {
    return this.together(cameraId, what, edits, (project) => this.ownIn(project, cameraId, values));
  }

  private together(
    cameraId: string,
    what: string,
    edits: readonly EditOf[],
    values: (project: Project) => ChannelValues,
  ): boolean {
    const project = this.store.project();
    if (!project?.cameras[cameraId]) return false;
    let tried: ChannelValues = {};
    const set = (now: Project): Edit => {
      const made = setValues(now, cameraId, what, values(now), { autoKey: this.autoKey(), atFlicks: this.atFlicks() });
      tried = made.tried;
      return made.edit;
    };
    const { operations } = composed(project, what, [...edits, set]);
    const isTried = Object.keys(tried).length > 0;
    if (isTried) {
      this.playhead.stop();
      this.tried.tryPose(cameraId, tried);
    }
    const name = `${this.autoKey() ? 'Key: ' : ''}${what} on ${project.cameras[cameraId].name}`;
    return operations.length === 0 ? isTried : this.store.commit({ name, operations });
  }

  /** Sets where a camera stands and looks, as {@link setChannels}. */
  setPose(cameraId: string, what: string, pose: Pose): boolean {
    return this.setChannels(cameraId, what, worldValues(pose));
  }
}
