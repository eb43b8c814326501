import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { CutShot, Shot } from '@arvex/core';
import {
  addShot,
  camerasInOrder,
  CoreError,
  cutOf,
  deleteShot,
  flicksAtFrame,
  frameAtTimecode,
  framesPerSecond,
  moveShot,
  setShot,
  timecodeAtFrame,
} from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { Findings } from '../../readiness';
import { Playhead, Viewpoint } from '../../session';
import { cameraColour, Card, ChoiceField, IconButton, NameField, NumberField } from '../../ui';

/** Length of a new shot, seconds. */
const NEW_SHOT_S = 4;

/** The bench of the Sequence step: the shot at the playhead, and all shots in their order. */
@Component({
  selector: 'arvex-sequence-bench',
  imports: [IconButton, Card, ChoiceField, Findings, MatIcon, NameField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sequence-bench.html',
  styleUrls: ['../../ui/bench-step.scss', './sequence-bench.scss'],
})
export class SequenceBench {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  private readonly notices = inject(Notices);
  protected readonly colour = cameraColour;

  private readonly project = this.store.project;
  private readonly rate = computed(() => this.project()?.head.rate ?? { frames: 24, seconds: 1 });
  protected readonly cameras = computed(() => {
    const project = this.project();
    return project ? camerasInOrder(project).map(({ id, number, name }) => ({ id, name: `${number} ${name}` })) : [];
  });
  protected readonly shots = computed<readonly CutShot[]>(() => {
    const project = this.project();
    return project ? cutOf(project, this.playhead.sequenceId()).shots : [];
  });
  /** The shot at the playhead; while one camera is looked at alone, its first shot. */
  protected readonly current = computed(() => {
    const seen = this.playhead.seen();
    const id = seen?.shot?.id;
    return this.shots().find(({ shot }) => (seen?.mode === 'cut' ? shot.id === id : shot.cameraId === seen?.cameraId));
  });
  protected readonly index = computed(() => this.shots().findIndex((one) => one === this.current()));
  protected readonly camera = computed(() => this.project()?.cameras[this.current()?.shot.cameraId ?? '']);
  protected readonly total = computed(() => {
    const frames = this.shots().reduce((sum, { frameCount }) => sum + frameCount, 0);
    return `${this.shots().length} shots · ${frames} f · ${this.seconds(frames)}`;
  });
  protected readonly nextCamera = computed(
    () => this.viewpoint.camera() ?? this.project()?.cameras[this.cameras()[0]?.id ?? ''],
  );

  protected seconds(frames: number): string {
    return `${(frames / framesPerSecond(this.rate())).toFixed(2)} s`;
  }

  protected sceneStart({ shot }: CutShot): string {
    return timecodeAtFrame(Math.round(shot.sceneStartFlicks / flicksAtFrame(1, this.rate())), this.rate());
  }

  protected numberOf({ shot }: CutShot): number | undefined {
    return this.project()?.cameras[shot.cameraId ?? '']?.number;
  }

  protected goTo({ startFrame }: CutShot): void {
    this.playhead.toMode('cut');
    this.playhead.goTo(startFrame);
  }

  protected set(what: string, parts: Partial<Omit<Shot, 'id' | 'revision' | 'sequenceId'>>): void {
    const [project, current] = [this.project(), this.current()];
    if (project && current) this.store.commit(setShot(project, current.shot.id, what, parts));
  }

  protected setFrames(frames: number): void {
    this.set(`${Math.round(frames)} frames`, {
      durationFlicks: flicksAtFrame(Math.max(1, Math.round(frames)), this.rate()),
    });
  }

  protected setSceneStart(text: string): void {
    try {
      this.set('Scene time', { sceneStartFlicks: flicksAtFrame(frameAtTimecode(text, this.rate()), this.rate()) });
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
    }
  }

  protected move(by: number): void {
    const [project, current] = [this.project(), this.current()];
    if (!project || !current || !this.store.commit(moveShot(project, current.shot.id, this.index() + by))) return;
    const moved = this.shots().find(({ shot }) => shot.id === current.shot.id);
    if (moved) this.goTo(moved);
  }

  /** A shot of the camera looked through, after the present one; it goes on where that one ends in scene time. */
  protected add(): void {
    const [project, camera, current] = [this.project(), this.nextCamera(), this.current()];
    if (!project || !camera) return;
    const inCut = this.playhead.mode() === 'cut';
    const start =
      inCut && current
        ? current.shot.sceneStartFlicks + current.shot.durationFlicks
        : (this.playhead.seen()?.sceneFlicks ?? 0);
    const id = crypto.randomUUID();
    const durationFlicks = flicksAtFrame(Math.round(NEW_SHOT_S * framesPerSecond(this.rate())), this.rate());
    const shot = { id, cameraId: camera.id, sceneStartFlicks: start, durationFlicks };
    if (!this.store.commit(addShot(project, this.playhead.sequenceId(), { ...shot, afterId: current?.shot.id })))
      return;
    const added = this.shots().find((one) => one.shot.id === id);
    if (added) this.goTo(added);
  }

  protected delete(): void {
    const [project, current] = [this.project(), this.current()];
    if (project && current) this.store.commit(deleteShot(project, current.shot.id));
  }
}
