import { computed, inject, Injectable } from '@angular/core';
import type { Camera, CameraState, Pose } from '@arvex/core';
import { CAMERA_DEFAULTS, channelValuesAt, FIRST_REVISION, poseSchema, resolveCamera } from '@arvex/core';
import { ProjectStore, remembered } from '../data';
import { Playhead } from './playhead';
import { Viewpoint } from './viewpoint';
import * as z from 'zod';

/** Id of the camera that stands for the free view; it belongs to no project. */
const FREE_VIEW_ID = 'free-view';
const FIRST_POSE: Pose = { positionM: [-34, 14, 30], panDeg: 52, tiltDeg: -14, rollDeg: 0 };

/** A place of the free view that somebody kept. */
const keptViewSchema = z.object({ id: z.string(), projectId: z.string(), name: z.string(), pose: poseSchema });
export type KeptView = z.infer<typeof keptViewSchema>;

/** The camera of the free view: it belongs to nobody's project, and this browser remembers where it stands. */
@Injectable({ providedIn: 'root' })
export class FreeCamera {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);

  readonly pose = remembered('free-pose', poseSchema, FIRST_POSE);

  /** Views of all projects that somebody kept in this browser. */
  private readonly all = remembered('free-views', z.array(keptViewSchema).max(500), []);
  /** Of this project. */
  readonly kept = computed(() => {
    const id = this.store.project()?.head.id;
    return this.all().filter(({ projectId }) => projectId === id);
  });

  /** Keeps where the free view is. */
  keep(): KeptView | undefined {
    const projectId = this.store.project()?.head.id;
    if (projectId === undefined) return undefined;
    const numbers = this.kept().map(({ name }) => Number(/\d+$/.exec(name)?.[0] ?? 0));
    const view = {
      id: crypto.randomUUID(),
      projectId,
      name: `view ${Math.max(0, ...numbers) + 1}`,
      pose: this.pose(),
    };
    this.all.update((all) => [...all, view]);
    return view;
  }

  forget(id: string): void {
    this.all.update((all) => all.filter((view) => view.id !== id));
  }

  /** The free view as a camera of its own: default lens, exposed like the camera looked through. */
  readonly state = computed<CameraState | undefined>(() => this.stateAt(this.pose()));

  /** The same from another place. */
  stateAt(pose: Pose): CameraState | undefined {
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
      pose,
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
  }
}
