import type { GroupsApart } from '@arvex/stage';
import { AddedUp } from './added-up';
import type { Canvases } from './canvases';
import type { OpenDesk } from './open-desk';
import { Pace, SIZES, WHOLE } from './pace';
import { pixelSize, scaled } from './page-canvas';
import type { ShownView } from './shown-view';
import type { StageHost } from './stage-host';

/**
 * Pictures at rest: samples that make them finer one by one, light groups added up by themselves, and what is shown anew from the samples
 * that are there.
 */
export class Resting {
  /** Samples of each view that is not fine yet. */
  private readonly refining = new Map<ShownView, number>();
  /** The view whose samples are being added up. */
  private accumulating: ShownView | undefined;
  /** What has been added up: changes of look, display and light mix are shown from there. */
  private readonly addedUp: AddedUp<ShownView>;
  private readonly paces = { redevelop: new Pace(SHOWN_MS, SIZES), remix: new Pace(SHOWN_MS, SIZES) };

  constructor(
    private readonly host: StageHost,
    private readonly canvases: Canvases,
  ) {
    this.addedUp = new AddedUp<ShownView>(() => host.hasAsFiled());
  }

  /** A view is made finer from its beginning. */
  begin(shown: ShownView): void {
    this.refining.set(shown, 0);
  }

  /** A view is not made finer: it is drawn anew first, or is not shown any more. */
  leave(shown: ShownView): void {
    this.refining.delete(shown);
  }

  /** The stage holds other things, or graphics are gone: no sample counts any more. */
  forget(): void {
    this.accumulating = undefined;
    this.addedUp.forget();
  }

  /** Views that are not fine yet: of them only those that are rough where that is asked for. */
  left(onlyRough = false): readonly ShownView[] {
    const views = [...this.refining.keys()];
    return onlyRough ? views.filter((view) => this.isRough(view)) : views;
  }

  /** Whether a view has not got as far as its first finer picture: the one with the lens and the shutter in it. */
  private isRough(view: ShownView): boolean {
    return (this.refining.get(view) ?? 0) < (view.samples()[0] ?? 0);
  }

  /** Whether what a view asks for can be shown from what has been added up. */
  isAddedUp(shown: ShownView): boolean {
    const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
    if (!asked || !size || this.host.lost() || !this.host.isCurrent()) return false;
    return this.addedUp.ways(shown, asked.view, size) !== undefined;
  }

  /**
   * Shows a view from what has been added up. @param moving whether more will follow at once: then it is shown as small as lets every
   * step be seen. @returns whether it was still there.
   */
  async showAgain(desk: OpenDesk, shown: ShownView, moving: boolean): Promise<boolean> {
    const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
    const way = asked && size && this.addedUp.ways(shown, asked.view, size);
    if (!asked || !size || !way) return false;
    const isNewest = this.canvases.turnOf(shown);
    const effort = moving ? this.paces[way].effort : WHOLE;
    const [width, height] = scaled(size, effort.share);
    const drawn = way === 'remix' ? desk.remix(asked.view, width, height) : desk.redevelop(asked.view, width, height);
    const { bitmap, milliseconds } = await drawn;
    if (moving) this.paces[way].tell(effort, milliseconds);
    if (way === 'remix') {
      this.addedUp.remixed(asked.view);
      this.refining.delete(shown); // it goes on with its groups
      this.accumulating = undefined;
    } else if (this.accumulating === shown) this.refining.set(shown, this.addedUp.countOf(shown));
    this.canvases.put(shown, bitmap, !this.host.lost() && isNewest());
    this.canvases.tell(shown, effort);
    this.host.succeeded();
    shown.drawn?.(asked.label);
    return true;
  }

  /**
   * Adds one sample to a view that is not fine yet: first each is brought to its first finer picture, then each to its end; those that
   * need few samples before the others.
   */
  async refineOnce(desk: OpenDesk, onlyRough: boolean): Promise<void> {
    const most = (view: ShownView) => view.samples().at(-1) ?? 0;
    const rough = this.left(true);
    const [shown] = [...(rough.length > 0 ? rough : this.left(onlyRough))].sort((a, b) => most(a) - most(b));
    if (!shown) return;
    // The accumulator holds one picture: what another view had begun is begun anew.
    const index = shown === this.accumulating ? (this.refining.get(shown) ?? 0) : 0;
    this.accumulating = shown;
    const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
    if (!asked || !size || index >= most(shown)) {
      this.refining.delete(shown);
      return;
    }
    // A coarse picture gives way to the first whole one there is.
    const showing = shown.samples().includes(index + 1) || (this.canvases.isCoarse(shown) && index >= FIRST_SHOWN);
    const bitmap = await desk.refine(asked.view, size.width, size.height, index, showing);
    this.addedUp.added(shown, asked.view, size, index + 1);
    const counts = this.refining.has(shown);
    if (counts && index + 1 < most(shown)) this.refining.set(shown, index + 1);
    else this.refining.delete(shown);
    if (!bitmap) return;
    this.canvases.put(shown, bitmap, counts);
    if (counts) this.canvases.tell(shown, WHOLE);
  }

  /** The view whose light groups are to be added up by themselves, and how many samples of them are there. */
  groupsLeft(views: Iterable<ShownView>, groups: GroupsApart | undefined): GroupsLeft | undefined {
    if (!groups) return undefined;
    for (const shown of views) {
      if (!shown.groupsApart) continue;
      const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
      if (!asked || !size || asked.view.mix) continue;
      const count = this.addedUp.groupSamples(shown, asked.view, size, groups);
      // Each sample of them costs as many as there are groups: they go as far as its second finer picture.
      const enough = shown.samples()[1] ?? shown.samples()[0] ?? 0;
      // They go before what makes the picture fine, once it shows its first finer one, until what is changed can be shown from them.
      if (count < enough) return { shown, groups, count, isFirst: count < FEW_SAMPLES && !this.isRough(shown) };
    }
    return undefined;
  }

  /** Takes one more sample of each light group. @returns whether the picture is made of them, and is to be shown anew. */
  async sampleGroups(desk: OpenDesk, { shown, groups, count }: GroupsLeft): Promise<boolean> {
    const [asked, size] = [shown.view(), pixelSize(shown.canvas)];
    if (!asked || !size) return false;
    await desk.sampleGroups(asked.view, size.width, size.height, count, groups);
    this.addedUp.groupsAdded(shown, asked.view, size, groups, count + 1);
    return this.addedUp.isMixed(shown) && shown.samples().includes(count + 1);
  }
}

/** Light groups of a view that are to be added up by themselves. */
interface GroupsLeft {
  readonly shown: ShownView;
  readonly groups: GroupsApart;
  /** Samples of each that are there. */
  readonly count: number;
  /** Whether they go before what makes the picture finer. */
  readonly isFirst: boolean;
}

/** What is dragged is shown within two frames of the page, if the machine can. */
const SHOWN_MS = 2000 / 60;

/** Samples of light groups that are taken before a picture is made as fine as it gets: what is changed is shown from them at once. */
const FEW_SAMPLES = 4;

/** Two samples light what lies flat as the whole sky does: the first of a picture at rest that is true. */
const FIRST_SHOWN = 1;
