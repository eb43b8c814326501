import { computed, inject, Injectable, linkedSignal, signal } from '@angular/core';
import type { OrderedWhat, OrderTopic, Recipe, RenderOrder } from '@arvex/core';
import {
  againstOrder,
  bytesOf,
  dayOf,
  fileNamePart,
  FIRST_RECIPES,
  folderOf,
  framesInFlicks,
  framesOfPart,
  anyOrderSchema,
  orderByRecipe,
  orderSentence,
  partFrame,
  partsOf,
  withoutGone,
} from '@arvex/core';
import * as z from 'zod';
import { ProjectStore, recall, remember, remembered } from '../../data';
import { Playhead } from '../../session';
import { Renders } from './renders';

/** The order that is being made: what it says, what it comes to, what stands against it. Remembered by the browser. */
@Injectable({ providedIn: 'root' })
export class OrderDesk {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly renders = inject(Renders);
  private readonly projectId = computed(() => this.store.project()?.head.id ?? '');
  /** Each project has its own: what is meant by its frames and its shots means nothing in another. */
  private readonly kept = linkedSignal(() => recall(keyOf(this.projectId()), keptSchema) ?? NEW);

  /** Whether the one frame that is ordered is the one at the playhead, or stays the one that was typed. */
  readonly stillFollows = remembered('still-follows', z.boolean(), true);
  /** The word of the sentence that is open. */
  readonly topic = signal<OrderTopic | undefined>(undefined);
  /** Name of the recipe that the order still is. */
  readonly recipe = computed(() => this.kept().recipe);

  readonly order = computed<RenderOrder | undefined>(() => {
    const project = this.store.project();
    if (!project) return undefined;
    const sequenceId = this.playhead.sequenceId();
    const kept = this.kept().order ?? orderByRecipe(FIRST_RECIPES[1] as Recipe, sequenceId);
    const { what } = kept;
    const here = 'sequenceId' in what ? { ...kept, what: { ...what, sequenceId } } : kept;
    const isStill = what.kind === 'still' || what.kind === 'camera-still';
    const seen = isStill && this.stillFollows() ? this.still() : undefined;
    return withoutGone(seen ? { ...here, what: seen } : here, project);
  });
  /** The one frame that is seen: of the cut, or of the camera that is looked through alone. */
  readonly still = computed<OrderedWhat | undefined>(() => {
    const [seen, rate] = [this.playhead.glance(), this.store.project()?.head.rate];
    if (!rate) return undefined;
    if (seen?.mode === 'camera' && seen.cameraId !== undefined)
      return { kind: 'camera-still', cameraId: seen.cameraId, frame: framesInFlicks(seen.sceneFlicks, rate) };
    return { kind: 'still', sequenceId: this.playhead.sequenceId(), frame: seen?.frame ?? 0 };
  });
  readonly parts = computed(() => {
    const [project, order] = [this.store.project(), this.order()];
    return project && order ? partsOf(project, order) : [];
  });
  /** How the order will be numbered. */
  readonly number = computed(() => {
    const highest = Math.max(0, ...this.renders.all().map(({ name }) => Number(name.slice(1)) || 0));
    return { version: `v${String(highest + 1).padStart(3, '0')}`, date: dayOf(new Date()) };
  });
  readonly sentence = computed(() => {
    const [project, order] = [this.store.project(), this.order()];
    return project && order ? orderSentence(project, order) : [];
  });
  readonly against = computed(() => {
    const [project, order] = [this.store.project(), this.order()];
    return project && order ? againstOrder(project, order, this.parts(), this.number()) : [];
  });
  readonly stop = computed(() => this.against().find(({ stops }) => stops));
  /** What giving it does, in words. */
  readonly command = computed(() => {
    const what = this.order()?.what;
    const count = this.parts().length;
    if (what?.kind === 'cut' || !what) return 'Render the cut';
    if (what.kind === 'shots') return `Render ${count} shot${count === 1 ? '' : 's'}`;
    return what.kind === 'cameras' ? `Render ${count} camera${count === 1 ? '' : 's'}` : 'Render this frame';
  });
  readonly outputFolder = computed(() => this.renders.room()?.outputFolder);
  /** The folder into which it goes, on the machine that keeps everything; with what its parts have of their own left out. */
  readonly folder = computed(() => {
    const [project, order, root] = [this.store.project(), this.order(), this.outputFolder()];
    const [first, second] = this.parts();
    if (!project || !order?.places.folder || root === undefined || !first) return undefined;
    const own = folderOf(project, order, first, this.number());
    const isOne = !second || folderOf(project, order, second, this.number()) === own;
    return [root, fileNamePart(project.head.name), ...(isOne ? [own] : [own.split('/')[0] ?? ''])].join('/');
  });
  readonly frames = computed(() => this.parts().reduce((sum, part) => sum + framesOfPart(part), 0));

  /** Bytes that it takes on the disk about. @param pngBytes what the picture of a frame took, when one was drawn. */
  bytes(pngBytes?: number): number {
    const [project, order] = [this.store.project(), this.order()];
    return project && order ? bytesOf(project, order, this.parts(), pngBytes) : 0;
  }

  /** Changes what the order says. */
  set(change: Partial<RenderOrder>): void {
    const order = this.order();
    if (order) this.keep({ order: { ...order, ...change }, recipe: null });
  }

  /** Replaces the order by a recipe's. Its range, names and places are the recipe's too. */
  take(recipe: Recipe): void {
    this.keep({ order: orderByRecipe(recipe, this.playhead.sequenceId()), recipe: recipe.name });
  }

  /** The order is a recipe from now on. */
  called(name: string): void {
    this.keep({ ...this.kept(), recipe: name });
  }

  /** Gives the order. */
  async give(): Promise<void> {
    const order = this.order();
    if (order) await this.renders.give(order);
  }

  private keep(kept: Kept): void {
    this.kept.set(kept);
    remember(keyOf(this.projectId()), kept);
  }

  /** The part and its frame that are seen at the playhead; else the first of all. */
  readonly atPlayhead = computed(() => {
    const [parts, seen] = [this.parts(), this.playhead.seen()];
    if (!seen) return undefined;
    for (const part of parts) {
      const { subject } = part;
      const isSeen =
        subject.kind === 'camera'
          ? subject.cameraId === seen.cameraId
          : subject.kind === 'cut'
            ? seen.mode === 'cut'
            : subject.shotId === seen.shot?.id;
      if (!isSeen) continue;
      // A camera by itself counts scene time, whatever the cut counts.
      const sceneFrame = framesInFlicks(
        seen.sceneFlicks,
        this.store.project()?.head.rate ?? { frames: 24, seconds: 1 },
      );
      const firstFrame = this.store.project()?.head.firstFrame ?? 0;
      const index = indexOf(part, subject.kind === 'camera' ? firstFrame + sceneFrame : seen.frameNumber);
      return { part, index: index >= 0 ? index : firstPicture(part) };
    }
    return parts[0] && { part: parts[0], index: firstPicture(parts[0]) };
  });
}

const keptSchema = z.object({ order: anyOrderSchema.nullable(), recipe: z.string().nullable() });
type Kept = z.infer<typeof keptSchema>;

/** What a project begins with: the work is shown to others. */
const NEW: Kept = { order: null, recipe: FIRST_RECIPES[1]?.name ?? null };

const keyOf = (projectId: string): string => `order.${projectId}`;

type Part = Parameters<typeof framesOfPart>[0];

/** The frame of a part that has a number, or the last one before it; −1 where there is none. */
function indexOf(part: Part, number: number): number {
  let at = 0;
  for (const run of part.runs) {
    if (run.kind === 'pictures') {
      const within = Math.floor((number - run.number) / run.step);
      if (within >= 0 && within < run.count) return at + within;
    }
    at += run.count;
  }
  return -1;
}

function firstPicture(part: Part): number {
  for (let index = 0; index < framesOfPart(part); index++) if (partFrame(part, index).kind === 'picture') return index;
  return 0;
}
