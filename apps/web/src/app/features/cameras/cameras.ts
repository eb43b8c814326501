import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { Edit } from '@arvex/core';
import {
  camerasInOrder,
  CAMERA_DEFAULTS,
  deleteCamera,
  duplicateCamera,
  makeCamera,
  poseOf,
  setCamera,
} from '@arvex/core';
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

  /**
   * A new camera that sees exactly what is on the screen: the free view where it is shown, else what the camera looked through shows,
   * a pose that is tried counted. It is exposed and lit like that view, and is looked through at once.
   */
  fromView(): void {
    if (this.workspace.shows('free') || !this.viewpoint.throughState()) this.fromFreeView();
    else this.fromPicture();
  }

  private fromFreeView(): void {
    const [project, free] = [this.store.project(), this.freeCamera.state()];
    if (!project || !free) return;
    const { distanceM, fStop } = this.viewpoint.camera()?.focus ?? CAMERA_DEFAULTS.focus;
    const focus = { ...CAMERA_DEFAULTS.focus, distanceM, fStop };
    this.make(
      makeCamera(project, crypto.randomUUID(), poseOf(free), { ...this.litAlike(), focus }),
      'the free view sees',
    );
  }

  private fromPicture(): void {
    const [project, state, through] = [this.store.project(), this.viewpoint.throughState(), this.viewpoint.through()];
    if (!project || !state || !through) return;
    const { filmBack, framing, guides, clip } = through;
    const lens = { ...through.lens, focalLengthMm: state.lens.focalLengthMm };
    const { distanceM, fStop } = state.focus;
    const focus = { ...CAMERA_DEFAULTS.focus, distanceM: Math.max(0.01, distanceM), fStop };
    const parts = { ...this.litAlike(), filmBack, framing, guides, clip, lens, focus };
    this.make(makeCamera(project, crypto.randomUUID(), poseOf(state), parts), `${through.name} shows`);
  }

  /** Exposure and light mix as the camera looked through has them: its own, or the project's with it. */
  private litAlike() {
    const { exposure, lightMix, own } = this.viewpoint.through() ?? CAMERA_DEFAULTS;
    return { exposure, lightMix, own: own.filter((group) => group === 'exposure' || group === 'lightMix') };
  }

  private make(edit: Edit, what: string): void {
    const before = new Set(Object.keys(this.store.project()?.cameras ?? {}));
    if (!this.store.commit(edit)) return;
    const made = Object.values(this.store.project()?.cameras ?? {}).find(({ id }) => !before.has(id));
    if (!made) return;
    this.playhead.lookThrough(made.id);
    if (before.size === 0) this.workspace.show('picture', 'upper');
    this.notices.done(`${made.name} sees what ${what}.`);
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

  /** Takes a camera out of the work, or back in: shots of one that is out are named among what is to be mended. */
  disable(): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return;
    const what = camera.disabled ? 'Enabled' : 'Disabled';
    this.store.commit(setCamera(project, camera.id, what, { disabled: !camera.disabled }));
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
    const all = camerasInOrder(project);
    const index = all.findIndex(({ id }) => id === camera.id);
    const next = all[index + 1] ?? all[index - 1];
    if (this.store.commit(deleteCamera(project, camera.id))) {
      if (next && this.playhead.mode() === 'camera') this.playhead.lookThrough(next.id);
      this.notices.done(`${camera.name} is deleted. Undo brings it back with its move and its shots.`);
    }
  }
}
