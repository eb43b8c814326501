import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { CutShot, Project, RigTrouble, Vector } from '@arvex/core';
import { cameraAt, CAMERA_BODY_M, sceneTimeOf } from '@arvex/core';
import type { Observable } from 'rxjs';
import { combineLatest, map, of } from 'rxjs';
import { Notices } from '../../data';
import { StageHost } from '../../drawing';
import { measuredAtRest, OpenSequence, Workspace } from '../../session';
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
      const project = looksAt && !this.open.trial() ? this.open.project() : undefined;
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

  /** What of the set is nearer to the camera than its body is large, found by sights in all directions. */
  private inTheSet(project: Project, placed: CutShot): Observable<readonly RigTrouble[]> {
    const { cameraId } = placed.shot;
    if (cameraId === null || !project.cameras[cameraId]) return of([]);
    const step = Math.max(1, Math.ceil(placed.frameCount / MOST_FRAMES));
    const frames = Array.from({ length: Math.ceil(placed.frameCount / step) }, (_, i) => i * step);
    const places = frames.map((frame) => {
      const atFlicks = sceneTimeOf(placed, frame, project.head.rate);
      return { atFlicks, atM: cameraAt(project, cameraId, atFlicks).positionM };
    });
    return this.host.clearances(places, CAMERA_BODY_M).pipe(
      map((found) => {
        const worst = new Map<string, { awayM: number; at: number; first: number; last: number }>();
        found.forEach((near, i) => {
          const frame = frames[i] ?? 0;
          const id = near?.placementId;
          if (!near || id === undefined) return;
          const known = worst.get(id);
          const isNearer = !known || near.distanceM < known.awayM;
          worst.set(id, {
            awayM: isNearer ? near.distanceM : known.awayM,
            at: isNearer ? frame : known.at,
            first: known?.first ?? frame,
            last: frame,
          });
        });
        return [...worst].map(([id, near]): RigTrouble => {
          const number = (frame: number) => project.head.firstFrame + placed.startFrame + frame;
          const name = project.placements[id]?.name ?? 'something';
          const index = frames.indexOf(near.at);
          return {
            kind: 'too-near',
            message: `${name} is ${near.awayM.toFixed(2)} m from the camera, which takes ${CAMERA_BODY_M} m, frames ${number(near.first)} to ${number(near.last)}`,
            fromFrame: number(near.first),
            toFrame: number(near.last),
            atM: places[index]?.atM ?? ([0, 0, 0] as Vector),
            shotFrame: near.at,
          };
        });
      }),
    );
  }
}
