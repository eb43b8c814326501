import { computed, inject, Injectable } from '@angular/core';
import type { Camera, CameraState, Pose } from '@arvex/core';
import { CAMERA_DEFAULTS, channelValuesAt, FIRST_REVISION, poseSchema, resolveCamera } from '@arvex/core';
import { ProjectStore, remembered } from '../data';
import { Playhead } from './playhead';
import { Viewpoint } from './viewpoint';

/** Id of the camera that stands for the free view; it belongs to no project. */
const FREE_VIEW_ID = 'free-view';
const FIRST_POSE: Pose = { positionM: [-34, 14, 30], panDeg: 52, tiltDeg: -14, rollDeg: 0 };

/** The camera of the free view: it belongs to nobody's project, and this browser remembers where it stands. */
@Injectable({ providedIn: 'root' })
export class FreeCamera {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);

  readonly pose = remembered('free-pose', poseSchema, FIRST_POSE);

  /** The free view as a camera of its own: default lens, exposed like the camera looked through. */
  readonly state = computed<CameraState | undefined>(() => {
    const project = this.store.project();
    if (!project) return undefined;
    const through = this.viewpoint.throughState();
    const { exposure, focus } = through ?? CAMERA_DEFAULTS;
    const { hold, absorbers, iso, ndStops, shutterAngleDeg } = exposure;
    const camera: Camera = {
      ...CAMERA_DEFAULTS,
      id: FREE_VIEW_ID,
      revision: FIRST_REVISION,
      number: 1,
      name: 'Free view',
      pose: this.pose(),
      focus: { ...CAMERA_DEFAULTS.focus, distanceM: focus.distanceM, fStop: focus.fStop },
      exposure: { hold, absorbers, iso, ndStops, shutterAngleDeg },
      lightMix: through?.lightMix ?? {},
      own: ['exposure', 'lightMix'],
    };
    return resolveCamera(
      camera,
      channelValuesAt(camera, undefined, 0),
      project,
      this.playhead.seen()?.sceneFlicks ?? 0,
    );
  });
}
