import { computed, inject, Injectable } from '@angular/core';
import type { Camera, Edit, Project, SubjectPoint } from '@arvex/core';
import { changeExposure, existing, eyesM, setCamera } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { Setting, Tried, Viewpoint } from '../../session';
import { ExposureControls } from './exposure-controls';
import { Subjects } from './subjects';

/** Focusing the edited camera. A distance that is set by hand never fights with what drives the focus: it takes over, and says so. */
@Injectable({ providedIn: 'root' })
export class Focus {
  private readonly store = inject(ProjectStore);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly exposure = inject(ExposureControls);
  private readonly notices = inject(Notices);
  private readonly subjects = inject(Subjects);
  private readonly trying = inject(Tried).as('focus');

  /** What drives the edited camera's focus, in words. */
  readonly driver = computed(() => {
    const [state, camera] = [this.viewpoint.state(), this.viewpoint.camera()];
    if (!state || !camera) return '';
    const subject = this.store.project()?.placements[state.focus.subjectId ?? ''];
    const { rack } = state.focus;
    const next = this.store.project()?.placements[rack?.toId ?? ''];
    if (rack) return `${subject?.name ?? ''} → ${next?.name ?? ''} ${Math.round(rack.share * 100)} %`;
    if (state.focus.drivenBy === 'follow') return `follows ${subject?.name ?? ''}`;
    if (state.focus.drivenBy === 'auto') return 'automatic';
    if (camera.focus.mode === 'auto') return 'measuring …';
    return camera.focus.mode === 'follow' ? 'by hand: its subject is gone' : 'by hand';
  });

  /** Shows focus by hand at a distance, and at an f-stop if one is given, without keeping it. */
  preview(focusDistance: number, fStop?: number): void {
    const camera = this.viewpoint.camera();
    if (!camera) return;
    this.trying.show({
      cameraId: camera.id,
      values: fStop === undefined ? { focusDistance } : { focusDistance, fStop },
      ...(camera.focus.mode !== 'manual' && { edit: this.byHandAt(camera.id, focusDistance) }),
    });
  }

  /** Ends what {@link preview} shows. @returns whether it may still be kept: its camera is the one that is edited. */
  endPreview(): boolean {
    return this.viewpoint.isEdited(this.trying.end());
  }

  /** Focuses at a distance by hand, named for undo by the thing that was picked, if any. */
  at(distanceM: number, placementId?: string): void {
    const [project, camera, state] = [this.store.project(), this.viewpoint.camera(), this.viewpoint.state()];
    if (!project || !camera || !state) return;
    const on = placementId === undefined ? undefined : project.placements[placementId]?.name;
    const what = on === undefined ? 'Focus' : `Focus on ${on}`;
    const focusDistance = Math.max(0.01, Number(distanceM.toPrecision(6)));
    const { id } = camera;
    if (camera.focus.mode === 'manual') this.setting.setChannels(id, what, { focusDistance });
    else if (this.setting.setWith(id, `${what} by hand`, [this.byHandAt(id, focusDistance)], { focusDistance })) {
      this.tellTakenOver(camera);
    }
  }

  /** The edit that takes a camera's focus from whatever drives it. */
  private byHandAt(cameraId: string, distanceM: number): (now: Project) => Edit {
    return (now) => {
      const { focus } = existing(now, 'camera', cameraId);
      return setCamera(now, cameraId, 'Focus by hand', { focus: { ...focus, mode: 'manual', distanceM } });
    };
  }

  private tellTakenOver(camera: Camera): void {
    this.notices.done(`Focus is by hand now; ${this.driverText(camera)}. Undo lets it do so again.`);
  }

  /** Lets the focus follow a subject. */
  follow(placementId: string, point?: SubjectPoint): void {
    const project = this.store.project();
    const placement = project?.placements[placementId];
    if (!project || !placement) return;
    const eyes = eyesM(placement) === undefined ? 'middle' : 'eyes';
    this.set(`Focus follows ${placement.name}`, { mode: 'follow', subjectId: placementId, point: point ?? eyes });
  }

  /** Lets the focus follow whom the camera sees: never somebody behind it. */
  followSeen(): void {
    const subject = this.subjects.meant();
    if (subject) this.follow(subject.id);
    else
      this.notices.done('Nobody is in front of this camera. Choose whom its focus is to follow once it sees somebody.');
  }

  /** Stays where the focus is now, by hand. */
  byHand(): void {
    const state = this.viewpoint.state();
    if (state) this.set('Focus by hand', { mode: 'manual', distanceM: Math.max(0.01, state.focus.distanceM) });
  }

  /** Focuses on what lies under a point of the frame (0…1); distances are measured when the camera rests. */
  automatic(x: number, y: number): void {
    const camera = this.viewpoint.camera();
    if (camera) this.set('Automatic focus', { mode: 'auto', auto: { x, y } });
  }

  set(what: string, parts: Partial<Camera['focus']>): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (project && camera)
      this.store.commit(setCamera(project, camera.id, what, { focus: { ...camera.focus, ...parts } }));
  }

  /** Focus by hand and f-stop at once, with EV held where it is held. @returns what that does to exposure, in words. */
  hold(distanceM: number, fStop: number): string {
    const [camera, state] = [this.viewpoint.camera(), this.viewpoint.state()];
    if (!camera || !state) return '';
    const edit = changeExposure(state, 'stop', fStop);
    const focusDistance = Math.max(0.01, Number(distanceM.toPrecision(6)));
    const driven = camera.focus.mode !== 'manual';
    const edits = driven ? [this.byHandAt(camera.id, focusDistance)] : [];
    this.exposure.apply(`Hold sharp at ƒ${fStop}`, { ...edit, fStop }, { edits, values: { focusDistance } });
    if (driven) this.tellTakenOver(camera);
    return this.exposure.words(edit.held, state);
  }

  /** What drives a camera's focus, as a clause. */
  private driverText({ focus }: Camera): string {
    const subject = this.store.project()?.placements[focus.subjectId ?? ''];
    return focus.mode === 'follow' ? `it followed ${subject?.name ?? 'a subject'}` : 'it was automatic';
  }
}
