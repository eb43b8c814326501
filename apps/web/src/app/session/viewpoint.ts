import { computed, inject, Injectable, signal } from '@angular/core';
import type { Camera, CameraState, ChannelValues, Edit, PlacementParts, Project } from '@arvex/core';
import { cameraAt, CoreError, NO_VARIATION, placedAlike, previewed, projectsPlacedAlike, wornId } from '@arvex/core';
import { ProjectStore } from '../data';
import { Playhead } from './playhead';
import type { Preview, Seen, Trial } from './seen';

/** Which camera is looked through and which is edited, and what is tried out on them before it is kept. */
@Injectable({ providedIn: 'root' })
export class Viewpoint {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);

  /** Whether drags in the picture move the camera that is looked through. */
  readonly steering = signal(false);
  readonly trial = signal<Trial | undefined>(undefined);
  /** What a drag shows before it ends and becomes a change. */
  readonly preview = signal<Preview | undefined>(undefined);

  /** What a drag does to things in the set before it ends. */
  readonly piecePreview = signal<Readonly<Record<string, PlacementParts>> | undefined>(undefined);

  private readonly pieced = computed(() => {
    const [project, pieces] = [this.store.project(), this.piecePreview()];
    if (!project || !pieces) return project;
    const placements = { ...project.placements };
    for (const [id, parts] of Object.entries(pieces)) {
      const placement = placements[id];
      if (placement) placements[id] = { ...placement, ...parts };
    }
    return { ...project, placements };
  });

  /** The project as it is drawn: with what a drag is doing to a camera or to things in the set. */
  readonly drawnProject = computed(() => {
    const [pieced, preview] = [this.pieced(), this.preview()];
    const project = pieced && preview?.edit ? previewedOr(pieced, preview.edit) : pieced;
    if (!project || (!preview?.parts && !preview?.head)) return project;
    const camera = project.cameras[preview.cameraId];
    const head = preview.head ? { ...project.head, ...preview.head } : project.head;
    const cameras =
      camera && preview.parts ? { ...project.cameras, [camera.id]: { ...camera, ...preview.parts } } : project.cameras;
    return { ...project, head, cameras };
  });

  /** The same, and the same object for as long as nothing but looks and light changes: for what asks where things are. */
  readonly placedProject = computed(() => this.drawnProject(), { equal: projectsPlacedAlike });

  /** Channel values in force over a camera's move: a trial, then what a drag is doing. */
  private override(cameraId: string | undefined, played: boolean): ChannelValues | undefined {
    const [trial, preview] = [played ? undefined : this.trial(), this.preview()];
    const tried = trial?.cameraId === cameraId ? trial?.values : undefined;
    return preview?.values && preview.cameraId === cameraId ? { ...tried, ...preview.values } : tried;
  }

  /** The camera that is edited whatever is looked through, once somebody has pinned it on purpose. */
  readonly pinned = signal<string | undefined>(undefined);

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
    return cameraAt(project, cameraId, sceneFlicks, this.override(cameraId, played), tried ?? variationId);
  }

  /** A camera as it is seen now, with another variation than it wears. */
  stateDressed(cameraId: string, sceneFlicks: number, variationId: string): CameraState | undefined {
    const project = this.drawnProject();
    if (!project?.cameras[cameraId]) return undefined;
    return cameraAt(project, cameraId, sceneFlicks, this.override(cameraId, this.playhead.playing()), variationId);
  }

  /** State of any camera at the playhead's scene time, as it is shown beside the picture. */
  stateOf(cameraId: string): CameraState | undefined {
    const [project, seen] = [this.drawnProject(), this.playhead.glance()];
    if (!project || !seen || !project.cameras[cameraId]) return undefined;
    const variationId = this.triedOn(cameraId) ?? (seen.cameraId === cameraId ? seen.variationId : null);
    const override = this.override(cameraId, this.playhead.playing());
    return cameraAt(project, cameraId, seen.sceneFlicks, override, variationId);
  }

  /** The variation that the edited camera is seen with; null is the camera without any. */
  readonly variationId = computed<string | null>(() => {
    const [camera, seen] = [this.camera(), this.playhead.seen()];
    if (!camera) return null;
    return wornId(camera, seen?.cameraId === camera.id ? seen.variationId : null) ?? NO_VARIATION;
  });

  /** The variation that is tried on a camera for as long as somebody points at it. */
  readonly triedVariation = signal<{ readonly cameraId: string; readonly variationId: string } | undefined>(undefined);

  private triedOn(cameraId: string): string | undefined {
    const tried = this.triedVariation();
    return tried?.cameraId === cameraId ? tried.variationId : undefined;
  }

  /** What is tried out on a camera. */
  trialOf(cameraId: string): ChannelValues | undefined {
    return this.trial()?.cameraId === cameraId ? this.trial()?.values : undefined;
  }
}

/** What a drag shows; nothing of it where what it is made on has gone meanwhile. */
function previewedOr(project: Project, edit: Edit): Project {
  try {
    return previewed(project, edit);
  } catch (error) {
    if (error instanceof CoreError) return project;
    throw error;
  }
}
