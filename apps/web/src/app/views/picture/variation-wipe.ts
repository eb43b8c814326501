import type { OnDestroy } from '@angular/core';
import {
  afterRenderEffect,
  ChangeDetectionStrategy,
  Component,
  computed,
  ElementRef,
  inject,
  viewChild,
} from '@angular/core';
import { NO_VARIATION } from '@arvex/core';
import type { ShownView } from '../../drawing';
import { Pictures } from '../../drawing';
import { Sight } from '../../features/cameras';
import { Variations } from '../../features/looks';
import { Viewpoint } from '../../session';
import { followDrag, IconButton } from '../../ui';

/** Samples after which the resting picture is shown. */
const SAMPLES = [4, 16, 64] as const;
/** A key moves the wipe by so much of the picture; with Shift by more. */
const [STEP, LARGE_STEP] = [0.01, 0.1];

/** Another variation over the right part of the picture, up to a wipe that is dragged. */
@Component({
  selector: 'arvex-variation-wipe',
  imports: [IconButton],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (variations.compared(); as compared) {
      <canvas #canvas [style.clip-path]="'inset(0 0 0 ' + percent() + '%)'"></canvas>
      <div
        class="edge"
        role="slider"
        tabindex="0"
        aria-label="Wipe between two variations"
        aria-valuemin="0"
        aria-valuemax="100"
        [attr.aria-valuenow]="percent().toFixed(0)"
        [style.left.%]="percent()"
        (pointerdown)="drag($event)"
        (keydown)="key($event)"
      >
        <i></i>
      </div>
      <span class="name left" [style.right.%]="100 - percent()">{{ nameOf(compared.left) }}</span>
      <span class="name right" [style.left.%]="percent()">{{ nameOf(compared.right) }}</span>
      <button class="end" arvexIconButton="close" label="End comparing" (click)="variations.endComparing()"></button>
    }
  `,
  styles: `
    :host {
      position: absolute;
      inset: 0;
      pointer-events: none;
    }
    .edge,
    .name,
    .end {
      z-index: 3;
    }
    canvas {
      position: absolute;
      inset: 0;
      width: 100%;
      height: 100%;
    }
    .edge {
      position: absolute;
      top: 0;
      bottom: 0;
      width: 24px;
      margin-left: -12px;
      cursor: ew-resize;
      pointer-events: auto;
      touch-action: none;
    }
    .edge i {
      display: block;
      width: 2px;
      height: 100%;
      margin: 0 auto;
      background: var(--iris);
    }
    .name {
      position: absolute;
      bottom: 74px;
      padding: 3px 9px;
      border-radius: 12px;
      background: color-mix(in srgb, var(--panel) 88%, transparent);
      font-size: 12px;
    }
    .left {
      margin-right: 8px;
    }
    .right {
      margin-left: 8px;
    }
    .end {
      position: absolute;
      bottom: 36px;
      right: 8px;
      background: color-mix(in srgb, var(--panel) 88%, transparent);
      pointer-events: auto;
    }
  `,
})
export class VariationWipe implements OnDestroy {
  protected readonly variations = inject(Variations);
  private readonly sight = inject(Sight);
  private readonly pictures = inject(Pictures);
  private readonly viewpoint = inject(Viewpoint);
  private readonly host = inject<ElementRef<HTMLElement>>(ElementRef);
  private readonly canvas = viewChild<unknown, ElementRef<HTMLCanvasElement>>('canvas', { read: ElementRef });
  private leave: (() => void) | undefined;
  private shown: ShownView | undefined;

  protected readonly percent = computed(() => this.variations.wipe() * 100);
  private readonly view = computed(() => {
    const compared = this.variations.compared();
    return compared && this.sight.dressed(compared.right);
  });

  constructor() {
    afterRenderEffect(() => {
      const canvas = this.canvas()?.nativeElement;
      if (canvas !== this.shown?.canvas) {
        this.leave?.();
        this.shown = canvas && { canvas, samples: () => SAMPLES, view: () => this.asked() };
        this.leave = this.shown && this.pictures.show(this.shown);
      } else if (this.shown && this.view()) this.pictures.invalidate(this.shown);
    });
  }

  ngOnDestroy(): void {
    this.leave?.();
  }

  protected nameOf(variationId: string): string {
    if (variationId === NO_VARIATION) return 'as it is';
    return this.viewpoint.through()?.variations[variationId]?.name ?? '';
  }

  protected drag(event: PointerEvent): void {
    event.stopPropagation(); // the picture is not pressed
    const begun = this.variations.wipe();
    const { width } = this.host.nativeElement.getBoundingClientRect();
    followDrag(
      event,
      ({ dx }) => this.set(begun + dx / width),
      () => undefined,
    );
  }

  protected key(event: KeyboardEvent): void {
    const step = event.shiftKey ? LARGE_STEP : STEP;
    const by = event.key === 'ArrowLeft' ? -step : event.key === 'ArrowRight' ? step : undefined;
    if (by === undefined) return;
    this.set(this.variations.wipe() + by);
    event.preventDefault();
    event.stopPropagation();
  }

  private set(share: number): void {
    this.variations.wipe.set(Math.max(0, Math.min(1, share)));
  }

  private asked() {
    const view = this.view();
    return view && { view };
  }
}
