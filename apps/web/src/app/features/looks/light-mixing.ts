import { computed, effect, inject, Injectable, signal } from '@angular/core';
import type { GroupLevel, LevelsTime, LightMix } from '@arvex/core';
import {
  LEVEL_AS_IT_IS,
  levelsTaken,
  lightGroupsInOrder,
  lightLayers,
  MID_TONE,
  mixInForce,
  SATURATION_LUMINANCE,
  setCameraMix,
  setLevels,
  stopsToReach,
  withoutGroup,
  soloed,
  wornVariation,
} from '@arvex/core';
import type { GroupsApart } from '@arvex/stage';
import { firstValueFrom } from 'rxjs';
import { Notices, ProjectStore } from '../../data';
import { Pictures } from '../../drawing';
import { Playhead, Setting, Viewpoint, Workspace } from '../../session';
import { Meter, PictureTools } from '../cameras';
import { Looks } from './looks';

/** So many light groups are added up by themselves: each takes as much of the graphics as the picture. */
const MOST_APART = 6;
/** Of more, so many: those that change most. */
const APART_OF_MORE = 2;

/** The light mix of the edited camera: shown while it is dragged, kept, seen group by group, set from the meter. */
@Injectable({ providedIn: 'root' })
export class LightMixing {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly setting = inject(Setting);
  private readonly looks = inject(Looks);
  private readonly pictures = inject(Pictures);
  private readonly meter = inject(Meter);
  private readonly notices = inject(Notices);
  private readonly tools = inject(PictureTools);
  private readonly workspace = inject(Workspace);

  /** Levels as the edited camera is seen with them, by the groups' names. */
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
  readonly solo = this.tools.soloGroup;
  /** Whether somebody looks at mixes, and may change them. */
  private readonly looked = computed(() => {
    const open = this.workspace.openCard();
    return this.workspace.step() === 'cameras' && (open === 'light' || open === 'variations');
  });
  /** How often each group was changed. */
  private readonly changes = signal<Readonly<Record<string, number>>>({});

  private readonly apart = computed<GroupsApart | undefined>(
    () => {
      const project = this.store.project();
      if (!project || !this.looked()) return undefined;
      const all = lightLayers(project).map(({ id }) => id);
      if (all.length <= MOST_APART) return { apart: all, together: [] };
      const changed = (id: string | null) => (this.changes()[id ?? ''] ?? 0) + this.differing(id);
      const most = [...all].sort((a, b) => changed(b) - changed(a)).slice(0, APART_OF_MORE);
      return { apart: most, together: all.filter((id) => !most.includes(id)) };
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );

  constructor() {
    effect(() => this.pictures.groupsWanted.set(this.apart()));
    // Nobody is left with a part of the light who has looked away.
    effect(() => {
      if (!this.looked()) this.solo.set(undefined);
    });
  }

  private time(): LevelsTime {
    return { atFlicks: this.playhead.seen()?.sceneFlicks ?? 0, autoKey: this.setting.autoKey() };
  }

  /** How many levels a group has in the variations of the edited camera, beside one. */
  private differing(groupId: string | null): number {
    const { variations = {} } = this.viewpoint.camera() ?? {};
    const levels = Object.values(variations).map(({ lightMix }) => JSON.stringify(lightMix?.[groupId ?? '']));
    return new Set(levels).size;
  }

  preview(groupId: string, level: GroupLevel): void {
    const [project, dressed] = [this.store.project(), this.looks.dressed()];
    if (!project || !dressed) return;
    const { cameraId, variationId } = dressed;
    const { keyed, mix } = levelsTaken(project, dressed, { [groupId]: level }, this.time());
    const edit = setCameraMix(project, cameraId, 'Light', mix, variationId);
    this.viewpoint.preview.set({ cameraId, values: keyed, edit });
  }

  set(groupId: string, level: GroupLevel): void {
    const name = this.store.project()?.lightGroups[groupId]?.name ?? '';
    this.setAll(`Light of ${name}`, { [groupId]: level });
  }

  setAll(what: string, levels: LightMix): void {
    const [project, dressed] = [this.store.project(), this.looks.dressed()];
    if (project && dressed) {
      const edit = setLevels(project, dressed, what, levels, this.time());
      if (edit.operations.length > 0) this.store.commit(edit);
      this.changes.update((all) => {
        const more = Object.keys(levels).map((id) => [id, (all[id] ?? 0) + 1] as const);
        return { ...all, ...Object.fromEntries(more) };
      });
    }
    this.viewpoint.preview.set(undefined);
  }

  /** Sets a group so strong that the meter reads so many stops over (or under) the camera's setting, where it reads now. */
  async setFromMeter(groupId: string, overStops: number): Promise<void> {
    const [project, state, flicks] = [this.store.project(), this.viewpoint.state(), this.playhead.seen()?.sceneFlicks];
    const group = project?.lightGroups[groupId];
    if (!project || !state || !group || flicks === undefined) return;
    const { lightMix, exposure } = state;
    const level = { ...(lightMix[groupId] ?? LEVEL_AS_IT_IS), on: true };
    const alone = soloed({ ...lightMix, [groupId]: { ...level, stops: 0 } }, Object.keys(project.lightGroups), groupId);
    const own = await firstValueFrom(this.meter.luminanceWith(state, flicks, alone));
    const rest = await firstValueFrom(this.meter.luminanceWith(state, flicks, withoutGroup(lightMix, groupId)));
    const setting = MID_TONE * SATURATION_LUMINANCE * 2 ** (exposure.ev100 + exposure.ndStops);
    const stops = stopsToReach(setting * 2 ** overStops, rest, own);
    if (stops === undefined) {
      this.notices.error(
        new Error(
          own > 0
            ? `Other light alone is brighter there than that: ${group.name} can only add to it.`
            : `${group.name} does not reach what the meter reads. Read another spot.`,
        ),
      );
      return;
    }
    const tint = this.groups().find(({ id }) => id === groupId)?.level.tint ?? level.tint;
    this.set(groupId, { ...level, tint, stops: Math.round(stops * 100) / 100 });
  }
}
