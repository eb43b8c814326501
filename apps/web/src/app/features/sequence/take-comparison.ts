import { computed, inject, Injectable, signal } from '@angular/core';
import type { CutShot } from '@arvex/core';
import { sceneTimeOf } from '@arvex/core';
import { OpenSequence, Playhead } from '../../session';

/** What is seen of a take at the playhead. */
export interface SeenTake {
  readonly name: string;
  readonly cameraId: string | null;
  readonly sceneFlicks: number;
}

/** Two takes of a shot side by side at the playhead: the one in the cut, and one that waits. */
@Injectable({ providedIn: 'root' })
export class TakeComparison {
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly asked = signal<{ readonly shotId: string; readonly takeId: string } | undefined>(undefined);

  /** The one in the cut and the other, while the playhead is in their shot. */
  readonly pair = computed<readonly [SeenTake, SeenTake] | undefined>(() => {
    const [asked, project] = [this.asked(), this.open.project()];
    const placed = this.open.cut().shots.find(({ shot }) => shot.id === asked?.shotId);
    const take = placed?.shot.takes.find(({ id }) => id === asked?.takeId);
    if (!project || !placed || !take || this.playhead.mode() !== 'cut') return undefined;
    const frame = (this.playhead.seen()?.frame ?? 0) - placed.startFrame;
    if (frame < 0 || frame >= placed.frameCount) return undefined;
    const { rate } = project.head;
    const other: CutShot = {
      ...placed,
      shot: { ...placed.shot, retime: take.retime },
      sceneStartFlicks: take.sceneStartFlicks,
    };
    return [
      { name: placed.shot.takeName, cameraId: placed.shot.cameraId, sceneFlicks: sceneTimeOf(placed, frame, rate) },
      { name: take.name, cameraId: take.cameraId, sceneFlicks: sceneTimeOf(other, frame, rate) },
    ];
  });
  readonly takeId = computed(() => (this.pair() ? this.asked()?.takeId : undefined));

  toggle(shotId: string, takeId: string): void {
    this.asked.set(this.takeId() === takeId ? undefined : { shotId, takeId });
  }

  end(): void {
    this.asked.set(undefined);
  }
}
