import { inject, Injectable, signal } from '@angular/core';
import type { Channel, ChannelValues, Pose } from '@arvex/core';
import { keyChannels, markChannels, moveOf, ownValues, restingParts, setCamera } from '@arvex/core';
import { ProjectStore } from '../data';
import { Playhead } from './playhead';
import { Viewpoint } from './viewpoint';

/** Sets what of a camera can move: keyed, tried out or kept, as the camera and the artist want it. */
@Injectable({ providedIn: 'root' })
export class Setting {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);

  /** Whether everything that is set becomes a key at the playhead. */
  readonly autoKey = signal(false);

  /** Values of the world (place, pan, tilt, roll) as the numbers of a camera's rig; others as they are. */
  ownValues(cameraId: string, values: ChannelValues): ChannelValues {
    const [project, seen] = [this.store.project(), this.playhead.seen()];
    if (!project?.cameras[cameraId]) return values;
    return ownValues(project, cameraId, values, seen?.sceneFlicks ?? 0, this.viewpoint.trialOf(cameraId));
  }

  /** Shows values without keeping them, while something is dragged. */
  previewChannels(cameraId: string, values: ChannelValues): void {
    this.viewpoint.preview.set({ cameraId, values: this.ownValues(cameraId, values) });
  }

  /**
   * Sets pose or lens of a camera, place and turn as in the world. With automatic keying every value becomes a key here and now.
   * Else it is kept at once where nothing moves it, and tried out, kept only by marking, where keys do: so nobody
   * destroys a composed view by looking about.
   */
  setChannels(cameraId: string, what: string, values: ChannelValues): boolean {
    return this.setNumbers(cameraId, what, this.ownValues(cameraId, values));
  }

  /** As {@link setChannels}, with the numbers of the camera's own rig and head. */
  setNumbers(cameraId: string, what: string, values: ChannelValues): boolean {
    const [project, seen] = [this.store.project(), this.playhead.seen()];
    const camera = project?.cameras[cameraId];
    if (!project || !camera) return false;
    const move = moveOf(project, cameraId);
    if (this.autoKey()) {
      return this.store.commit(keyChannels(project, cameraId, values, seen?.sceneFlicks ?? 0, `Key: ${what}`));
    }
    const moving = (channel: Channel) =>
      move !== undefined &&
      (!!move.curves[channel] ||
        (move.marks.length > 0 && (markChannels(camera) as readonly Channel[]).includes(channel)));
    const [tried, kept] = [{}, {}] as [Partial<Record<Channel, number>>, Partial<Record<Channel, number>>];
    for (const [channel, value] of Object.entries(values) as [Channel, number][]) {
      (moving(channel) ? tried : kept)[channel] = value;
    }
    if (Object.keys(tried).length > 0) {
      this.playhead.stop();
      this.viewpoint.trial.set({ cameraId, values: { ...this.viewpoint.trialOf(cameraId), ...tried } });
    }
    const parts = restingParts(camera, kept);
    if (Object.keys(parts).length === 0) return Object.keys(tried).length > 0;
    return this.store.commit(setCamera(project, cameraId, what, parts));
  }

  /** Sets where a camera stands and looks, as {@link setChannels}. */
  setPose(cameraId: string, what: string, pose: Pose): boolean {
    return this.setChannels(cameraId, what, worldValues(pose));
  }
}

/** A pose as channel values of the world. */
export function worldValues({ positionM, panDeg, tiltDeg, rollDeg }: Pose): ChannelValues {
  const [positionX, positionY, positionZ] = positionM;
  return { positionX, positionY, positionZ, pan: panDeg, tilt: tiltDeg, roll: rollDeg };
}
