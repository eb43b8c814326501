import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { CameraState, Project } from '@arvex/core';
import type { Survey } from '@arvex/stage';
import { viewOf } from '@arvex/stage/view';
import { map } from 'rxjs';
import { Notices } from '../../data';
import { StageHost } from '../../drawing';
import { measuredAtRest, Playhead, Viewpoint } from '../../session';

/** What lies in a camera's frame: names of what the clip distances cut, and the nearest thing. */
export interface Surveyed {
  readonly cameraId: string;
  readonly near: string | undefined;
  readonly far: string | undefined;
  readonly nearest: { readonly distanceM: number; readonly name: string } | undefined;
}

/** Looks, when the camera rests, at what only the set can tell: what the clips cut, and what is nearest. */
@Injectable({ providedIn: 'root' })
export class ClipSurvey {
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);

  /** What was seen last. */
  readonly seen = signal<Surveyed | undefined>(undefined);

  constructor() {
    const looked = computed(() => {
      const [project, state] = [this.viewpoint.drawnProject(), this.viewpoint.throughState()];
      const busy = this.playhead.playing() || this.host.loading() || this.viewpoint.preview() !== undefined;
      return project && state && !busy ? { project, state, flicks: this.playhead.seen()?.sceneFlicks ?? 0 } : undefined;
    });
    toObservable(looked)
      .pipe(
        measuredAtRest(
          ({ project, state, flicks }) =>
            this.host.survey(viewOf(state, flicks)).pipe(map((survey) => named(project, state, survey))),
          (error) => this.notices.error(error),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((seen) => this.seen.set(seen));
  }
}

function named(project: Project, { cameraId }: CameraState, { near, far, nearest }: Survey): Surveyed {
  const name = (id: string | undefined) => (id === undefined ? undefined : project.placements[id]?.name);
  return {
    cameraId,
    near: name(near),
    far: name(far),
    nearest: nearest && { distanceM: nearest.distanceM, name: name(nearest.placementId) ?? 'something' },
  };
}
