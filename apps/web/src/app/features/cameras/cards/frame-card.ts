import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Delivery, Fit } from '@arvex/core';
import { deliveryAspect, FITS, HEAD_DEFAULTS, setGroup, setOwn } from '@arvex/core';
import { Card, ChoiceField, choicesOf, IconButton, NumberField } from '../../../ui';
import { CameraBench } from '../camera-bench';
import { Subjects } from '../subjects';
import { BackDrawing } from './back-drawing';

/** Usual delivery sizes by what they are. */
const SIZES: readonly (readonly [string, number, number])[] = [
  ['High definition', 1920, 1080],
  ['Ultra high definition', 3840, 2160],
  ['Digital cinema, flat', 1998, 1080],
  ['Digital cinema, scope', 2048, 858],
  ['Digital cinema 4K, scope', 4096, 1716],
  ['Four to three', 1440, 1080],
  ['Square', 1080, 1080],
  ['Portrait, four to five', 1080, 1350],
  ['Portrait', 1080, 1920],
];
const NOBODY = 'nobody';

/** The delivery frame: the project's, or this camera's own; and whom the shot is about. */
@Component({
  selector: 'arvex-frame-card',
  imports: [IconButton, BackDrawing, Card, ChoiceField, MatIcon, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './frame-card.html',
  styles: `
    p {
      margin: 0 0 9px;
    }
    .fit {
      margin-left: 92px;
      font-size: 12px;
    }
  `,
})
export class FrameCard {
  protected readonly bench = new CameraBench();
  private readonly seen = inject(Subjects);
  protected readonly locked = signal(false);
  protected readonly sizes = SIZES.map(([name, width, height]) => ({
    id: `${width} × ${height}`,
    name,
    detail: `${width} × ${height}`,
  }));

  protected readonly fits = choicesOf(FITS);
  protected readonly fit = computed(() => this.bench.state()?.framing.fit);

  /** What is cropped and padded at each side, in mm and px. */
  protected readonly fitLines = computed(() => {
    const used = this.bench.state()?.framing.used;
    if (!used) return [];
    const line = (where: string, mm: number, px: number) =>
      Math.abs(mm) < 0.005
        ? []
        : [`${mm < 0 ? 'pads' : 'crops'} ${Math.abs(mm).toFixed(2)} mm, ${Math.abs(px).toFixed(0)} px ${where}`];
    const lines = [
      ...line('left and right', used.cropXMm, used.cropXPx),
      ...line('above and below', used.cropYMm, used.cropYPx),
    ];
    return lines.length > 0 ? lines : ['nothing cropped, nothing padded'];
  });

  protected readonly own = computed(() => this.bench.camera()?.own.includes('delivery'));
  protected readonly delivery = computed(() => this.bench.state()?.framing.delivery ?? HEAD_DEFAULTS.delivery);
  protected readonly sizeId = computed(() => `${this.delivery().widthPx} × ${this.delivery().heightPx}`);
  protected readonly summary = computed(() => `${this.sizeId()} · ${deliveryAspect(this.delivery()).toFixed(2)}`);
  protected readonly subjects = computed(() => {
    const name = this.seen.about()?.name;
    const whoever = { id: NOBODY, name: 'who is sharp or in the middle', detail: name ? `now ${name}` : '' };
    return [whoever, ...this.seen.choices()];
  });

  protected setOwn(own: boolean): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    if (project && camera) this.bench.store.commit(setOwn(project, camera.id, 'delivery', own));
  }

  protected chooseSize(id: string): void {
    const [, widthPx, heightPx] = SIZES.find(([, width, height]) => `${width} × ${height}` === id) ?? [];
    if (widthPx !== undefined && heightPx !== undefined) this.set({ widthPx, heightPx, pixelAspect: 1 });
  }

  protected setWidth(value: number): void {
    const { widthPx, heightPx } = this.delivery();
    const width = Math.round(value);
    this.set(this.locked() ? { widthPx: width, heightPx: within((heightPx * width) / widthPx) } : { widthPx: width });
  }

  protected setHeight(value: number): void {
    const { widthPx, heightPx } = this.delivery();
    const height = Math.round(value);
    this.set(
      this.locked() ? { heightPx: height, widthPx: within((widthPx * height) / heightPx) } : { heightPx: height },
    );
  }

  protected turn(): void {
    const { widthPx, heightPx } = this.delivery();
    this.set({ widthPx: heightPx, heightPx: widthPx });
  }

  protected setFit(fit: Fit): void {
    const framing = this.bench.camera()?.framing;
    if (framing) this.bench.set(`Fit ${fit.replace('-', ' ')}`, { framing: { ...framing, fit } });
  }

  protected setSubject(id: string): void {
    const framing = this.bench.camera()?.framing;
    if (framing) this.bench.set('Subject', { framing: { ...framing, subjectId: id === NOBODY ? null : id } });
  }

  protected set(parts: Partial<Delivery>): void {
    const [project, camera] = [this.bench.store.project(), this.bench.camera()];
    const delivery = { ...this.delivery(), ...parts };
    const name = `Delivery ${delivery.widthPx} × ${delivery.heightPx}`;
    if (project && camera) this.bench.store.commit(setGroup(project, camera.id, 'delivery', name, parts));
  }
}

/** Whole pixels that a delivery may have. */
function within(pixels: number): number {
  return Math.max(16, Math.min(16_384, Math.round(pixels)));
}
