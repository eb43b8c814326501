import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { CutShot, Project, RigTrouble, RoomMet } from '@arvex/core';
import { CAMERA_BODY_M, rigRooms, rigRoomTroubles } from '@arvex/core';
import type { Observable } from 'rxjs';
import { combineLatest, map, of } from 'rxjs';
import { Notices } from '../../data';
import { StageHost } from '../../drawing';
import { measuredAtRest, OpenSequence, Tried, Workspace } from '../../session';
import { CutJudge } from './cut-judge';
import { ShotSelection } from './shot-selection';

/** Frames of a shot whose room is measured in the set, at most. */
const MOST_FRAMES = 60;

/** Whether the shot in hand could be taken so: judged whenever it changed, while somebody looks at it. */
@Injectable({ providedIn: 'root' })
export class RiggingReport {
  private readonly open = inject(OpenSequence);
  private readonly workspace = inject(Workspace);
  private readonly selection = inject(ShotSelection);
  private readonly judge = inject(CutJudge);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);
  private readonly trying = inject(Tried).cut;

  /** What was judged, and what stands against it. */
  readonly judged = signal<{ readonly shotId: string; readonly troubles: readonly RigTrouble[] } | undefined>(
    undefined,
  );
  /** Of the shot in hand; nothing while it is not judged yet. */
  readonly troubles = computed(() => {
    const [judged, id] = [this.judged(), this.selection.acted()[0]];
    return judged?.shotId === id ? judged?.troubles : undefined;
  });

  constructor() {
    const asked = computed(() => {
      const looksAt = this.workspace.step() === 'sequence' && this.workspace.openCard() === 'rigging';
      const project = looksAt && !this.trying.shown() ? this.open.project() : undefined;
      const placed = this.open.cut().shots.find(({ shot }) => shot.id === this.selection.acted()[0]);
      return project && placed && { project, placed };
    });
    toObservable(asked)
      .pipe(
        measuredAtRest(
          ({ project, placed }) => this.look(project, placed),
          (error) => this.notices.error(error),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((judged) => this.judged.set(judged));
  }

  /** What is computed of rig and lens, and what is measured in the set. */
  private look(project: Project, placed: CutShot) {
    return combineLatest([this.judge.rigging(project, placed.shot.id), this.inTheSet(project, placed)]).pipe(
      map(([computed, measured]) => ({ shotId: placed.shot.id, troubles: [...measured, ...computed] })),
    );
  }

  /** What of the set stands in the room that the camera and its rig take, measured on the stage. */
  private inTheSet(project: Project, placed: CutShot): Observable<readonly RigTrouble[]> {
    const taken = rigRooms(project, placed, MOST_FRAMES);
    if (taken.length === 0) return of([]);
    const parts = taken.flatMap((room) => room.parts.map((part) => ({ ...part, atFlicks: room.atFlicks })));
    return combineLatest([this.host.clearances(taken, CAMERA_BODY_M), this.host.crossings(parts)]).pipe(
      map(([near, crossed]) => {
        let read = 0;
        const met = taken.map((room, i): RoomMet => {
          const through = crossed.slice(read, (read += room.parts.length));
          return { near: near[i], through };
        });
        return rigRoomTroubles(project, placed, taken, met);
      }),
    );
  }
}
