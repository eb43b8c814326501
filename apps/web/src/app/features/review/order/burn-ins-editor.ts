import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { MatMenuModule } from '@angular/material/menu';
import { MatIcon } from '@angular/material/icon';
import type { BurnIn, BurntIn, RenderOrder } from '@arvex/core';
import { barHeightPx, burnInPlace, burnInTexts, BURNT_IN } from '@arvex/core';
import { Thumbnail } from '../../../drawing';
import { Playhead } from '../../../session';
import { ChoiceField, followDrag, IconButton, NameField, NumberField, PERCENT, Switch } from '../../../ui';
import { OrderEditor } from './order-editor';

type BurnIns = NonNullable<RenderOrder['burnIns']>;

const NONE: BurnIns = { items: [], size: 0.03, outside: false, logoAssetId: null };
/** An arrow key moves a burn-in so far, as a share of the picture. */
const STEP = 0.01;

/** Bars are shown at least so high, share of the frame's height. */
const LEAST_BAR = 0.14;

/** What is written over the picture: placed on a small one, by dragging or by arrow keys. */
@Component({
  selector: 'arvex-burn-ins-editor',
  imports: [ChoiceField, IconButton, MatCheckbox, MatIcon, MatMenuModule, NameField, NumberField, Thumbnail, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './burn-ins-editor.html',
  styleUrl: './burn-ins-editor.scss',
})
export class BurnInsEditor extends OrderEditor {
  private readonly playhead = inject(Playhead);
  protected readonly percent = PERCENT;
  protected readonly names = BURNT_IN;
  protected readonly slateChoices = [
    { id: 'head', name: 'at the head', hint: 'One slate: the cut stays as long as it is' },
    { id: 'each', name: 'each shot', hint: 'A slate before each shot' },
  ] as const;
  protected readonly whole = Math.round;
  protected readonly offered = (Object.keys(BURNT_IN) as BurntIn[]).map((id) => ({ id, name: BURNT_IN[id] }));
  protected readonly chosen = signal<number | undefined>(undefined);
  protected readonly burnIns = computed(() => this.order().burnIns ?? NONE);
  protected readonly seen = computed(() => this.playhead.glance());
  private readonly frame = computed(() => this.desk.parts()[0] ?? { frameWidthPx: 1920, frameHeightPx: 1080 });
  /** Height of each bar outside the frame, share of the frame's: high enough to be read here. */
  protected readonly bar = computed(() => {
    const { frameHeightPx } = this.frame();
    const exact = barHeightPx(this.order(), frameHeightPx) / frameHeightPx;
    return exact === 0 ? 0 : Math.max(LEAST_BAR, exact);
  });
  protected readonly aspect = computed(() => {
    const { frameWidthPx, frameHeightPx } = this.frame();
    return frameWidthPx / frameHeightPx / (1 + 2 * this.bar());
  });
  /** What each says at the playhead. */
  protected readonly texts = computed(() => {
    const [project, at] = [this.store.project(), this.desk.atPlayhead()];
    if (!project || !at) return this.burnIns().items.map(() => '');
    const textOf = burnInTexts(project, at.part, this.desk.number(), at.index);
    return this.burnIns().items.map((item) => (item.what === 'logo' ? 'logo' : textOf(item) || BURNT_IN[item.what]));
  });
  protected readonly logos = computed(() =>
    Object.values(this.store.project()?.assets ?? {})
      .filter(({ file }) => file.kind === 'picture')
      .map(({ id, name }) => ({ id, name })),
  );

  /** Height at which an item is seen, share of all of it. */
  protected placeOf(item: BurnIn): number {
    return burnInPlace(item, this.bar());
  }

  protected setBurnIns(change: Partial<BurnIns>): void {
    const next = { ...this.burnIns(), ...change };
    this.set({ burnIns: next.items.length === 0 ? null : next });
  }

  protected add(what: BurntIn): void {
    const { items } = this.burnIns();
    // In a free corner or at a free edge.
    const places = [0.02, 0.5, 0.98].flatMap((x) => [0.035, 0.965].map((y) => ({ x, y })));
    const free = places.find(
      ({ x, y }) => !items.some((one) => Math.abs(one.x - x) < 0.15 && Math.abs(one.y - y) < 0.08),
    );
    const logoAssetId = this.burnIns().logoAssetId ?? (what === 'logo' ? (this.logos()[0]?.id ?? null) : null);
    this.setBurnIns({
      items: [...items, { what, text: what === 'text' ? 'Text' : '', ...(free ?? { x: 0.5, y: 0.5 }) }],
      logoAssetId,
    });
    this.chosen.set(items.length);
  }

  protected remove(index: number): void {
    this.setBurnIns({ items: this.burnIns().items.filter((_, i) => i !== index) });
    this.chosen.set(undefined);
  }

  protected change(index: number, change: Partial<BurnIn>): void {
    this.setBurnIns({ items: this.burnIns().items.map((one, i) => (i === index ? { ...one, ...change } : one)) });
  }

  protected drag(event: PointerEvent, index: number, sheet: HTMLElement): void {
    const item = this.burnIns().items[index];
    if (!item || event.button !== 0) return;
    this.chosen.set(index);
    const { width, height } = sheet.getBoundingClientRect();
    followDrag(
      event,
      ({ dx, dy }) => this.change(index, placed(item.x + dx / width, item.y + dy / height)),
      (kept) => {
        if (!kept) this.change(index, { x: item.x, y: item.y });
      },
    );
  }

  protected key(event: KeyboardEvent, index: number): void {
    const item = this.burnIns().items[index];
    const [dx, dy] = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key] ?? [
      0, 0,
    ];
    if (event.key === 'Delete' || event.key === 'Backspace') this.remove(index);
    else if (item && (dx !== 0 || dy !== 0))
      this.change(index, placed(item.x + (dx ?? 0) * STEP, item.y + (dy ?? 0) * STEP));
    else return;
    event.preventDefault();
    event.stopPropagation();
  }
}

/** A place within the picture, in half per cents. */
function placed(x: number, y: number) {
  const within = (value: number) => Math.round(Math.max(0, Math.min(1, value)) * 200) / 200;
  return { x: within(x), y: within(y) };
}
