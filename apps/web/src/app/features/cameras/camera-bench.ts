import type { Signal } from '@angular/core';
import { computed, inject } from '@angular/core';
import type { Camera, CameraState, DisplayUnit } from '@arvex/core';
import { ANGLE_IN_DEGREES, LENGTH_IN_METRES, LENGTH_IN_MILLIMETRES, setCamera } from '@arvex/core';
import { ProjectStore } from '../../data';
import type { BenchCard } from '../../session';
import { Viewing } from '../../session';

/** What every card about the edited camera works with. Needs an injection context. */
export class CameraBench {
  readonly store = inject(ProjectStore);
  readonly viewing = inject(Viewing);
  readonly camera: Signal<Camera | undefined> = this.viewing.camera;
  readonly state: Signal<CameraState | undefined> = this.viewing.state;
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
  setChannels(what: string, values: Parameters<Viewing['setChannels']>[2]): void {
    const camera = this.camera();
    if (camera) this.viewing.setChannels(camera.id, what, values);
  }

  isOpen(card: BenchCard): boolean {
    return this.viewing.openCard() === card;
  }

  /** Opens a card wide and closes the one that was open; or closes it. */
  open(card: BenchCard, open: boolean): void {
    this.viewing.openCard.set(open ? card : undefined);
  }
}
