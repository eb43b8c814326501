import { computed, inject, Injectable } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Camera, CameraState, Key, MeasuredFocus, Project } from '@arvex/core';
import {
  cameraAt,
  deliveredWindow,
  distanceAlongAxis,
  focusMeasuringTimes,
  measuredFocusKey,
  sceneEndFlicks,
  projectedLens,
} from '@arvex/core';
import { viewOf } from '@arvex/stage/view';
import type { Observable } from 'rxjs';
import { concatMap, EMPTY, from, map, toArray } from 'rxjs';
import { Notices, ProjectStore } from '../../data';
import { StageHost } from '../../drawing';
import { measuredAtRest, Playhead, Tried, Viewpoint } from '../../session';

/** Measures what lies under the point of automatic focus, over the whole move, whenever what it depends on has changed. */
@Injectable({ providedIn: 'root' })
export class AutoFocus {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);
  private readonly tried = inject(Tried);

  constructor() {
    const wanted = computed(() => {
      const [project, camera] = [this.store.project(), this.viewpoint.through()];
      const busy = this.playhead.playing() || this.host.loading() || this.tried.dragging();
      return project && camera?.focus.mode === 'auto' && !busy ? { project, cameraId: camera.id } : undefined;
    });
    toObservable(wanted)
      .pipe(
        measuredAtRest(
          ({ project, cameraId }) => this.measure(project, cameraId),
          (error) => this.notices.error(error),
        ),
        takeUntilDestroyed(),
      )
      .subscribe(({ cameraId, measured }) => this.store.keepMeasured(cameraId, measured));
  }

  private measure(project: Project, cameraId: string): Observable<{ cameraId: string; measured: MeasuredFocus }> {
    const [key, camera] = [measuredFocusKey(project, cameraId, sceneEndFlicks(project)), project.cameras[cameraId]];
    if (!camera || project.measured[cameraId]?.for === key) return EMPTY;
    const point = camera.focus.auto;
    return from(focusMeasuringTimes(project, cameraId, sceneEndFlicks(project))).pipe(
      concatMap((atFlicks) => this.distanceAt(point, cameraAt(project, cameraId, atFlicks), atFlicks)),
      toArray(),
      map((curve) => ({ cameraId, measured: { for: key, curve } })),
    );
  }

  private async distanceAt({ x, y }: Camera['focus']['auto'], state: CameraState, atFlicks: number): Promise<Key> {
    // The point is given in the frame; the picture is picked through the same projection.
    const view = { ...viewOf(state, atFlicks), window: deliveredWindow(state), lens: projectedLens(state) };
    const hit = await this.host.pick(view, x, y);
    const value = hit ? distanceAlongAxis(state, hit.pointM) : state.clip.farM;
    return { atFlicks, value: Math.max(0.05, Number(value.toPrecision(6))), shape: 'linear' };
  }
}
