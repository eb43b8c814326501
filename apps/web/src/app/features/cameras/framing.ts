import { computed, inject, Injectable } from '@angular/core';
import type { ChannelValues, Edit, Project, ShotSize, SizedBy, Vector } from '@arvex/core';
import {
  chosenSubject,
  composed,
  composedAs,
  existing,
  focusKept,
  setCamera,
  subjectPointAt,
  tiltForHeadroom,
  worldValues,
} from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { Playhead, Setting, Tried, Viewpoint } from '../../session';

/** Framing the subject by words and shares instead of numbers: the camera, its head or its lens does it. */
@Injectable({ providedIn: 'root' })
export class Framing {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly setting = inject(Setting);
  private readonly notices = inject(Notices);
  private readonly trying = inject(Tried).as('framing');

  /** Whom the edited camera is about, and how. */
  readonly subject = computed(() => {
    const [project, state] = [this.store.project(), this.viewpoint.placedState()];
    return project && state && chosenSubject(project, state, this.atFlicks());
  });

  private atFlicks(): number {
    return this.playhead.seen()?.sceneFlicks ?? 0;
  }

  /** Composes the subject at a shot size; the plane of focus stays where it is in the set. */
  sizeTo(size: ShotSize, by: SizedBy): void {
    const [project, state, camera, subject] = [
      this.store.project(),
      this.viewpoint.state(),
      this.viewpoint.camera(),
      this.subject(),
    ];
    if (!project || !state || !camera) return;
    if (!subject) {
      this.notices.done('Nobody is in frame to compose. Turn the camera to somebody first.');
      return;
    }
    const { positionM, panDeg, tiltDeg, focalLengthMm } = composedAs(
      project,
      state,
      subject,
      size,
      by,
      this.atFlicks(),
    );
    const [x, y, z] = positionM;
    const pose = worldValues({ positionM: [x, y, z], panDeg, tiltDeg, rollDeg: state.rollDeg });
    const what = `${capital(size)} on ${subject.placement.name}`;
    const aims = this.aimEdits(camera.id, { ...state, positionM, lens: { ...state.lens, focalLengthMm } }, tiltDeg);
    this.setting.setWith(camera.id, what, aims.edits, {
      ...(aims.aimed ? { positionX: x, positionY: y, positionZ: z } : pose),
      ...(by === 'lens' && { focalLength: focalLengthMm }),
      ...this.keptFocus(positionM),
    });
  }

  /** Shows the subject with this much of the frame's height over its head, or keeps it so. */
  headroom(share: number, keep: boolean): void {
    const [project, state, camera, subject] = [
      this.store.project(),
      this.viewpoint.state(),
      this.viewpoint.camera(),
      this.subject(),
    ];
    if (!project || !state || !camera || !subject) return;
    const topM = subjectPointAt(project, subject.placement, 'top', this.atFlicks());
    const tiltDeg = tiltForHeadroom(state, topM, share);
    const { aimed, edits } = this.aimEdits(camera.id, state, tiltDeg);
    if (!keep) {
      const values = aimed ? undefined : this.setting.ownValues(camera.id, { tilt: tiltDeg });
      this.trying.show({ cameraId: camera.id, values, edit: edits[0] });
      return;
    }
    const what = `Headroom ${Math.round(share * 100)} %`;
    if (aimed) this.store.commit(composed(project, what, edits));
    else this.setting.setChannels(camera.id, what, { tilt: tiltDeg });
  }

  /** Ends what {@link headroom} shows. @returns whether it may still be kept: its camera is the one that is edited. */
  endPreview(): boolean {
    return this.viewpoint.isEdited(this.trying.end());
  }

  /** Where the focus has to be for what is sharp to stay so once the camera stands elsewhere; nothing where it is driven. */
  keptFocus(positionM: Vector): ChannelValues {
    const [state, camera] = [this.viewpoint.state(), this.viewpoint.camera()];
    if (!state || camera?.focus.mode !== 'manual') return {};
    const focusDistance = focusKept(state, positionM);
    return focusDistance > CLOSEST_M ? { focusDistance: Number(focusDistance.toPrecision(6)) } : {};
  }

  /** A camera that is aimed keeps its aim: what it aims at is raised or lowered instead of the head. */
  private aimEdits(cameraId: string, state: State, tiltDeg: number) {
    const camera = this.store.project()?.cameras[cameraId];
    const aimed = camera !== undefined && camera.aim.kind !== 'free' && camera.aim.kind !== 'path';
    const edit = (project: Project): Edit =>
      setCamera(project, cameraId, 'Aim', { aim: this.raised(cameraId, state, tiltDeg, project) });
    return { aimed, edits: aimed ? [edit] : [] };
  }

  private raised(cameraId: string, state: State, tiltDeg: number, project = this.store.project()) {
    const aim = project ? existing(project, 'camera', cameraId).aim : ({ kind: 'free' } as const);
    const toM = state.aimM ?? state.positionM;
    const levelM = Math.hypot(toM[0] - state.positionM[0], toM[2] - state.positionM[2]);
    const by = state.positionM[1] + levelM * Math.tan((tiltDeg * Math.PI) / 180) - toM[1];
    if (aim.kind === 'point') {
      const [x, y, z] = aim.positionM;
      return { ...aim, positionM: [x, y + by, z] as Vector };
    }
    if (aim.kind !== 'subject') return aim;
    const [right, up, back] = aim.offsetM;
    return { ...aim, offsetM: [right, up + by, back] as Vector };
  }
}

type State = NonNullable<ReturnType<Viewpoint['state']>>;

/** Nearer no focus is set by keeping it, metres. */
const CLOSEST_M = 0.05;

const capital = (text: string): string => `${text.charAt(0).toUpperCase()}${text.slice(1)}`;
