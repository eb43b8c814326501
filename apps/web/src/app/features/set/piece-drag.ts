import { inject, Injectable } from '@angular/core';
import type { Placement, PlacementParts, Project, Vector } from '@arvex/core';
import { eachAxis, movedBy, movedParts, pieceSized, placementValuesAt, rootsOf, setPlacements } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Selection, Viewpoint } from '../../session';
import { SetPieces } from './pieces';

/** Moving, turning and sizing what is chosen: seen while it goes on, one edit at its end. */
@Injectable({ providedIn: 'root' })
export class PieceDrag {
  private readonly store = inject(ProjectStore);
  private readonly selection = inject(Selection);
  private readonly viewpoint = inject(Viewpoint);
  private readonly pieces = inject(SetPieces);
  private name = 'Move';

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
    const preview = this.viewpoint.piecePreview();
    this.viewpoint.piecePreview.set(undefined);
    if (!kept || !preview) return;
    const ids = Object.keys(preview).filter((id) => Object.keys(preview[id] ?? {}).length > 0);
    if (ids.length > 0)
      this.pieces.edit((project) => setPlacements(project, ids, this.name, ({ id }) => preview[id] ?? {}));
  }

  private show(name: string, partsOf: (project: Project, placement: Placement) => PlacementParts): void {
    const project = this.store.project();
    if (!project) return;
    this.name = name;
    // What is attached to another chosen thing comes along by itself.
    const roots = new Set(rootsOf(project, this.selection.ids()));
    const free = this.selection.placements().filter((one) => !one.locked && roots.has(one.id));
    this.viewpoint.piecePreview.set(Object.fromEntries(free.map((one) => [one.id, partsOf(project, one)])));
  }
}
