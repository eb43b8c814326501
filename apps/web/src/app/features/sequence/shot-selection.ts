import { computed, inject, Injectable, signal } from '@angular/core';
import type { CutShot } from '@arvex/core';
import { shotAtFrame } from '@arvex/core';
import { OpenSequence, Playhead } from '../../session';

/** Which shots are chosen; without any it is the one at the playhead that is worked on. */
@Injectable({ providedIn: 'root' })
export class ShotSelection {
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  private readonly picked = signal<readonly string[]>([]);

  /** Chosen shots that are there, in the order of the cut. */
  readonly ids = computed<readonly string[]>(() => {
    const picked = new Set(this.picked());
    if (picked.size === 0) return [];
    return this.open.cut().shots.flatMap(({ shot }) => (picked.has(shot.id) ? [shot.id] : []));
  });

  /** The shot at the playhead of the cut; of a camera looked through alone, its first shot. In a gap the one after it. */
  readonly current = computed<CutShot | undefined>(() => {
    const seen = this.playhead.glance();
    const cut = this.open.cut();
    if (seen?.mode !== 'camera') return shotAtFrame(cut, seen?.frame ?? 0);
    return cut.shots.find(({ shot }) => shot.cameraId === seen.cameraId);
  });

  /** What an action works on. */
  readonly acted = computed<readonly string[]>(() => {
    const [ids, current] = [this.ids(), this.current()];
    return ids.length > 0 ? ids : current ? [current.shot.id] : [];
  });

  /** Chooses one shot; with `more` it comes to those that are, or goes; with `through` all up to it. */
  choose(shotId: string, how: 'alone' | 'more' | 'through' = 'alone'): void {
    const ids = this.ids();
    if (how === 'alone') this.picked.set([shotId]);
    else if (how === 'more') {
      this.picked.set(ids.includes(shotId) ? ids.filter((id) => id !== shotId) : [...ids, shotId]);
    } else {
      const all = this.open.cut().shots.map(({ shot }) => shot.id);
      const [from, to] = [all.indexOf(ids[0] ?? shotId), all.indexOf(shotId)];
      this.picked.set(all.slice(Math.min(from, to), Math.max(from, to) + 1));
    }
  }

  /** Chooses these and no others. */
  chooseThese(shotIds: readonly string[]): void {
    this.picked.set(shotIds);
  }

  chooseAll(): void {
    this.picked.set(this.open.cut().shots.map(({ shot }) => shot.id));
  }

  clear(): void {
    this.picked.set([]);
  }
}
