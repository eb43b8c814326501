import { inject, Injectable } from '@angular/core';
import { Subject } from 'rxjs';
import { Workspace } from '../../session';

/** How much of the cut the lanes are asked to show: the shots in hand, or all of it. */
export type LaneExtent = 'shots' | 'cut';

/** Asks the lanes, whichever view they are in, to show a part of the cut. */
@Injectable({ providedIn: 'root' })
export class LaneLook {
  private readonly workspace = inject(Workspace);
  readonly asked$ = new Subject<LaneExtent>();

  show(extent: LaneExtent): void {
    this.workspace.show('lanes');
    this.asked$.next(extent);
  }
}
