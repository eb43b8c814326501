import { inject, Injectable } from '@angular/core';
import type { Vector } from '@arvex/core';
import { anglesToward, boxCornersAt, distanceBetween, eachAxis, rotationOf, turned } from '@arvex/core';
import { Subject } from 'rxjs';
import { ProjectStore } from '../../data';
import { FreeCamera, Selection, Workspace } from '../../session';
import { SetPieces } from './pieces';

/** Share of the view that what is framed takes up. */
const FILLS = 0.7;
const NEAREST_M = 0.5;

/** Brings the free view to where things fill it. */
@Injectable({ providedIn: 'root' })
export class FrameSelection {
  private readonly store = inject(ProjectStore);
  private readonly selection = inject(Selection);
  private readonly freeCamera = inject(FreeCamera);
  private readonly workspace = inject(Workspace);
  private readonly pieces = inject(SetPieces);

  /** Corners of what the free view is brought to, metres: other views of the set may show it too. */
  readonly framed$ = new Subject<readonly Vector[]>();

  /** Lets other views show what is chosen, and leaves the free view where it is. */
  tellOthers(): void {
    const corners = this.corners();
    if (corners.length > 0) this.framed$.next(corners);
  }

  private corners(): readonly Vector[] {
    const project = this.store.project();
    return project
      ? this.selection.placements().flatMap((one) => boxCornersAt(project, one, this.pieces.atFlicks))
      : [];
  }

  /** Backs off from what is chosen, in the direction looked in now, until all of it is in view. */
  toSelection(): void {
    const [state, corners] = [this.freeCamera.state(), this.corners()];
    if (!state || corners.length === 0) return;
    const axis = (i: 0 | 1 | 2) => corners.map((corner) => corner[i]);
    const middle = eachAxis((i) => (Math.min(...axis(i)) + Math.max(...axis(i))) / 2);
    const [x, y, z] = middle;
    const radius = Math.max(...corners.map((corner) => distanceBetween(corner, middle)));
    const half = (Math.min(state.lens.horizontalDeg, state.lens.verticalDeg) * Math.PI) / 360;
    const away = Math.max(NEAREST_M, radius / Math.sin(half * FILLS));
    const pose = this.freeCamera.pose();
    const [dx, dy, dz] = turned([0, 0, 1], rotationOf(pose));
    const eye: Vector = [x + dx * away, Math.max(0.2, y + dy * away), z + dz * away];
    this.freeCamera.pose.set({ positionM: eye, ...anglesToward(eye, [x, y, z]) });
    this.workspace.show('free');
    this.framed$.next(corners);
  }
}
