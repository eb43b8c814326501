import { inject, Injectable, signal } from '@angular/core';
import type { FilmBack, KitLens } from '@arvex/core';
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
import type { ChannelValues, Vector } from '@arvex/core';
import { focalLengthText } from '../../ui';
import { Playhead } from '../../session';
import { ProjectStore } from '../../data';
import { Viewing } from '../../session';

/** What stays when the lens or the film back of a camera changes. */
export type Keep = 'lens' | 'angle' | 'size';

/** Changing lens and film back of the edited camera, with what stays. */
@Injectable({ providedIn: 'root' })
export class LensChanging {
  private readonly store = inject(ProjectStore);
  private readonly viewing = inject(Viewing);
  private readonly playhead = inject(Playhead);

  readonly keep = signal<Keep>('lens');

  setFocalLength(focalLength: number): void {
    const [camera, state] = [this.viewing.camera(), this.viewing.state()];
    if (!camera || !state) return;
    const moved = this.keep() === 'size' ? this.movedFor(focalLength, state.filmBack) : {};
    this.viewing.setChannels(camera.id, `Lens ${focalLengthText(focalLength)}`, { focalLength, ...moved });
  }

  /** Puts a lens of a kit on: a prime sets the focal length, a zoom keeps it as far as it reaches. */
  putOn(kitLens: KitLens): void {
    const [project, camera, state] = [this.store.project(), this.viewing.camera(), this.viewing.state()];
    if (!project || !camera || !state) return;
    const lens = lensFromKit({ ...camera.lens, focalLengthMm: state.lens.focalLengthMm }, kitLens);
    const kept = { ...lens, focalLengthMm: camera.lens.focalLengthMm };
    this.store.commit(setCamera(project, camera.id, `Put on ${kitLens.name}`, { lens: kept }));
    if (lens.focalLengthMm !== state.lens.focalLengthMm) this.setFocalLength(lens.focalLengthMm);
  }

  setBack(filmBack: FilmBack): void {
    const [project, camera, state] = [this.store.project(), this.viewing.camera(), this.viewing.state()];
    if (!project || !camera || !state) return;
    const keep = this.keep();
    const moved = keep === 'size' ? this.movedFor(state.lens.focalLengthMm, filmBack) : undefined;
    this.store.commit(setFilmBack(project, camera.id, filmBack, keep === 'angle' ? 'angle' : 'lens'));
    if (moved) this.viewing.setChannels(camera.id, 'Keep the subject’s size', moved);
  }

  /** Where the camera has to stand to keep its subject's size; its focus plane stands for nobody. */
  private movedFor(focalLengthMm: number, filmBack: FilmBack): ChannelValues {
    const [project, state] = [this.store.project(), this.viewing.state()];
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
