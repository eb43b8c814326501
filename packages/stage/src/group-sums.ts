import type { LightMix } from '@arvex/core';
import { lightFactor, NO_GROUP } from '@arvex/core';
import type { WebGLRenderer } from 'three';
import type { Painter, PixelSize } from './painter';
import type { LookDrawing } from './passes';
import { SampleAccumulator } from './passes';
import type { StageView } from './view';

/** Light groups that are added up by themselves, and those that stay together as one. `null` is what belongs to none. */
export interface GroupsApart {
  readonly apart: readonly (string | null)[];
  readonly together: readonly (string | null)[];
}

/** Samples of a view, each light group's by themselves: so that another light mix of it is a sum, and no new samples. */
export class GroupSums {
  private readonly sums: SampleAccumulator[] = [];
  private groups: GroupsApart = { apart: [], together: [] };

  constructor(
    private readonly renderer: WebGLRenderer,
    private readonly painter: Painter,
    private readonly looks: LookDrawing,
  ) {}

  /** Takes sample `index` of each group, beginning anew at 0. Groups that stay together burn as the view has them. */
  sample(view: StageView, size: PixelSize, index: number, groups: GroupsApart): void {
    const apart = groups.apart.filter((groupId) => this.painter.hasLightOf(groupId));
    this.groups = { ...groups, apart };
    for (const [i, groupId] of apart.entries()) {
      this.painter.sample(this.sumAt(i), view, size, index, { lit: { mix: {}, only: groupId } });
    }
    if (groups.together.length > 0) {
      this.painter.sample(this.sumAt(apart.length), view, size, index, { lit: { only: groups.together } });
    }
  }

  /** Puts what the groups come to with a mix in the place of what was added up. */
  mixInto(picture: SampleAccumulator, mix: LightMix): void {
    const { apart, together } = this.groups;
    const parts = apart.map((groupId, i) => {
      const factor = lightFactor(mix[groupId ?? NO_GROUP]);
      return { of: this.sumAt(i), factor };
    });
    if (together.length > 0) parts.push({ of: this.sumAt(apart.length), factor: [1, 1, 1] });
    picture.setSum(this.renderer, parts);
  }

  dispose(): void {
    for (const sum of this.sums) sum.dispose();
  }

  private sumAt(i: number): SampleAccumulator {
    return (this.sums[i] ??= new SampleAccumulator(this.looks));
  }
}
