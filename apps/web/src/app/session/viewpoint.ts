import { computed, inject, Injectable, linkedSignal, signal } from '@angular/core';
import type { Camera, CameraState } from '@arvex/core';
import { cameraAt, NO_VARIATION, placedAlike, projectsPlacedAlike, wornId } from '@arvex/core';
import { ProjectStore } from '../data';
import { Playhead } from './playhead';
import type { Seen } from './seen';
import type { Shown } from './tried';
import { Tried } from './tried';

/** Which camera is looked through and which is edited, with what is tried out on them. */
@Injectable({ providedIn: 'root' })
export class Viewpoint {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly tried = inject(Tried);

  /** Whether drags in the picture move the camera that is looked through. */
  readonly steering = signal(false);
  /** The project as it is drawn: with what a drag is doing to a camera or to things in the set. */
  readonly drawnProject = this.tried.project;

  /** The same, and the same object for as long as nothing but looks and light changes: for what asks where things are. */
  readonly placedProject = computed(() => this.drawnProject(), { equal: projectsPlacedAlike });

  /** The camera that is edited whatever is looked through, once somebody has pinned it on purpose. */
  readonly pinned = linkedSignal<string | undefined, string | undefined>({
    source: computed(() => this.store.project()?.head.id),
    computation: () => undefined,
  });

  /** The camera looked through. */
  readonly through = computed<Camera | undefined>(() => {
    const id = this.playhead.seen()?.cameraId;
    return id === undefined ? undefined : this.store.project()?.cameras[id];
  });

  /** The camera looked through, resolved at the playhead. A trial is seen while nothing plays. */
  readonly throughState = computed<CameraState | undefined>(() => {
    const seen = this.playhead.seen();
    return seen && this.stateSeen(seen);
  });

  /** The same, and the same object for as long as nothing but its look and its light mix changes. */
  readonly placedThroughState = computed(() => this.throughState(), { equal: placedAlike });

  /** The camera that is edited: the one looked through, unless another is pinned. */
  readonly camera = computed<Camera | undefined>(() => {
    const pinned = this.store.project()?.cameras[this.pinned() ?? ''];
    return pinned ?? this.through();
  });

  /** The camera that is edited, resolved at the playhead. */
  readonly state = computed<CameraState | undefined>(() => {
    const camera = this.camera();
    return camera && this.stateOf(camera.id);
  });

  /** The same, and the same object for as long as nothing but its look and its light mix changes. */
  readonly placedState = computed(() => this.state(), { equal: placedAlike });

  /** Whether one camera is looked through while another is edited. */
  readonly apart = computed(() => {
    const [camera, through] = [this.camera(), this.through()];
    return camera !== undefined && through !== undefined && camera.id !== through.id;
  });

  /** The state of the camera that is seen at some place of the playhead; `played` as it is seen while playing, by default as it is now. */
  stateSeen(seen: Seen, played = this.playhead.playing()): CameraState | undefined {
    const { cameraId, sceneFlicks, variationId } = seen;
    return cameraId === undefined ? undefined : this.stateThen(cameraId, sceneFlicks, played, variationId);
  }

  /**
   * The same of any camera at any scene time; nothing where there is no such camera.
   * @param variationId the variation it is seen with; the one that it wears without.
   */
  stateThen(
    cameraId: string,
    sceneFlicks: number,
    played: boolean,
    variationId: string | null = null,
  ): CameraState | undefined {
    const project = this.drawnProject();
    if (!project?.cameras[cameraId]) return undefined;
    const tried = this.triedOn(cameraId);
    return cameraAt(project, cameraId, sceneFlicks, this.tried.valuesOf(cameraId, !played), tried ?? variationId);
  }

  /** A camera as it is seen now, with another variation than it wears. */
  stateDressed(cameraId: string, sceneFlicks: number, variationId: string): CameraState | undefined {
    const project = this.drawnProject();
    if (!project?.cameras[cameraId]) return undefined;
    return cameraAt(
      project,
      cameraId,
      sceneFlicks,
      this.tried.valuesOf(cameraId, !this.playhead.playing()),
      variationId,
    );
  }

  /** State of any camera at the playhead's scene time, as it is shown beside the picture. */
  stateOf(cameraId: string): CameraState | undefined {
    const [project, seen] = [this.drawnProject(), this.playhead.glance()];
    if (!project || !seen || !project.cameras[cameraId]) return undefined;
    const variationId = this.triedOn(cameraId) ?? (seen.cameraId === cameraId ? seen.variationId : null);
    const override = this.tried.valuesOf(cameraId, !this.playhead.playing());
    return cameraAt(project, cameraId, seen.sceneFlicks, override, variationId);
  }

  /** Whether what was tried on a camera is still about the one that is edited: only then a gesture's end keeps it. */
  isEdited(shown: Shown | undefined): boolean {
    return shown?.cameraId !== undefined && shown.cameraId === this.camera()?.id;
  }

  /** The variation that the edited camera is seen with; null is the camera without any. */
  readonly variationId = computed<string | null>(() => {
    const [camera, seen] = [this.camera(), this.playhead.seen()];
    if (!camera) return null;
    return wornId(camera, seen?.cameraId === camera.id ? seen.variationId : null) ?? NO_VARIATION;
  });

  private triedOn(cameraId: string): string | undefined {
    const tried = this.tried.variation.shown();
    return tried?.cameraId === cameraId ? tried.variationId : undefined;
  }
}
