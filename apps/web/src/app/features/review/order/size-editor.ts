import { ChangeDetectionStrategy, Component, computed, signal } from '@angular/core';
import type { RenderOrder } from '@arvex/core';
import { LARGEST_SIDE_PX, outputSize } from '@arvex/core';
import { NumberField, PERCENT, Switch, switchChoices } from '../../../ui';
import { OrderEditor } from './order-editor';

const SHARES = { twice: 2, full: 1, half: 1 / 2, third: 1 / 3, quarter: 1 / 4 } as const;
type ShareId = keyof typeof SHARES;

/** How large pictures are: a share of the delivery size, or as typed. */
@Component({
  selector: 'arvex-size-editor',
  imports: [NumberField, Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Share</span>
      <arvex-switch
        label="Share of the delivery size"
        [choices]="shares"
        [value]="shareId()"
        (chosen)="chooseShare($event)"
      />
    </div>
    <div class="row">
      <span class="label">Exactly</span>
      <arvex-number-field
        label="Share of the delivery size, typed"
        unit="%"
        [units]="percent"
        [decimals]="1"
        [min]="0.05"
        [max]="4"
        [value]="share()"
        (valueSet)="set({ size: { kind: 'share', share: $event } })"
      />
    </div>
    <div class="row">
      <span class="label">Typed</span>
      <arvex-number-field
        label="Width"
        unit="px"
        [decimals]="0"
        [min]="16"
        [max]="most"
        [value]="typed().widthPx"
        (valueSet)="type({ widthPx: $event })"
      />
      <arvex-number-field
        label="Height"
        unit="px"
        [decimals]="0"
        [min]="16"
        [max]="most"
        [value]="typed().heightPx"
        (valueSet)="type({ heightPx: $event })"
      />
    </div>
    <div class="row">
      <span class="label">One side typed</span>
      <arvex-switch
        label="What a typed side does to the other"
        [choices]="shapes"
        [value]="keepsShape() ? 'keeps' : 'free'"
        (chosen)="keepsShape.set($event === 'keeps')"
      />
    </div>
    <p class="quiet">A typed size takes the place of the delivery size: each film back meets it as its camera says.</p>
    <div class="row">
      <span class="label">Odd sizes</span>
      <arvex-switch
        label="What H.264 does with odd sizes"
        [choices]="odd"
        [value]="order().oddSizes"
        (chosen)="set({ oddSizes: $event })"
      />
    </div>
  `,
})
export class SizeEditor extends OrderEditor {
  protected readonly percent = PERCENT;
  protected readonly most = LARGEST_SIDE_PX;
  protected readonly shares = switchChoices(Object.keys(SHARES) as ShareId[], {
    third: 'a third',
    quarter: 'a quarter',
  });
  protected readonly odd = switchChoices<RenderOrder['oddSizes']>(['pad', 'refuse'], {
    pad: 'add a row',
    refuse: 'refuse',
  });
  protected readonly shapes = switchChoices(['keeps', 'free'] as const, {
    keeps: 'keeps the shape',
    free: 'leaves the other',
  });
  /** Whether the other side follows one that is typed. */
  protected readonly keepsShape = signal(true);
  protected readonly share = computed(() => {
    const { size } = this.order();
    return size.kind === 'share' ? size.share : 1;
  });
  protected readonly shareId = computed(() =>
    this.order().size.kind === 'share'
      ? (Object.keys(SHARES) as ShareId[]).find((id) => Math.abs(SHARES[id] - this.share()) < 1e-6)
      : undefined,
  );
  protected readonly typed = computed(() => {
    const { size } = this.order();
    if (size.kind === 'typed') return size;
    const [part] = this.desk.parts();
    return part
      ? outputSize({ ...this.order(), burnIns: null, stereo: null, panorama: null }, part)
      : { widthPx: 1920, heightPx: 1080 };
  });

  protected chooseShare(id: ShareId): void {
    this.set({ size: { kind: 'share', share: SHARES[id] } });
  }

  protected type(change: { widthPx?: number; heightPx?: number }): void {
    const now = this.typed();
    const shape = this.keepsShape() ? now.widthPx / now.heightPx : undefined;
    const followed =
      shape === undefined
        ? change
        : change.widthPx === undefined
          ? { widthPx: (change.heightPx ?? now.heightPx) * shape, ...change }
          : { heightPx: change.widthPx / shape, ...change };
    const inside = (px: number) => Math.max(16, Math.min(LARGEST_SIDE_PX, Math.round(px)));
    const { widthPx, heightPx } = { ...now, ...followed };
    this.set({ size: { kind: 'typed', widthPx: inside(widthPx), heightPx: inside(heightPx) } });
  }
}
