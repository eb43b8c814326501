import { computed, effect, inject, Injectable } from '@angular/core';
import {
  LEVEL_AS_IT_IS,
  lightLayers,
  MID_TONE,
  SATURATION_LUMINANCE,
  sceneEv,
  soloed,
  stopsToReach,
  withoutGroup,
} from '@arvex/core';
import type { GroupsApart } from '@arvex/stage';
import { firstValueFrom } from 'rxjs';
import { Notices, ProjectStore } from '../../data';
import { Pictures } from '../../drawing';
import { Playhead, Viewpoint, Workspace } from '../../session';
import { Meter, PictureTools } from '../cameras';
import { LightLevels } from './light-levels';

/** So many light groups are added up by themselves: each takes as much of the graphics as the picture. */
const MOST_APART = 6;
/** Of more, so many: those that change most. */
const APART_OF_MORE = 2;

/** The light mix of the edited camera, seen group by group and set from the meter. */
@Injectable({ providedIn: 'root' })
export class LightMixing {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);
  private readonly pictures = inject(Pictures);
  private readonly meter = inject(Meter);
  private readonly notices = inject(Notices);
  private readonly tools = inject(PictureTools);
  private readonly workspace = inject(Workspace);
  private readonly levels = inject(LightLevels);

  readonly solo = this.tools.soloGroup;
  /** Whether somebody looks at mixes, and may change them. */
  private readonly looked = computed(() => {
    const open = this.workspace.openCard();
    return this.workspace.step() === 'cameras' && (open === 'light' || open === 'variations');
  });

  private readonly apart = computed<GroupsApart | undefined>(
    () => {
      const project = this.store.project();
      if (!project || !this.looked()) return undefined;
      const all = lightLayers(project).map(({ id }) => id);
      if (all.length <= MOST_APART) return { apart: all, together: [] };
      const changed = (id: string | null) => (this.levels.changes()[id ?? ''] ?? 0) + this.differing(id);
      const most = [...all].sort((a, b) => changed(b) - changed(a)).slice(0, APART_OF_MORE);
      return { apart: most, together: all.filter((id) => !most.includes(id)) };
    },
    { equal: (a, b) => JSON.stringify(a) === JSON.stringify(b) },
  );

  constructor() {
    // `Pictures` stands below looks, and cannot ask which groups somebody works on.
    effect(() => this.pictures.groupsWanted.set(this.apart()));
    // Nobody is left with a part of the light who has looked away.
    effect(() => {
      if (!this.looked()) this.solo.set(undefined);
    });
  }

  /** How many levels a group has in the variations of the edited camera, beside one. */
  private differing(groupId: string | null): number {
    const { variations = {} } = this.viewpoint.camera() ?? {};
    const levels = Object.values(variations).map(({ lightMix }) => JSON.stringify(lightMix?.[groupId ?? '']));
    return new Set(levels).size;
  }

  /** Sets a group so strong that the meter reads so many stops over (or under) the camera's setting, where it reads now. */
  async setFromMeter(groupId: string, overStops: number): Promise<void> {
    const [project, state, flicks] = [this.store.project(), this.viewpoint.state(), this.playhead.seen()?.sceneFlicks];
    const group = project?.lightGroups[groupId];
    const dressed = this.levels.dressed();
    if (!project || !state || !group || flicks === undefined || !dressed) return;
    const { lightMix, exposure } = state;
    const level = { ...(lightMix[groupId] ?? LEVEL_AS_IT_IS), on: true };
    const tint = this.levels.groups().find(({ id }) => id === groupId)?.level.tint ?? level.tint;
    const alone = soloed({ ...lightMix, [groupId]: { ...level, stops: 0 } }, Object.keys(project.lightGroups), groupId);
    const own = await firstValueFrom(this.meter.luminanceWith(state, flicks, alone));
    const rest = await firstValueFrom(this.meter.luminanceWith(state, flicks, withoutGroup(lightMix, groupId)));
    const setting = MID_TONE * SATURATION_LUMINANCE * 2 ** sceneEv(exposure);
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
    // For the camera that was edited when it was asked, whichever is now.
    this.levels.set(groupId, { ...level, tint, stops: Math.round(stops * 100) / 100 }, dressed);
  }
}
