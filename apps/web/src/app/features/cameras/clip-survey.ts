import { effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Camera, CameraState, Key, Project } from '@arvex/core';
import {
  cameraAt,
  deliveredWindow,
  distanceAlongAxis,
  flicksPerFrame,
  isMoving,
  marksInOrder,
  moveOf,
  projectedLens,
  sceneEndFlicks,
  setCamera,
} from '@arvex/core';
import { viewOf } from '@arvex/stage/view';
import { Playhead } from '../../session';
import { ProjectStore } from '../../data';
import { StageHost } from '../../drawing';
import { Viewing } from '../../session';

const REST_MS = 400;
/** Times at which automatic focus is measured over a move, at most. */
const MOST_MEASURES = 240;

/** What lies in a camera's frame: names of what the clip distances cut, and the nearest thing. */
export interface Cut {
  readonly cameraId: string;
  readonly near: string | undefined;
  readonly far: string | undefined;
  readonly nearest: { readonly distanceM: number; readonly name: string } | undefined;
}

/** Looks, when the camera rests, at what only the set can tell: what the clips cut, and what automatic focus sees. */
@Injectable({ providedIn: 'root' })
export class Watching {
  private readonly store = inject(ProjectStore);
  private readonly viewing = inject(Viewing);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);
  private timer: ReturnType<typeof setTimeout> | undefined;

  readonly cut = signal<Cut | undefined>(undefined);

  constructor() {
    effect(() => {
      const [project, state] = [this.viewing.drawnProject(), this.viewing.throughState()];
      const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
      const busy = this.playhead.playing() || this.host.loading() || this.viewing.preview() !== undefined;
      untracked(() => {
        clearTimeout(this.timer);
        if (project && state && !busy) this.timer = setTimeout(() => void this.look(project, state, flicks), REST_MS);
      });
    });
  }

  private async look(project: Project, state: CameraState, flicks: number): Promise<void> {
    const { near, far, nearest } = await this.host.survey(viewOf(state, flicks));
    const name = (id: string | undefined) => (id === undefined ? undefined : project.placements[id]?.name);
    this.cut.set({
      ...{ cameraId: state.cameraId, near: name(near), far: name(far) },
      nearest: nearest && { distanceM: nearest.distanceM, name: name(nearest.placementId) ?? 'something' },
    });
    const camera = project.cameras[state.cameraId];
    if (camera?.focus.mode === 'auto') await this.measure(project, camera);
  }

  /** Measures what lies under the focus point over the whole move, when something has changed since it was measured. */
  private async measure(project: Project, camera: Camera): Promise<void> {
    const measuredFor = keyOf(project, camera);
    if (camera.focus.auto.measuredFor === measuredFor) return;
    const keys: Key[] = [];
    for (const atFlicks of measuredTimes(project, camera)) {
      const state = cameraAt(project, camera.id, atFlicks);
      // The point is given in the frame; the picture is picked through the same projection.
      const view = { ...viewOf(state, atFlicks), window: deliveredWindow(state), lens: projectedLens(state) };
      const hit = await this.host.pick(view, camera.focus.auto.x, camera.focus.auto.y);
      const value = hit ? distanceAlongAxis(state, hit.pointM) : state.clip.farM;
      keys.push({ atFlicks, value: Math.max(0.05, Number(value.toPrecision(6))), shape: 'linear' });
    }
    const now = this.store.project();
    const latest = now?.cameras[camera.id];
    if (!now || latest?.focus.mode !== 'auto' || keyOf(now, latest) !== measuredFor) return;
    const auto = { ...latest.focus.auto, measured: keys, measuredFor };
    this.store.commitQuietly(
      setCamera(now, camera.id, 'Measure automatic focus', { focus: { ...latest.focus, auto } }),
    );
  }
}

/** What the measured distances depend on, as one short text. */
function keyOf(project: Project, camera: Camera): string {
  const { pose, aim, lens, framing, filmBack, focus } = camera;
  const parts = [pose, aim, lens, framing, filmBack, focus.auto.x, focus.auto.y, moveOf(project, camera.id)?.revision];
  const set = Object.values(project.placements).map((one) => one.revision);
  let hash = 0x811c9dc5;
  for (const letter of JSON.stringify([parts, set])) hash = Math.imul(hash ^ letter.charCodeAt(0), 0x01000193);
  return (hash >>> 0).toString(16);
}

/** Once for what stands still; along the move, or as long as subjects move, at even times. */
function measuredTimes(project: Project, camera: Camera): number[] {
  const marks = marksInOrder(moveOf(project, camera.id));
  const [first, last] = [marks[0]?.atFlicks ?? 0, marks.at(-1)?.atFlicks ?? 0];
  const subjects = Object.values(project.placements).some((one) => isMoving(project, one));
  const [from, to] = subjects ? [0, sceneEndFlicks(project)] : [first, last];
  if (to <= from) return [from];
  const perFrame = flicksPerFrame(project.head.rate);
  const step = perFrame * Math.max(1, Math.ceil((to - from) / perFrame / MOST_MEASURES));
  return Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step);
}
