import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { CAMERA_DEFAULTS, deleteCamera, duplicateCamera, makeCamera, poseOf } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { FreeCamera, Playhead, Setting, Viewpoint, Workspace } from '../../session';

/** Making cameras and taking them away. */
@Injectable({ providedIn: 'root' })
export class Cameras {
  private readonly store = inject(ProjectStore);
  private readonly freeCamera = inject(FreeCamera);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  private readonly playhead = inject(Playhead);
  private readonly notices = inject(Notices);
  private readonly dialog = inject(MatDialog);

  /** A new camera that sees exactly what the free view sees, and is looked through at once. */
  fromFreeView(): void {
    const [project, free] = [this.store.project(), this.freeCamera.state()];
    if (!project || !free) return;
    const { exposure, focus, own } = this.viewpoint.camera() ?? CAMERA_DEFAULTS;
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
    const camera = this.viewpoint.camera();
    if (camera) this.setting.setPose(camera.id, 'Place from the free view', this.freeCamera.pose());
  }

  /** Takes the free view to where the camera looked through is. */
  freeViewToCamera(): void {
    const state = this.viewpoint.state();
    if (!state) return;
    this.freeCamera.pose.set(poseOf(state));
    this.workspace.show('free');
  }

  duplicate(): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return;
    const copyId = crypto.randomUUID();
    if (this.store.commit(duplicateCamera(project, camera.id, copyId))) this.playhead.lookThrough(copyId);
  }

  /** Opens the choice of what other cameras get from this one. */
  openMatch(): void {
    void import('./dialogs/match-dialog').then(({ MatchDialog }) =>
      this.dialog.open(MatchDialog, { width: '720px', maxWidth: '94vw' }),
    );
  }

  /** Opens all settings of cameras line by line. */
  openCompare(cameraIds: readonly string[]): void {
    void import('./dialogs/compare-dialog').then(({ CompareDialog }) =>
      this.dialog.open(CompareDialog, { width: '760px', maxWidth: '94vw', data: cameraIds }),
    );
  }

  delete(): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return;
    if (this.store.commit(deleteCamera(project, camera.id))) {
      this.notices.done(`${camera.name} is deleted. Undo brings it back with its move and its shots.`);
    }
  }
}
