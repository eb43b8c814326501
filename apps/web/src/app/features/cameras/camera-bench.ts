import type { Signal } from '@angular/core';
import { computed, inject } from '@angular/core';
import type { Camera, CameraState, ChannelValues, DisplayUnit, NamedChannel } from '@arvex/core';
import { ANGLE_IN_DEGREES, LENGTH_IN_METRES, LENGTH_IN_MILLIMETRES, setCamera } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Setting, Viewpoint, Workspace } from '../../session';

/** What every card about the edited camera works with. Needs an injection context. */
export class CameraBench {
  readonly store = inject(ProjectStore);
  readonly setting = inject(Setting);
  readonly viewpoint = inject(Viewpoint);
  readonly workspace = inject(Workspace);
  readonly camera: Signal<Camera | undefined> = this.viewpoint.camera;
  readonly state: Signal<CameraState | undefined> = this.viewpoint.state;
  readonly unit = computed<DisplayUnit>(() => this.store.project()?.head.displayUnit ?? 'm');
  readonly metres = LENGTH_IN_METRES;
  readonly millimetres = LENGTH_IN_MILLIMETRES;
  readonly degrees = ANGLE_IN_DEGREES;

  /** Changes parts of the camera that do not move with time. */
  set(what: string, parts: Partial<Camera>): void {
    const [project, camera] = [this.store.project(), this.camera()];
    if (project && camera) this.store.commit(setCamera(project, camera.id, what, parts));
  }

  setLens(what: string, parts: Partial<Camera['lens']>): void {
    const lens = this.camera()?.lens;
    if (lens) this.set(what, { lens: { ...lens, ...parts } });
  }

  /** Changes pose or lens now: at once, or as a trial when the camera has marks. */
  setChannels(what: string, values: ChannelValues): void {
    const camera = this.camera();
    if (camera) this.setting.setChannels(camera.id, what, values);
  }

  /** Whether a card is the open one. */
  isOpen(card: string): boolean {
    return this.workspace.openCard() === card;
  }

  /** Changes a number of the camera that keys can move. */
  setNumber(what: string, channel: NamedChannel, value: number): void {
    const camera = this.camera();
    if (camera) this.setting.setNumbers(camera.id, what, { [channel]: value });
  }
}
