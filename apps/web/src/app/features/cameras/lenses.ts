import { inject, Injectable, signal } from '@angular/core';
import type { ChannelValues, FilmBack, KitLens, Project, Vector } from '@arvex/core';
import {
  chosenSubject,
  filmBackName,
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
import { Framing } from './framing';

/** What stays when the lens or the film back of a camera changes. */
export type Keep = 'lens' | 'angle' | 'size';

/** Changing lens and film back of the edited camera, with what stays. */
@Injectable({ providedIn: 'root' })
export class Lenses {
  private readonly store = inject(ProjectStore);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly framing = inject(Framing);

  readonly keep = signal<Keep>('lens');

  setFocalLength(focalLength: number): void {
    const [camera, state] = [this.viewpoint.camera(), this.viewpoint.state()];
    if (!camera || !state) return;
    const values = this.valuesFor(focalLength, state.filmBack);
    this.setting.setChannels(camera.id, `Lens ${focalLengthText(focalLength)}`, values);
  }

  /** A focal length, and where the camera has to go with it when its subject is to keep its size. */
  private valuesFor(focalLength: number, filmBack: FilmBack): ChannelValues {
    return { focalLength, ...(this.keep() === 'size' && this.movedFor(focalLength, filmBack)) };
  }

  /** Puts a lens of a kit on: a prime sets the focal length, a zoom keeps it as far as it reaches. */
  putOn(kitLens: KitLens): void {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (!project || !camera || !state) return;
    const lens = lensFromKit({ ...camera.lens, focalLengthMm: state.lens.focalLengthMm }, kitLens);
    const kept = { ...lens, focalLengthMm: camera.lens.focalLengthMm };
    const what = `Put on ${kitLens.name}`;
    const { focalLengthMm } = lens;
    const turned = focalLengthMm !== state.lens.focalLengthMm ? this.valuesFor(focalLengthMm, state.filmBack) : {};
    this.setting.setWith(camera.id, what, [(now) => setCamera(now, camera.id, what, { lens: kept })], turned);
  }

  setBack(filmBack: FilmBack): void {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (!project || !camera || !state) return;
    const keep = this.keep();
    const moved = keep === 'size' ? this.movedFor(state.lens.focalLengthMm, filmBack) : {};
    const back = (now: Project) => setFilmBack(now, camera.id, filmBack, keep === 'angle' ? 'angle' : 'lens');
    this.setting.setWith(camera.id, `Film back ${filmBackName(filmBack)}`, [back], moved);
  }

  /** Where the camera has to stand to keep its subject's size, with the focus left where it is in the set. */
  private movedFor(focalLengthMm: number, filmBack: FilmBack): ChannelValues {
    const [project, state] = [this.store.project(), this.viewpoint.state()];
    if (!project || !state) return {};
    const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
    const subject = chosenSubject(project, state, flicks);
    const [x, y, z] = state.positionM;
    const [dx, dy, dz] = turned([0, 0, -state.focus.distanceM], rotationOf(state));
    const at: Vector = subject ? subjectPointAt(project, subject.placement, 'eyes', flicks) : [x + dx, y + dy, z + dz];
    const [positionX, positionY, positionZ] = positionKeepingSize(state, at, { focalLengthMm, filmBack });
    return { positionX, positionY, positionZ, ...this.framing.keptFocus([positionX, positionY, positionZ]) };
  }
}
