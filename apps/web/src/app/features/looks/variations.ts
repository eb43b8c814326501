import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { NamedVariation } from '@arvex/core';
import {
  deleteVariation,
  duplicateVariation,
  keepVariation,
  moveVariation,
  NO_VARIATION,
  setVariation,
  variationsOf,
  wearVariation,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Tried, Viewpoint } from '../../session';
import { Looks } from './looks';

/** Two variations of one camera that are compared in the picture: the first to the left of the wipe, the other to its right. */
export interface Compared {
  readonly cameraId: string;
  readonly left: string;
  readonly right: string;
}

/** The variations of cameras: which one is worn, which one is tried, which two are compared. */
@Injectable({ providedIn: 'root' })
export class Variations {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly looks = inject(Looks);
  private readonly pointed = inject(Tried).variation;

  /** Of the edited camera, in their order. */
  readonly all = computed<readonly NamedVariation[]>(() => {
    const camera = this.viewpoint.camera();
    return camera ? variationsOf(camera) : [];
  });
  /** The one that the edited camera is seen with; {@link NO_VARIATION} for none. */
  readonly worn = computed(() => this.viewpoint.variationId() ?? NO_VARIATION);
  private readonly asked = signal<Compared | undefined>(undefined);
  /** What is compared, for as long as both are there and their camera is looked through. */
  readonly compared = computed<Compared | undefined>(() => {
    const [asked, through] = [this.asked(), this.viewpoint.through()];
    if (!asked || through?.id !== asked.cameraId || this.playhead.playing()) return undefined;
    const isThere = (id: string) => id === NO_VARIATION || through.variations[id] !== undefined;
    return isThere(asked.left) && isThere(asked.right) ? asked : undefined;
  });
  /** How much of the picture lies to the left of the wipe. */
  readonly wipe = signal(0.5);

  constructor() {
    // Whoever points at one and goes to another camera by keys never lets it go: it would be seen on coming back.
    effect(() => {
      const through = this.viewpoint.through()?.id;
      untracked(() => {
        if (this.pointed.shown()?.cameraId !== through) this.pointed.end();
      });
    });
  }

  /** Shows a variation for as long as somebody points at it. */
  try(cameraId: string, variationId: string): void {
    if (this.compared() || this.viewpoint.through()?.id !== cameraId || this.playhead.playing()) return;
    this.pointed.show({ cameraId, variationId });
  }

  tried(): void {
    this.pointed.end();
  }

  /** Puts a variation on a camera. */
  wear(cameraId: string, variationId: string): void {
    this.tried();
    const project = this.store.project();
    if (project?.cameras[cameraId])
      this.store.commit(wearVariation(project, cameraId, variationId === NO_VARIATION ? null : variationId));
  }

  /** Keeps how the edited camera is seen as a variation of it. */
  keep(name: string, withExposure = false): void {
    const ids = { variation: crypto.randomUUID(), look: crypto.randomUUID() };
    const wore = this.worn() !== NO_VARIATION;
    const made = this.looks.edit((project, dressed) => keepVariation(project, dressed, ids, name, withExposure));
    if (made && wore) this.looks.fresh.set(ids.variation);
  }

  name(cameraId: string, variationId: string, name: string): void {
    const project = this.store.project();
    if (project) this.store.commit(setVariation(project, cameraId, variationId, `Name ${name}`, { name }));
  }

  /** Gives a variation an exposure of its own, as the camera has it now, or lets it go. */
  setExposure(variationId: string, own: boolean): void {
    const [camera, state] = [this.viewpoint.camera(), this.viewpoint.state()];
    if (!camera || !state) return;
    const { shutterAngleDeg, iso, ndStops, hold, absorbers } = state.exposure;
    const exposure = own ? { shutterAngleDeg, iso, ndStops, hold, absorbers } : null;
    const what = own ? 'Exposure of its own' : 'The camera’s exposure';
    this.looks.edit((project) => setVariation(project, camera.id, variationId, what, { exposure }));
  }

  duplicate(variationId: string): void {
    const ids = { variation: crypto.randomUUID(), look: crypto.randomUUID() };
    this.looks.edit((project, { cameraId }) => duplicateVariation(project, cameraId, variationId, ids));
  }

  move(variationId: string, by: number): void {
    const at = this.all().findIndex(({ id }) => id === variationId) + by;
    if (at < 0 || at >= this.all().length) return;
    this.looks.edit((project, { cameraId }) => moveVariation(project, cameraId, variationId, at));
  }

  delete(variationId: string): void {
    this.looks.edit((project, { cameraId }) => deleteVariation(project, cameraId, variationId));
  }

  /** Compares a variation with the one that is worn, or ends it. */
  compare(variationId: string): void {
    const camera = this.viewpoint.camera();
    const now = this.compared();
    this.tried();
    if (!camera || now?.right === variationId) this.asked.set(undefined);
    else this.asked.set({ cameraId: camera.id, left: this.worn(), right: variationId });
  }

  endComparing(): void {
    this.asked.set(undefined);
  }
}
