import { inject, Injectable, signal } from '@angular/core';
import type { Edit, PieceOffer, Placement, Project, Vector } from '@arvex/core';
import {
  anglesToward,
  arrayPlacements,
  attachPlacements,
  boxCornersAt,
  CoreError,
  deletePlacements,
  duplicatePlacements,
  groupPlacements,
  movedBy,
  placementAt,
  putPiece,
  rootsOf,
  setOf,
  setPlacement,
  setPlacements,
  ungroup,
  withAttached,
} from '@arvex/core';
import type { Picked } from '@arvex/stage';
import { Notices, ProjectStore } from '../../data';
import { StageHost } from '../../drawing';
import { FreeCamera, Playhead, Selection, SnapGrid, Viewpoint } from '../../session';

/** A surface steeper than this is a wall, not a floor: the upward part of its normal. */
const WALL_NORMAL = 0.5;
/** How far a copy stands beside what it was made of, metres. */
const COPY_STEP_M = 1;
const OFF_THE_WALL_M = 0.02;
const GROUND_SEARCH_M = 2000;

/** How far ahead a piece is put by the keyboard at most, metres. */
const AHEAD_M = 6;
/** Height at which a lamp that is put on the ground hangs: over heads. */
const LAMP_M = 2.2;

/** A lamp hangs where it lights something; all else stands on its foot. */
function raisedM([x, y, z]: Vector, { piece }: PieceOffer): Vector {
  return [x, piece.kind === 'practical' ? y + LAMP_M : y, z];
}

/** Putting pieces in the set, and what is done to those that are chosen. */
@Injectable({ providedIn: 'root' })
export class SetPieces {
  private readonly store = inject(ProjectStore);
  private readonly selection = inject(Selection);
  private readonly playhead = inject(Playhead);
  private readonly snapGrid = inject(SnapGrid);
  private readonly host = inject(StageHost);
  private readonly notices = inject(Notices);
  private readonly viewpoint = inject(Viewpoint);
  private readonly freeCamera = inject(FreeCamera);

  /** The piece that the next click on a surface puts there. */
  readonly putting = signal<PieceOffer | undefined>(undefined);
  /** Whether the next thing clicked carries what is chosen. */
  readonly attaching = signal(false);

  get atFlicks(): number {
    return this.playhead.seen()?.sceneFlicks ?? 0;
  }

  /** Puts the piece in hand where a surface was clicked; `more` keeps it in hand for another one. */
  put(picked: Pick<Picked, 'pointM' | 'normal'>, more: boolean, offer = this.putting()): void {
    const project = this.store.project();
    const setId = project && setOf(project)?.id;
    if (!project || !offer || setId === undefined) return;
    const [x, y, z] = picked.pointM;
    const [nx, ny, nz] = picked.normal;
    const onWall = Math.abs(ny) < WALL_NORMAL && (offer.piece.kind === 'card' || offer.piece.kind === 'practical');
    const position: Vector = onWall
      ? [x + nx * OFF_THE_WALL_M, y, z + nz * OFF_THE_WALL_M]
      : [this.snapGrid.length(x), y, this.snapGrid.length(z)];
    const at = onWall ? position : raisedM(position, offer);
    // A card on a wall shows its face (+Z) away from it; a figure looks at whoever puts it there.
    const panDeg = onWall
      ? anglesToward([0, 0, 0], [-nx, 0, -nz]).panDeg
      : offer.piece.kind === 'figure'
        ? this.towardEye(position)
        : 0;
    const id = crypto.randomUUID();
    if (this.store.commit(putPiece(project, setId, id, offer, at, panDeg))) this.selection.set(id);
    // What somebody took in hand meanwhile stays there.
    if (!more && this.putting() === offer) this.putting.set(undefined);
  }

  /** Degrees by which what stands at a place looks at the camera looked through, or at the free view where there is none. */
  private towardEye(at: Vector): number {
    const { positionM } = this.viewpoint.throughState() ?? this.freeCamera.pose();
    return Math.round(anglesToward(at, [positionM[0], at[1], positionM[2]]).panDeg);
  }

  /** Puts the piece in hand on the ground in the middle of what is looked at: for those who do not point. */
  async putAhead(): Promise<void> {
    const { positionM, panDeg, tiltDeg } = this.viewpoint.throughState() ?? this.freeCamera.pose();
    const pan = (panDeg * Math.PI) / 180;
    const down = tiltDeg < -2 ? positionM[1] / Math.tan((-tiltDeg * Math.PI) / 180) : AHEAD_M;
    const away = Math.max(1, Math.min(AHEAD_M, down));
    await this.putOnGround(positionM[0] + Math.sin(pan) * away, positionM[2] - Math.cos(pan) * away, false);
  }

  /** A click met no ground. */
  noGround(): void {
    this.notices.done('There is no ground where you clicked. Click below the horizon, or in the plan.');
  }

  /** Puts the piece in hand on the ground at a place of the plan. */
  async putOnGround(x: number, z: number, more: boolean): Promise<void> {
    const [offer, projectId] = [this.putting(), this.store.project()?.head.id];
    const hit = await this.host.cast([x, GROUND_SEARCH_M / 2, z], [0, -1, 0], GROUND_SEARCH_M);
    if (this.store.project()?.head.id !== projectId) return;
    this.put({ pointM: [x, hit?.pointM[1] ?? 0, z], normal: [0, 1, 0] }, more, offer);
  }

  /** What a click on a thing does: chooses it, or attaches what is chosen to it. */
  clicked(placementId: string | undefined, more: boolean): void {
    if (!this.attaching()) {
      this.selection.pick(placementId, more);
      return;
    }
    this.attaching.set(false);
    if (placementId !== undefined) this.attachTo(placementId);
  }

  attachTo(parentId: string | null): void {
    const ids = this.selection.ids().filter((id) => id !== parentId);
    this.edit((project) => attachPlacements(project, ids, parentId, this.atFlicks));
  }

  duplicate(): void {
    const before = new Set(Object.keys(this.store.project()?.placements ?? {}));
    const made = this.edit((project) =>
      duplicatePlacements(project, this.selection.ids(), () => crypto.randomUUID(), [COPY_STEP_M, 0, COPY_STEP_M]),
    );
    if (!made) return;
    const roots = Object.values(this.store.project()?.placements ?? {}).filter(
      ({ id, parentId }) => !before.has(id) && (parentId === null || before.has(parentId)),
    );
    this.selection.set(...roots.map(({ id }) => id));
  }

  array(count: number, stepM: Vector): void {
    this.edit((project) => arrayPlacements(project, this.selection.ids(), () => crypto.randomUUID(), count, stepM));
  }

  group(): void {
    const id = crypto.randomUUID();
    if (this.edit((project) => groupPlacements(project, this.selection.ids(), id))) this.selection.set(id);
  }

  ungroup(groupId: string): void {
    const members = Object.values(this.store.project()?.placements ?? {}).filter((one) => one.parentId === groupId);
    if (this.edit((project) => ungroup(project, groupId))) this.selection.set(...members.map(({ id }) => id));
  }

  /** Takes what is chosen out; what is locked stays, and says so. */
  delete(): void {
    const ids = this.selection.ids();
    if (ids.length > 0) this.edit((project) => deletePlacements(project, ids));
  }

  toggle(placement: Placement, what: 'visible' | 'locked'): void {
    const words = { visible: ['Hide', 'Show'], locked: ['Unlock', 'Lock'] }[what];
    const next = !placement[what];
    this.edit((project) => setPlacement(project, placement.id, words[Number(next)] ?? '', { [what]: next }));
  }

  /** Lets what is chosen fall onto what is under it. */
  async dropToGround(): Promise<void> {
    const project = this.store.project();
    const chosen = this.selection.placements().filter((one) => !one.locked);
    if (!project || chosen.length === 0) return;
    const ids = chosen.map(({ id }) => id);
    const roots = new Set(rootsOf(project, ids));
    const placements = chosen.filter(({ id }) => roots.has(id));
    const falls = new Map<string, number>();
    for (const placement of placements) {
      const corners = boxCornersAt(project, placement, this.atFlicks);
      const heights = corners.map((corner) => corner[1]);
      const [x, , z] = placementAt(project, placement.id, this.atFlicks).positionM;
      const except = withAttached(project, placement.id).map(({ id }) => id);
      const top = Math.max(...heights);
      const hit = await this.host.cast([x, top + 0.01, z], [0, -1, 0], GROUND_SEARCH_M, except);
      falls.set(placement.id, (hit?.pointM[1] ?? 0) - Math.min(...heights));
    }
    // What was moved or taken out while the ground was looked for stays as it is now.
    const unchanged = (id: string, now: Project) => now.placements[id] === project.placements[id];
    this.edit((now) => {
      const left = [...falls.keys()].filter((id) => unchanged(id, now));
      return setPlacements(now, left, 'Drop to ground:', (one) =>
        movedBy(now, one, [0, falls.get(one.id) ?? 0, 0], this.atFlicks),
      );
    });
  }

  /** Makes an edit; what cannot be done is said. @returns whether it was made. */
  edit(make: (project: Project) => Edit): boolean {
    const project = this.store.project();
    if (!project) return false;
    try {
      return this.store.commit(make(project));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return false;
    }
  }
}
