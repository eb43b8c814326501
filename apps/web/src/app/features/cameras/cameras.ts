import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { CAMERA_DEFAULTS, deleteCamera, duplicateCamera, makeCamera } from '@arvex/core';
import { Notices } from '../../data';
import { Playhead } from '../../session';
import { ProjectStore } from '../../data';
import { poseOf, Viewing } from '../../session';

/** Making cameras and taking them away. */
@Injectable({ providedIn: 'root' })
export class CameraMaking {
  private readonly store = inject(ProjectStore);
  private readonly viewing = inject(Viewing);
  private readonly playhead = inject(Playhead);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);

  /** A new camera that sees exactly what the free view sees, and is looked through at once. */
  fromFreeView(): void {
    const [project, free] = [this.store.project(), this.viewing.freeState()];
    if (!project || !free) return;
    const { exposure, focus, own } = this.viewing.camera() ?? CAMERA_DEFAULTS;
    const parts = { exposure, own: own.filter((group) => group === 'exposure') };
    const { distanceM, fStop } = focus;
    const id = crypto.randomUUID();
    const manual = { ...CAMERA_DEFAULTS.focus, distanceM, fStop };
    if (this.store.commit(makeCamera(project, id, poseOf(free), { ...parts, focus: manual }))) {
      this.playhead.lookThrough(id);
      this.notices.done(`${this.store.project()?.cameras[id]?.name} sees what the free view sees.`);
    }
  }

  /** Puts the camera looked through where the free view is; one that has marks tries it out first. */
  putHere(): void {
    const camera = this.viewing.camera();
    if (camera) this.viewing.setPose(camera.id, 'Place from the free view', this.viewing.freePose());
  }

  /** Takes the free view to where the camera looked through is. */
  freeViewToCamera(): void {
    const state = this.viewing.state();
    if (!state) return;
    this.viewing.freePose.set(poseOf(state));
    this.viewing.show('free');
  }

  duplicate(): void {
    const [project, camera] = [this.store.project(), this.viewing.camera()];
    if (!project || !camera) return;
    const ids = { camera: crypto.randomUUID(), move: crypto.randomUUID() };
    if (this.store.commit(duplicateCamera(project, camera.id, ids))) this.playhead.lookThrough(ids.camera);
  }

  /** Opens the choice of what other cameras get from this one. */
  openMatch(): void {
    void import('./dialogs/match-dialog').then(({ MatchDialog }) =>
      this.dialog.open(MatchDialog, { width: '720px', maxWidth: '94vw' }),
    );
  }

  delete(): void {
    const [project, camera] = [this.store.project(), this.viewing.camera()];
    if (!project || !camera) return;
    if (this.store.commit(deleteCamera(project, camera.id))) {
      this.notices.done(`${camera.name} is deleted. Undo brings it back with its move and its shots.`);
    }
  }
}
