import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import {
  CoreError,
  frameAtTimecode,
  handlesOf,
  moveShots,
  setContinues,
  setLength,
  setScene,
  setSceneStart,
  setShot,
} from '@arvex/core';
import { Notices } from '../../../data';
import { Card, ChoiceField, IconButton, NameField, NumberField, Switch } from '../../../ui';
import type { Pulled } from '../cut-drag';
import { CutDrag } from '../cut-drag';
import { ShotBench } from '../shot-bench';

/** Whom a shot looks through, when in the scene, how long, and what it has beyond its ends. */
@Component({
  selector: 'arvex-shot-card',
  imports: [Card, ChoiceField, IconButton, NameField, NumberField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './shot-card.html',
})
export class ShotCard {
  protected readonly bench = new ShotBench();
  protected readonly drag = inject(CutDrag);
  private readonly notices = inject(Notices);
  protected readonly timeChoices = [
    {
      id: 'goes-on',
      name: 'goes on',
      hint: 'Begins where the shot before it ends in the scene, whatever happens to that one',
    },
    { id: 'own', name: 'its own', hint: 'Begins at a scene time of its own' },
  ] as const;

  protected readonly goesOn = computed(() => {
    const placed = this.bench.placed();
    return placed !== undefined && placed.index > 0 && placed.shot.continues;
  });
  protected readonly handles = computed(() => {
    const [project, shot] = [this.bench.project(), this.bench.shot()];
    return project && shot ? handlesOf(project, shot) : { inFrames: 0, outFrames: 0 };
  });
  protected readonly ownHandles = computed(
    () => this.bench.shot()?.handleInFlicks !== null || this.bench.shot()?.handleOutFlicks !== null,
  );
  protected readonly summary = computed(() => {
    const placed = this.bench.placed();
    if (!placed) return '';
    return `${this.bench.camera()?.name ?? (placed.shot.insideId ? 'a sequence' : 'no camera')} · ${this.bench.sceneTime(placed.sceneStartFlicks)}`;
  });

  /** By how many frames the buttons below move an end, a joint or the shot. */
  protected readonly by = signal(1);
  protected readonly pulls: readonly { readonly pulled: Pulled; readonly name: string; readonly hint: string }[] = [
    { pulled: 'start', name: 'start', hint: 'Its beginning, so many frames later' },
    { pulled: 'end', name: 'end', hint: 'Its end, so many frames later' },
    { pulled: 'joint', name: 'roll', hint: 'The joint before it, so many frames later' },
    { pulled: 'slips', name: 'slip', hint: 'What it shows, so many frames later in the scene' },
    { pulled: 'slides', name: 'slide', hint: 'The shot between its neighbours, so many frames later' },
  ];

  protected pull(pulled: Pulled): void {
    const id = this.bench.shot()?.id;
    // Pulled to the right by hand, a slipped shot shows what came earlier.
    if (id !== undefined) this.drag.by(pulled, [id], Math.round(pulled === 'slips' ? -this.by() : this.by()));
  }

  /** Of all that are chosen. */
  protected setScene(scene: string): void {
    this.bench.edits.run((project) => setScene(project, this.bench.selection.acted(), scene.trim()));
  }

  protected setCamera(cameraId: string): void {
    this.bench.set('Camera', { cameraId, lostCamera: '' });
  }

  protected setTime(text: string): void {
    try {
      const frame = frameAtTimecode(text, this.bench.rate());
      this.bench.edit((project, id) => setSceneStart(project, id, this.bench.flicks(frame)));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
    }
  }

  protected setGoesOn(goesOn: boolean): void {
    this.bench.edit((project, id) => setContinues(project, id, goesOn));
  }

  protected setFrames(frames: number): void {
    const how = { ripple: this.drag.ripple() };
    this.bench.edit((project, id) => setLength(project, id, Math.round(frames), how));
  }

  protected setHandle(side: 'in' | 'out', frames: number): void {
    const flicks = this.bench.flicks(frames);
    const parts = side === 'in' ? { handleInFlicks: flicks } : { handleOutFlicks: flicks };
    this.bench.edit((project, id) => setShot(project, id, 'Handles', parts));
  }

  protected followHandles(): void {
    this.bench.set('Handles as the sequence', { handleInFlicks: null, handleOutFlicks: null });
  }

  protected move(by: number): void {
    const placed = this.bench.placed();
    if (placed) this.bench.edits.run((project) => moveShots(project, [placed.shot.id], placed.index + by));
    const moved = this.bench.open.cut().shots.find(({ shot }) => shot.id === placed?.shot.id);
    if (moved) this.bench.playhead.goTo(moved.startFrame);
  }
}
