import { computed, inject, Injectable } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Key, MeasuredFocus, Project } from '@arvex/core';
import {
  cameraAt,
  deliveredWindow,
  distanceAlongAxis,
  focusMeasuringTimes,
  measuredFocusKey,
  projectedLens,
} from '@arvex/core';
import { viewOf } from '@arvex/stage/view';
import { filter, from, switchMap } from 'rxjs';
import { ProjectStore } from '../../data';
import { StageHost } from '../../drawing';
import { Playhead, Viewpoint, whenAtRest } from '../../session';

/** Measures what lies under the point of automatic focus, over the whole move, whenever what it depends on has changed. */
@Injectable({ providedIn: 'root' })
export class AutoFocus {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);

  constructor() {
    const wanted = computed(() => {
      const [project, camera] = [this.store.project(), this.viewpoint.through()];
      const busy = this.playhead.playing() || this.host.loading() || this.viewpoint.preview() !== undefined;
      return project && camera?.focus.mode === 'auto' && !busy ? { project, cameraId: camera.id } : undefined;
    });
    toObservable(wanted)
      .pipe(
        whenAtRest(),
        filter(({ project, cameraId }) => project.measured[cameraId]?.for !== measuredFocusKey(project, cameraId)),
        switchMap(({ project, cameraId }) => from(this.measure(project, cameraId))),
        takeUntilDestroyed(),
      )
      .subscribe(({ cameraId, measured }) => this.store.keepMeasured(cameraId, measured));
  }

  private async measure(project: Project, cameraId: string): Promise<{ cameraId: string; measured: MeasuredFocus }> {
    const { x, y } = project.cameras[cameraId]?.focus.auto ?? { x: 0.5, y: 0.5 };
    const curve: Key[] = [];
    for (const atFlicks of focusMeasuringTimes(project, cameraId)) {
      const state = cameraAt(project, cameraId, atFlicks);
      // The point is given in the frame; the picture is picked through the same projection.
      const view = { ...viewOf(state, atFlicks), window: deliveredWindow(state), lens: projectedLens(state) };
      const hit = await this.host.pick(view, x, y);
      const value = hit ? distanceAlongAxis(state, hit.pointM) : state.clip.farM;
      curve.push({ atFlicks, value: Math.max(0.05, Number(value.toPrecision(6))), shape: 'linear' });
    }
    return { cameraId, measured: { for: measuredFocusKey(project, cameraId), curve } };
  }
}
