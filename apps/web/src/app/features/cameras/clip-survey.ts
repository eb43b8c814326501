import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { CameraState, Project } from '@arvex/core';
import type { Survey } from '@arvex/stage';
import { viewOf } from '@arvex/stage/view';
import { map } from 'rxjs';
import { Notices } from '../../data';
import { StageHost } from '../../drawing';
import { measuredAtRest, Playhead, Tried, Viewpoint } from '../../session';

/** What lies in a camera's frame: names of what the clip distances cut, the nearest thing, and what covers all. */
export interface Surveyed {
  readonly cameraId: string;
  readonly near: string | undefined;
  readonly far: string | undefined;
  readonly nearest: SeenThing | undefined;
  /** What stands so near that nothing else is seen, and is not sharp either: a lens in a wall, or against it. */
  readonly covered: SeenThing | undefined;
}

interface SeenThing {
  readonly distanceM: number;
  readonly name: string;
}

/** Looks, when the camera rests, at what only the set can tell: what the clips cut, and what is nearest. */
@Injectable({ providedIn: 'root' })
export class ClipSurvey {
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);
  private readonly tried = inject(Tried);

  /** What was seen last. */
  readonly seen = signal<Surveyed | undefined>(undefined);

  constructor() {
    const looked = computed(() => {
      const [project, state] = [this.viewpoint.drawnProject(), this.viewpoint.throughState()];
      const busy = this.playhead.playing() || this.host.loading() || this.tried.dragging();
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

function named(project: Project, { cameraId, focus }: CameraState, { near, far, nearest, filledBy }: Survey): Surveyed {
  const name = (id: string | undefined) => (id === undefined ? undefined : project.placements[id]?.name);
  const seen = nearest && { distanceM: nearest.distanceM, name: name(nearest.placementId) ?? 'something' };
  return {
    cameraId,
    near: name(near),
    far: name(far),
    nearest: seen,
    // What the near clip cuts is not seen, so it does not cover anything.
    covered: filledBy !== undefined && near === undefined && seen && seen.distanceM < focus.nearM ? seen : undefined,
  };
}
