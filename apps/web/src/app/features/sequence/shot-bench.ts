import { computed, inject } from '@angular/core';
import type { Edit, Project, Shot } from '@arvex/core';
import { camerasInOrder, flicksAtFrame, framesInFlicks, framesPerSecond, setShot, timecodeAtFrame } from '@arvex/core';
import { ProjectStore } from '../../data';
import { OpenSequence, Playhead, Units, Viewpoint } from '../../session';
import { CutEdits } from './cut-edits';
import { ShotSelection } from './shot-selection';

const USUAL_RATE = { frames: 24, seconds: 1 };

/** What every card about the shot in hand works with. Needs an injection context. */
export class ShotBench {
  readonly store = inject(ProjectStore);
  readonly open = inject(OpenSequence);
  readonly playhead = inject(Playhead);
  readonly viewpoint = inject(Viewpoint);
  readonly units = inject(Units);
  readonly edits = inject(CutEdits);
  readonly selection = inject(ShotSelection);

  readonly project = this.store.project;
  readonly rate = computed(() => this.project()?.head.rate ?? USUAL_RATE);
  /** The chosen shot, or the one at the playhead. */
  readonly placed = computed(() => {
    const [id] = this.selection.acted();
    return this.open.cut().shots.find(({ shot }) => shot.id === id);
  });
  readonly shot = computed(() => this.placed()?.shot);
  readonly camera = computed(() => this.project()?.cameras[this.shot()?.cameraId ?? '']);
  readonly cameras = computed(() => {
    const project = this.project();
    return project ? camerasInOrder(project).map(({ id, number, name }) => ({ id, name: `${number} ${name}` })) : [];
  });

  frames(flicks: number): number {
    return framesInFlicks(flicks, this.rate());
  }

  flicks(frames: number): number {
    return flicksAtFrame(Math.round(frames), this.rate());
  }

  seconds(frames: number): string {
    return `${(frames / framesPerSecond(this.rate())).toFixed(2)} s`;
  }

  /** A scene time as timecode. */
  sceneTime(flicks: number): string {
    return timecodeAtFrame(this.frames(flicks), this.rate());
  }

  /** Makes an edit of the shot in hand. */
  edit(make: (project: Project, shotId: string) => Edit | undefined): void {
    const id = this.shot()?.id;
    if (id !== undefined) this.edits.run((project) => make(project, id));
  }

  set(what: string, parts: Partial<Omit<Shot, 'id' | 'revision' | 'sequenceId'>>): void {
    this.edit((project, id) => setShot(project, id, what, parts));
  }
}
