import { computed, inject, Injectable, signal } from '@angular/core';
import type { Dressed, GroupLevel, LevelsTime, LightMix, Project } from '@arvex/core';
import {
  LEVEL_AS_IT_IS,
  levelsTaken,
  lightGroupsInOrder,
  mixInForce,
  setCameraMix,
  setLevels,
  wornVariation,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { LOOKS, Playhead, Setting, Tried, Viewpoint } from '../../session';
import { Looks } from './looks';

/** Levels of the light groups as the edited camera sees them: shown while they are dragged, keyed or kept. */
@Injectable({ providedIn: 'root' })
export class LightLevels {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly setting = inject(Setting);
  private readonly looks = inject(Looks);
  private readonly trying = inject(Tried).as(LOOKS);

  /** Levels by the groups' names, in their order. */
  readonly groups = computed(() => {
    const [project, state] = [this.store.project(), this.viewpoint.state()];
    if (!project || !state) return [];
    const camera = this.viewpoint.drawnProject()?.cameras[state.cameraId];
    const set = camera && mixInForce(project, camera, wornVariation(camera, this.viewpoint.variationId()));
    return lightGroupsInOrder(project).map(({ id, name }) => {
      const level = state.lightMix[id] ?? LEVEL_AS_IT_IS;
      // Keys have a share of the tint that is set.
      return { id, name, level: { ...level, tint: set?.[id]?.tint ?? level.tint } };
    });
  });
  private readonly counts = signal<Readonly<Record<string, number>>>({});
  /** How often each group was changed. */
  readonly changes = this.counts.asReadonly();

  /** Shows a level while it is dragged. */
  preview(groupId: string, level: GroupLevel): void {
    const [project, dressed] = [this.store.project(), this.looks.dressed()];
    if (!project || !dressed) return;
    const { cameraId, variationId } = dressed;
    const { keyed, mix } = levelsTaken(project, dressed, { [groupId]: level }, this.time());
    const edit = (now: Project) => setCameraMix(now, cameraId, 'Light', mix, variationId);
    this.trying.show({ cameraId, values: keyed, ...(Object.keys(mix).length > 0 && { edit }) });
  }

  /** The edited camera as it is dressed. */
  readonly dressed = this.looks.dressed;

  set(groupId: string, level: GroupLevel, dressed = this.dressed()): void {
    const name = this.store.project()?.lightGroups[groupId]?.name ?? '';
    this.setAll(`Light of ${name}`, { [groupId]: level }, dressed);
  }

  /** Sets several as one act. @param dressed the camera they are meant for; the one that is edited when left out. */
  setAll(what: string, levels: LightMix, dressed = this.looks.dressed()): void {
    const time = this.time();
    const began = this.trying.shown()?.cameraId;
    // Another camera may be edited since a drag began: it is not meant.
    if (!dressed || (began !== undefined && began !== dressed.cameraId)) return this.endPreview();
    void this.looks.mayChange(dressed).then((meant) => this.made(what, levels, meant, time));
  }

  private made(what: string, levels: LightMix, dressed: Dressed | undefined, time: LevelsTime): void {
    const project = this.store.project();
    if (project && dressed && project.cameras[dressed.cameraId]) {
      const edit = setLevels(project, dressed, what, levels, time);
      if (edit.operations.length > 0) this.store.commit(edit);
      this.counts.update((all) => {
        const more = Object.keys(levels).map((id) => [id, (all[id] ?? 0) + 1] as const);
        return { ...all, ...Object.fromEntries(more) };
      });
    }
    this.endPreview();
  }

  private endPreview(): void {
    this.trying.end();
  }

  private time(): LevelsTime {
    return { atFlicks: this.playhead.seen()?.sceneFlicks ?? 0, autoKey: this.setting.autoKey() };
  }
}
