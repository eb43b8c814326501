import type { Vector } from '@arvex/core';
import { inject, Injectable } from '@angular/core';
import { anglesToward, boxCornersAt, rotationOf, turned, eachAxis, distanceBetween } from '@arvex/core';
import { PieceMaking } from './pieces';
import { ProjectStore } from '../../data';
import { Selection } from '../../session';
import { Viewing } from '../../session';

/** Share of the view that what is framed takes up. */
const FILLS = 0.7;
const NEAREST_M = 0.5;

/** Brings the free view to where things fill it. */
@Injectable({ providedIn: 'root' })
export class Framing {
  private readonly store = inject(ProjectStore);
  private readonly selection = inject(Selection);
  private readonly viewing = inject(Viewing);
  private readonly making = inject(PieceMaking);

  /** Backs off from what is chosen, in the direction looked in now, until all of it is in view. */
  toSelection(): void {
    const [project, state] = [this.store.project(), this.viewing.freeState()];
    const corners = project
      ? this.selection.placements().flatMap((one) => boxCornersAt(project, one, this.making.atFlicks))
      : [];
    if (!state || corners.length === 0) return;
    const axis = (i: 0 | 1 | 2) => corners.map((corner) => corner[i]);
    const middle = eachAxis((i) => (Math.min(...axis(i)) + Math.max(...axis(i))) / 2);
    const [x, y, z] = middle;
    const radius = Math.max(...corners.map((corner) => distanceBetween(corner, middle)));
    const half = (Math.min(state.lens.horizontalDeg, state.lens.verticalDeg) * Math.PI) / 360;
    const away = Math.max(NEAREST_M, radius / Math.sin(half * FILLS));
    const pose = this.viewing.freePose();
    const [dx, dy, dz] = turned([0, 0, 1], rotationOf(pose));
    const eye: Vector = [x + dx * away, Math.max(0.2, y + dy * away), z + dz * away];
    this.viewing.freePose.set({ positionM: eye, ...anglesToward(eye, [x, y, z]) });
    this.viewing.show('free');
  }
}
