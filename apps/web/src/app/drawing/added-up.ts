import type { GroupsApart, StageView } from '@arvex/stage';
import { sameButLightMix, sameSamples } from '@arvex/stage/view';
import type { PixelSize } from './page-canvas';

/** Samples that stand on the stage: of which view, of what size, and how many. */
interface Added<T> {
  readonly of: T;
  readonly view: StageView;
  readonly size: PixelSize;
  readonly count: number;
  /** Whether it is the sum of light groups. */
  readonly isMixed?: boolean;
}

/** Samples of a picture that stand for the whole of it: two light what lies flat as the whole sky does. */
const ENOUGH = 2;

/**
 * What the stage has added up of a view, as a whole and for each light group by itself: whatever else changes than its samples is shown
 * from there, without drawing the set.
 */
export class AddedUp<T> {
  private whole: Added<T> | undefined;
  private groups: (Added<T> & { readonly groups: GroupsApart }) | undefined;

  /** @param hasAsFiled whether anything in the set shines as bright as its file, whatever the exposure. */
  constructor(private readonly hasAsFiled: () => boolean) {}

  /** The stage holds other things, or graphics are gone: nothing of it counts any more. */
  forget(): void {
    this.whole = undefined;
    this.groups = undefined;
  }

  /** A sample of the whole view was taken. */
  added(of: T, view: StageView, size: PixelSize, count: number): void {
    this.whole = { of, view, size, count };
  }

  /** How a view can be shown at once: from the whole sum, from its light groups, or not. */
  ways(of: T, view: StageView, size: PixelSize): 'redevelop' | 'remix' | undefined {
    const { groups, whole } = this;
    const same = this.isThere(whole, of, size) && sameSamples(whole.view, view, this.hasAsFiled());
    // What is made of light groups gets finer with them.
    if (same && !(whole.isMixed && (groups?.count ?? 0) > whole.count)) return 'redevelop';
    if (!this.isThere(groups, of, size) || !sameButLightMix(groups.view, view, this.hasAsFiled())) return undefined;
    // What stays together burns as it did.
    const { together } = groups.groups;
    const level = (mix: StageView['lightMix'], id: string | null) => JSON.stringify(mix[id ?? ''] ?? null);
    return together.every((id) => level(groups.view.lightMix, id) === level(view.lightMix, id)) ? 'remix' : undefined;
  }

  /** A view was shown by its light groups: that is the whole sum now. */
  remixed(view: StageView): void {
    if (this.groups) this.whole = { ...this.groups, view, isMixed: true };
  }

  /** How many samples of the whole view are there. */
  countOf(of: T): number {
    return this.whole?.of === of ? this.whole.count : 0;
  }

  /** Whether what is shown of a view is made of its light groups. */
  isMixed(of: T): boolean {
    return this.whole?.of === of && this.whole.isMixed === true;
  }

  /** How many samples of each light group of a view are there: none of another view, size or choice of groups. */
  groupSamples(of: T, view: StageView, size: PixelSize, groups: GroupsApart): number {
    const there = this.groups;
    if (
      !there ||
      there.of !== of ||
      !sameSize(there.size, size) ||
      !sameButLightMix(there.view, view, this.hasAsFiled())
    )
      return 0;
    return JSON.stringify(there.groups) === JSON.stringify(groups) ? there.count : 0;
  }

  groupsAdded(of: T, view: StageView, size: PixelSize, groups: GroupsApart, count: number): void {
    // Those that stay together burn as they did with the first sample.
    const first = count > 1 ? (this.groups?.view ?? view) : view;
    this.groups = { of, view: first, size, groups, count };
  }

  private isThere<A extends Added<T>>(added: A | undefined, of: T, size: PixelSize): added is A {
    return added !== undefined && added.of === of && added.count >= ENOUGH && sameSize(added.size, size);
  }
}

const sameSize = (a: PixelSize, b: PixelSize): boolean => a.width === b.width && a.height === b.height;
