import { ChangeDetectionStrategy, Component, computed, effect, inject, signal, untracked } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Against, OrderTopic, Recipe } from '@arvex/core';
import { framesPerSecond, ORDER_TOPICS, outputSize } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Checks } from '../../readiness';
import { bytesText, Contributed, durationText, IconButton, NameField } from '../../ui';
import { ORDER_EDITORS } from './order';
import { OrderDesk } from './order-desk';
import { Proof } from './proof';
import { Recipes } from './recipes';
import { Renders } from './renders';

/** What stands against an order is mended at one of its words. */
const MENDED_AT: Readonly<Record<NonNullable<Against['where']>, OrderTopic>> = {
  what: 'what',
  frames: 'frames',
  size: 'size',
  formats: 'formats',
  names: 'names',
  places: 'names',
  background: 'background',
  panorama: 'eyes',
  stereo: 'eyes',
};

/** So much of what stands against an order is told before one asks for more. */
const TOLD_AT_FIRST = 4;

/** What would fill so much of the disk is said to be much; the sum is a rough one, so that only what is far too much is stopped. */
const [TIGHT, HOPELESS] = [0.9, 2] as const;

/** The bench of the Review step: what is to leave the building as one sentence that is changed at its words. */
@Component({
  selector: 'arvex-review-bench',
  imports: [Contributed, IconButton, MatIcon, NameField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './review-bench.html',
  styleUrls: ['../../ui/bench-step.scss', '../../ui/findings.scss', './review-bench.scss'],
})
export class ReviewBench {
  private readonly store = inject(ProjectStore);
  private readonly checks = inject(Checks);
  protected readonly desk = inject(OrderDesk);
  protected readonly recipes = inject(Recipes);
  protected readonly proof = inject(Proof);
  protected readonly renders = inject(Renders);
  protected readonly topics = ORDER_TOPICS;
  protected readonly editor = computed(() => {
    const topic = this.desk.topic();
    return topic && ORDER_EDITORS[topic];
  });
  protected readonly naming = signal(false);
  protected readonly allTold = signal(false);
  protected readonly told = computed(() =>
    this.allTold() ? this.desk.against() : this.desk.against().slice(0, TOLD_AT_FIRST),
  );
  protected readonly more = computed(() => this.desk.against().length - TOLD_AT_FIRST);

  /** How much it is: frames, their time, and their size in pixels. */
  protected readonly amount = computed(() => {
    const [project, order, parts] = [this.store.project(), this.desk.order(), this.desk.parts()];
    const [first] = parts;
    if (!project || !order || !first) return '';
    const seconds = (this.desk.frames() * order.frames.step) / framesPerSecond(project.head.rate);
    const sizes = new Set(parts.map((part) => Object.values(outputSize(order, part)).join(' × ')));
    const size = sizes.size === 1 ? `${[...sizes][0]} px` : `${sizes.size} sizes`;
    const pieces = parts.length > 1 ? `${parts.length} parts · ` : '';
    const time = this.desk.frames() > 1 ? ` · ${durationText(seconds)}` : '';
    return `${pieces}${this.desk.frames()} f${time} · ${size}`;
  });
  /** Time and disk that it takes, as far as they are known. */
  protected readonly takes = computed(() => {
    const fits = this.proof.fitting();
    return fits
      ? `${fits.seconds.toFixed(2)} s a frame: about ${durationText(fits.seconds * this.desk.frames())} on this machine.`
      : 'Try one frame to hear how long it takes.';
  });
  private readonly bytes = computed(() => this.desk.bytes(this.proof.fitting()?.pictureBytes));
  protected readonly room = computed(() => {
    const room = this.renders.room();
    const needed = `About ${bytesText(this.bytes())} on the disk`;
    if (!room) return `${needed}.`;
    return `${needed}, of ${bytesText(room.freeBytes)} that are free; the project has ${bytesText(room.projectBytes)} so far.`;
  });
  /** How many times the order would fill what is free on the disk. */
  private readonly filling = computed(() => this.bytes() / (this.renders.room()?.freeBytes ?? Infinity));
  protected readonly tight = computed(() => this.filling() > TIGHT);
  protected readonly tooFull = computed(() => this.filling() > HOPELESS);

  constructor() {
    void this.recipes.refresh();
    // Looked at when the bench opens, and whenever the list of renders is another one or one of them has ended.
    const ended = computed(() =>
      this.renders
        .all()
        .map(({ id, state }) => `${id} ${state}`)
        .join(),
    );
    effect(() => {
      ended();
      untracked(() => void this.renders.lookAtRoom());
    });
  }

  protected turn(topic: OrderTopic): void {
    this.desk.topic.update((open) => (open === topic ? undefined : topic));
  }

  protected take(recipe: Recipe): void {
    this.desk.take(recipe);
  }

  protected async keepRecipe(name: string): Promise<void> {
    const order = this.desk.order();
    this.naming.set(false);
    if (!order) return;
    await this.recipes.keep(order, name);
    this.desk.called(name);
  }

  protected mend({ finding, where }: Against): void {
    if (finding) this.checks.mend(finding);
    else if (where) this.desk.topic.set(MENDED_AT[where]);
  }

  protected mendWords({ finding, where }: Against): string {
    return finding?.mend ?? (where ? `Change ${ORDER_TOPICS[MENDED_AT[where]].toLowerCase()}` : 'Look');
  }
}
