import { computed, inject, Injectable, signal } from '@angular/core';
import type { ShotFacts } from '@arvex/core';
import { foundShots, sceneRuns, shotFacts } from '@arvex/core';
import { remembered } from '../../data';
import { OpenSequence } from '../../session';
import * as z from 'zod';

/** The head of a scene, at its first shot. */
export interface SceneHead {
  readonly name: string;
  readonly shotIds: readonly string[];
  readonly frames: number;
  /** Its first shot stands for all of them. */
  readonly folded: boolean;
}

/** A shot as board and list show it. */
export interface ShownShot {
  readonly facts: ShotFacts;
  readonly head: SceneHead | undefined;
}

/** Which shots the board and the list show: those that are found, a folded scene as one. */
@Injectable()
export class ShownShots {
  private readonly open = inject(OpenSequence);
  readonly typed = signal('');
  private readonly folded = remembered('folded-scenes', z.array(z.string()), []);

  readonly facts = computed(() => {
    const project = this.open.project();
    return project ? shotFacts(project, this.open.id()) : [];
  });
  readonly found = computed(() => foundShots(this.facts(), this.typed()));
  private readonly scenes = computed(() => sceneRuns(this.found().map(({ placed }) => placed)));
  readonly hasScenes = computed(() => this.facts().some(({ placed }) => placed.shot.scene !== ''));
  readonly anyFolded = computed(() => this.scenes().some(({ name }) => this.isFolded(name)));

  /** In the order of the cut. */
  readonly shown = computed<readonly ShownShot[]>(() => {
    const facts = new Map(this.found().map((one) => [one.placed.shot.id, one]));
    return this.scenes().flatMap(({ name, shots }) =>
      shots.flatMap(({ shot }, i): ShownShot[] => {
        const own = facts.get(shot.id);
        const folded = this.isFolded(name);
        if (!own || (folded && i > 0)) return [];
        const frames = shots.reduce((sum, { frameCount }) => sum + frameCount, 0);
        const shotIds = shots.map((one) => one.shot.id);
        return [{ facts: own, head: i === 0 && name !== '' ? { name, shotIds, frames, folded } : undefined }];
      }),
    );
  });

  fold(name: string): void {
    const key = this.keyOf(name);
    this.folded.update((keys) => (keys.includes(key) ? keys.filter((one) => one !== key) : [...keys, key]));
  }

  /** Folds all scenes of this sequence, or opens them. */
  foldAll(): void {
    const keys = new Set(this.scenes().map(({ name }) => this.keyOf(name)));
    const others = this.folded().filter((key) => !keys.has(key));
    this.folded.set(this.anyFolded() ? others : [...others, ...keys]);
  }

  /** While something is looked for, every shot that is found is shown. */
  private isFolded(name: string): boolean {
    return name !== '' && this.typed() === '' && this.folded().includes(this.keyOf(name));
  }

  private keyOf(name: string): string {
    return `${this.open.id()} ${name}`;
  }
}
