import { computed, effect, inject, Injectable, linkedSignal, signal, untracked } from '@angular/core';
import { remembered } from '../data';
import type { StepId, ViewId } from './ids';
import { STEPS } from './steps';
import { VIEWS } from './views';
import * as z from 'zod';

/** The bench's width in pixels, and the picture's share of the work area's height: in each step where it was left. */
/** Width of the bench that nobody has changed, pixels. */
export const BENCH_PX = 336;

const layoutSchema = z.object({ bench: z.number().min(280).max(560) });
const pictureSchema = z.record(z.string(), z.number().min(0.3).max(0.85));
/** That share where nobody has chosen one. */
const PICTURE_SHARE = 0.68;
const viewsSchema = z.object({ upper: z.string(), lower: z.string() });
interface ShownViews {
  readonly upper: ViewId;
  readonly lower: ViewId;
}

const FIRST_STEP: StepId = 'cameras';
const FIRST_VIEWS: ShownViews = { upper: 'picture', lower: 'plan' };

/** What is open on the screen, and how it is laid out. Nothing here belongs to the project. */
@Injectable({ providedIn: 'root' })
export class Workspace {
  /** Steps of the work, in their order. */
  readonly steps = [...inject(STEPS)].sort((a, b) => a.order - b.order);
  /** Views that can be shown, in their order. */
  readonly allViews = [...inject(VIEWS)].sort((a, b) => a.order - b.order);

  private readonly chosenStep = remembered('step', z.string(), FIRST_STEP);
  private readonly chosenViews = remembered('views', viewsSchema, FIRST_VIEWS);
  /** What the second view showed last in each step. */
  private readonly lowerViews = remembered('lower-views', z.record(z.string(), z.string()), {});
  readonly theme = remembered('theme', z.enum(['dark', 'light']), 'dark');
  /** Grey round the picture, 0 to 255. */
  readonly surround = remembered('surround', z.number().min(0).max(128), 43);
  readonly layout = remembered('layout', layoutSchema, { bench: BENCH_PX });
  private readonly pictureShares = remembered('picture-shares', pictureSchema, {});
  readonly benchOpen = signal(false);
  /** The card that was open last in each step; nothing where it was closed. */
  private readonly cards = remembered('cards', z.record(z.string(), z.string()), {});
  /** Whether the second view is folded away, so that the picture has its room. */
  readonly folded = remembered('folded', z.boolean(), false);
  /** Whether the picture has the whole of the work area: second view and bench are away, the reel is slim. */
  readonly whole = remembered('whole', z.boolean(), false);

  /** The view that is alone on the screen while somebody is shown the work. What was there before is not touched by it. */
  readonly alone = signal<ViewId | undefined>(undefined);
  readonly showing = computed(() => this.alone() !== undefined);

  /** The step that is worked in. One that this version does not know any more gives the first one. */
  readonly step = computed<StepId>(() => this.steps.find(({ id }) => id === this.chosenStep())?.id ?? FIRST_STEP);
  /** The card of the step's bench that is open wide, by its id. */
  readonly openCard = linkedSignal<StepId, string | undefined>({
    source: this.step,
    computation: (step) => (this.cards()[step] ?? this.steps.find(({ id }) => id === step)?.card) || undefined, // closed, or nothing to open
  });
  /** The picture's share of the work area's height in this step. */
  readonly pictureShare = computed(
    () =>
      this.pictureShares()[this.step()] ??
      this.steps.find(({ id }) => id === this.step())?.pictureShare ??
      PICTURE_SHARE,
  );
  /** What the two views show; never the same thing twice. */
  readonly views = computed<ShownViews>(() => {
    const [alone, { upper, lower }] = [this.alone(), this.chosen()];
    return alone === undefined ? { upper, lower } : { upper: alone, lower: alone === lower ? upper : lower };
  });
  private readonly chosen = computed<ShownViews>(() => {
    const known = (view: string): ViewId | undefined => this.allViews.find(({ id }) => id === view)?.id;
    const [upper, lower] = [known(this.chosenViews().upper), known(this.chosenViews().lower)];
    return upper !== undefined && lower !== undefined && upper !== lower ? { upper, lower } : FIRST_VIEWS;
  });

  constructor() {
    effect(() => {
      const [step, card] = [this.step(), this.openCard() ?? ''];
      untracked(() => this.cards()[step] !== card && this.cards.update((cards) => ({ ...cards, [step]: card })));
    });
  }

  /** What is to be found and lit up once it is on the screen: a card or a part of a bench, by its id. */
  readonly revealed = signal<string | undefined>(undefined);

  /** Opens a card, or finds a part of the bench, and brings it into sight with the focus on it. */
  reveal(part: string): void {
    this.benchOpen.set(true);
    this.whole.set(false);
    this.openCard.set(part);
    this.revealed.set(part);
  }

  /** Goes to a step: what its second view showed there is shown again; what belongs to another step is not. */
  goTo(step: StepId): void {
    if (step === this.step()) return;
    this.chosenStep.set(step);
    const own = this.lowerViews()[step] ?? this.steps.find(({ id }) => id === step)?.opens;
    const [view, shown] = [own ?? FIRST_VIEWS.lower, this.chosen()];
    const belongs = this.allViews.find(({ id }) => id === shown.lower)?.step;
    if ((own === undefined && (belongs === undefined || belongs === step)) || view === shown.upper) return;
    this.chosenViews.set({ upper: shown.upper, lower: this.allViews.find(({ id }) => id === view)?.id ?? shown.lower });
  }

  /** Whether a view is shown anywhere. */
  shows(view: ViewId): boolean {
    const { upper, lower } = this.views();
    return upper === view || (lower === view && !this.folded() && !this.whole() && !this.showing());
  }

  /** Divides the work area between the picture and the second view, in this step. */
  divide(share: number): void {
    this.pictureShares.update((shares) => ({ ...shares, [this.step()]: share }));
  }

  /** Shows something in one of the two views; what it shows there elsewhere, the other one takes over. */
  show(view: ViewId, where: 'upper' | 'lower' = 'lower'): void {
    const views = this.chosen();
    const other = where === 'upper' ? 'lower' : 'upper';
    if (where === 'lower' || views.lower === view) {
      this.folded.set(false);
      this.whole.set(false);
    }
    if (where === 'lower') this.lowerViews.update((lower) => ({ ...lower, [this.step()]: view }));
    if (views[where] === view) return;
    const rest = views[other] === view ? views[where] : views[other];
    this.chosenViews.set(where === 'upper' ? { upper: view, lower: rest } : { upper: rest, lower: view });
  }

  swapViews(): void {
    const { upper, lower } = this.chosen();
    this.chosenViews.set({ upper: lower, lower: upper });
  }
}
