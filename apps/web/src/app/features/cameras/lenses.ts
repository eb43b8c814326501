import { inject, Injectable, signal } from '@angular/core';
import type { ChannelValues, FilmBack, KitLens, Vector } from '@arvex/core';
import {
  chosenSubject,
  lensFromKit,
  positionKeepingSize,
  rotationOf,
  setCamera,
  setFilmBack,
  subjectPointAt,
  turned,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Setting, Viewpoint } from '../../session';
import { focalLengthText } from '../../ui';

/** What stays when the lens or the film back of a camera changes. */
export type Keep = 'lens' | 'angle' | 'size';

/** Changing lens and film back of the edited camera, with what stays. */
@Injectable({ providedIn: 'root' })
export class Lenses {
  private readonly store = inject(ProjectStore);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);

  readonly keep = signal<Keep>('lens');

  setFocalLength(focalLength: number): void {
    const [camera, state] = [this.viewpoint.camera(), this.viewpoint.state()];
    if (!camera || !state) return;
    const moved = this.keep() === 'size' ? this.movedFor(focalLength, state.filmBack) : {};
    this.setting.setChannels(camera.id, `Lens ${focalLengthText(focalLength)}`, { focalLength, ...moved });
  }

  /** Puts a lens of a kit on: a prime sets the focal length, a zoom keeps it as far as it reaches. */
  putOn(kitLens: KitLens): void {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (!project || !camera || !state) return;
    const lens = lensFromKit({ ...camera.lens, focalLengthMm: state.lens.focalLengthMm }, kitLens);
    const kept = { ...lens, focalLengthMm: camera.lens.focalLengthMm };
    this.store.commit(setCamera(project, camera.id, `Put on ${kitLens.name}`, { lens: kept }));
    if (lens.focalLengthMm !== state.lens.focalLengthMm) this.setFocalLength(lens.focalLengthMm);
  }

  setBack(filmBack: FilmBack): void {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (!project || !camera || !state) return;
    const keep = this.keep();
    const moved = keep === 'size' ? this.movedFor(state.lens.focalLengthMm, filmBack) : undefined;
    this.store.commit(setFilmBack(project, camera.id, filmBack, keep === 'angle' ? 'angle' : 'lens'));
    if (moved) this.setting.setChannels(camera.id, 'Keep the subject’s size', moved);
  }

  /** Where the camera has to stand to keep its subject's size; its focus plane stands for nobody. */
  private movedFor(focalLengthMm: number, filmBack: FilmBack): ChannelValues {
    const [project, state] = [this.store.project(), this.viewpoint.state()];
    if (!project || !state) return {};
    const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
    const subject = chosenSubject(project, state, flicks);
    const [x, y, z] = state.positionM;
    const [dx, dy, dz] = turned([0, 0, -state.focus.distanceM], rotationOf(state));
    const at: Vector = subject ? subjectPointAt(project, subject.placement, 'eyes', flicks) : [x + dx, y + dy, z + dz];
    const [positionX, positionY, positionZ] = positionKeepingSize(state, at, { focalLengthMm, filmBack });
    return { positionX, positionY, positionZ };
  }
}
