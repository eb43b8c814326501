import { inject, Injectable } from '@angular/core';
import type { Placement, PlacementParts, Project, Vector } from '@arvex/core';
import {
  eachAxis,
  existing,
  movedBy,
  movedParts,
  pieceSized,
  placementValuesAt,
  rootsOf,
  setPlacements,
} from '@arvex/core';
import { Selection, Tried } from '../../session';
import { SetPieces } from './pieces';

/** Moving, turning and sizing what is chosen: seen while it goes on, one edit at its end. */
@Injectable({ providedIn: 'root' })
export class PieceDrag {
  private readonly selection = inject(Selection);
  private readonly pieces = inject(SetPieces);
  private readonly trying = inject(Tried).as('pieces');

  move(delta: Vector): void {
    this.show('Move', (project, placement) => movedBy(project, placement, delta, this.pieces.atFlicks));
  }

  /** Turns by degrees, clockwise from above, each about its own foot. */
  turn(degrees: number): void {
    this.show('Turn', (_project, placement) => {
      const { pan } = placementValuesAt(placement, this.pieces.atFlicks);
      return movedParts(placement, this.pieces.atFlicks, { panDeg: pan + degrees });
    });
  }

  /** Makes the last one chosen so many times as large along its own axes. */
  size(factors: Vector): void {
    const last = this.selection.last();
    this.show('Size', (_project, placement) => {
      if (placement.id !== last?.id) return {};
      const { piece, scale } = placement;
      if (piece.kind !== 'geometry') return { piece: pieceSized(piece, factors) };
      return { scale: eachAxis((axis) => scale[axis] * factors[axis]) };
    });
  }

  /** Ends the drag: what was seen becomes one edit, or (`kept` false) nothing does. */
  end(kept: boolean): void {
    const shown = this.trying.end();
    if (kept && shown?.edit) this.pieces.edit(shown.edit);
  }

  private show(name: string, partsOf: (project: Project, placement: Placement) => PlacementParts): void {
    const ids = this.selection.placements().map(({ id }) => id);
    // Made anew from the project as it is when it is looked at: somebody else may change it meanwhile.
    const edit = (project: Project) => {
      // What is attached to another chosen thing comes along by itself.
      const roots = rootsOf(project, ids).filter((id) => project.placements[id]?.locked === false);
      const parts = new Map(roots.map((id) => [id, partsOf(project, existing(project, 'placement', id))]));
      const changed = roots.filter((id) => Object.keys(parts.get(id) ?? {}).length > 0);
      return setPlacements(project, changed, name, ({ id }) => parts.get(id) ?? {});
    };
    this.trying.show({ edit });
  }
}
