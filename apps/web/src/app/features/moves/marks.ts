import { computed, inject, Injectable } from '@angular/core';
import type { Mark } from '@arvex/core';
import {
  flicksPerFrame,
  framesInFlicks,
  marksInOrder,
  moveOf,
  removeMark,
  restOf,
  sceneOfMark,
  setMark,
  setRest,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Tried, Viewpoint } from '../../session';

/** A camera comes to rest over about so long, seconds. */
const USUAL_REST_S = 0.8;

/** Marks of the camera looked through: composed poses at times. */
@Injectable({ providedIn: 'root' })
export class Marks {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly tried = inject(Tried);

  readonly marks = computed<readonly Mark[]>(() => {
    const project = this.store.project();
    const camera = this.viewpoint.camera();
    return project && camera ? marksInOrder(moveOf(project, camera.id)) : [];
  });

  /** Keeps what is seen as a mark, here and now; a trial is kept with it. */
  mark(): void {
    const [project, seen, camera] = [this.store.project(), this.playhead.seen(), this.viewpoint.camera()];
    if (!project || !seen || !camera) return;
    const values = this.tried.poseOf(camera.id);
    const kept = this.store.commit(setMark(project, camera.id, seen.sceneFlicks, crypto.randomUUID(), values));
    if (kept && values) this.tried.letPoseGo();
  }

  remove(mark: Mark): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (project && camera) this.store.commit(removeMark(project, camera.id, mark.id));
  }

  /** Lets the camera come to rest at its last mark over a usual time, or longer where it does so already. */
  settleLast(): void {
    const [project, camera, last] = [this.store.project(), this.viewpoint.camera(), this.marks().at(-1)];
    if (!project || !camera || !last) return;
    const restS = Math.max(USUAL_REST_S, restOf(moveOf(project, camera.id), last));
    this.store.commit(setRest(project, camera.id, last.id, restS));
  }

  /** Goes to the time of a mark, looking through its camera alone. */
  jump(mark: Mark): void {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    if (!project || !camera) return;
    this.playhead.lookThrough(camera.id);
    this.playhead.goTo(this.frameOf(mark));
  }

  /** Scene time at which a mark is seen, flicks: a speed curve may lead there at another time than the mark's own. */
  sceneFlicks(mark: Mark): number {
    const [project, camera] = [this.store.project(), this.viewpoint.camera()];
    return sceneOfMark(project && camera && moveOf(project, camera.id), mark);
  }

  /** Frame of scene time, counted from 0, at which a mark stands. */
  frameOf(mark: Mark): number {
    const rate = this.store.project()?.head.rate;
    return rate ? framesInFlicks(this.sceneFlicks(mark), rate) : 0;
  }

  /** The next mark after the playhead, or the last one before it. */
  jumpBy(direction: 1 | -1): void {
    const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
    const rate = this.store.project()?.head.rate;
    const near = rate ? flicksPerFrame(rate) / 2 : 0;
    const marks = this.marks();
    const next =
      direction > 0
        ? marks.find((mark) => this.sceneFlicks(mark) > flicks + near)
        : marks.findLast((mark) => this.sceneFlicks(mark) < flicks - near);
    if (next) this.jump(next);
  }
}
