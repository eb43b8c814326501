import { computed, inject, Injectable } from '@angular/core';
import { camerasInOrder, isMoving, isShown, placedAlike, placementsInOrder } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Selection, Viewpoint } from '../../session';
import { cameraColour } from '../../ui';
import { planLabels } from './plan-labels';
import type { PlanCamera, PlanPiece, PlanPoint } from './plan-shapes';
import { planPiece, planWalk } from './plan-shapes';

/** What is wider than the plan at first is the paper that the others stand on. */
const PAPER_WIDTH_M = 70;
/** What is taller than this has its name in the plan, metres. */
const TALL_M = 2.9;

/** What stands on the floor at the playhead: things, walks, cameras and their names. */
@Injectable()
export class PlanContents {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly selection = inject(Selection);
  private readonly playhead = inject(Playhead);
  readonly flicks = computed(() => this.playhead.glance()?.sceneFlicks ?? 0);

  private readonly shown = computed(() => {
    const project = this.viewpoint.placedProject();
    return project ? placementsInOrder(project).filter((placement) => isShown(project, placement)) : [];
  });
  private readonly moving = computed(() => {
    const project = this.viewpoint.placedProject();
    return project ? this.shown().filter((placement) => isMoving(project, placement)) : [];
  });
  /** What stands still is outlined once. */
  private readonly still = computed(() => {
    const project = this.viewpoint.placedProject();
    const moving = new Set(this.moving());
    return project ? this.shown().flatMap((one) => (moving.has(one) ? [] : [planPiece(project, one, 0)])) : [];
  });
  /** Things that stand on the ground, the lowest first; the ground itself is the paper. */
  readonly pieces = computed<PlanPiece[]>(() => {
    const project = this.viewpoint.placedProject();
    if (!project) return [];
    const flicks = this.flicks();
    return [...this.still(), ...this.moving().map((placement) => planPiece(project, placement, flicks))]
      .filter((piece) => piece.acrossM < PAPER_WIDTH_M)
      .sort((a, b) => a.topM - b.topM);
  });
  readonly walks = computed(() => {
    const project = this.viewpoint.placedProject();
    if (!project) return [];
    return placementsInOrder(project).flatMap((placement) => {
      const { motion, parentId } = placement;
      if (motion.kind !== 'path' || parentId !== null || !isShown(project, placement)) return [];
      return [{ placement, walk: planWalk(motion), chosen: this.selection.has(placement.id) }];
    });
  });
  /** Cameras as they are at the playhead, the one looked through last, so that it lies on top. */
  readonly cameras = computed<PlanCamera[]>(
    () => {
      const project = this.store.project();
      if (!project) return [];
      const through = this.viewpoint.camera()?.id;
      return camerasInOrder(project)
        .flatMap((camera) => {
          const state = this.viewpoint.stateOf(camera.id);
          return state ? [{ camera, state, colour: cameraColour(camera.number), current: camera.id === through }] : [];
        })
        .sort((a, b) => Number(a.current) - Number(b.current));
    },
    { equal: shownAlike },
  );
  /** Names of who and what is worth one, people first. @param perPixel metres that a pixel is wide. */
  labels(perPixel: number) {
    const named = this.pieces().filter(
      ({ placement, topM }) => placement.subject || this.selection.has(placement.id) || topM > TALL_M,
    );
    const rank = ({ placement }: PlanPiece) =>
      this.selection.has(placement.id) ? 0 : placement.subject ? (placement.piece.kind === 'figure' ? 1 : 2) : 3;
    const spots = this.cameras().map(({ state }): PlanPoint => [state.positionM[0], state.positionM[2]]);
    return planLabels(
      [...named].sort((a, b) => rank(a) - rank(b)),
      spots,
      perPixel,
      (id) => this.selection.has(id),
    );
  }
}

/** Whether cameras stand where they stood: a plan shows no look. */
function shownAlike(a: readonly PlanCamera[], b: readonly PlanCamera[]): boolean {
  const alike = (one: PlanCamera, other: PlanCamera | undefined) =>
    one.camera === other?.camera && one.current === other.current && placedAlike(one.state, other.state);
  return a.length === b.length && a.every((one, i) => alike(one, b[i]));
}
