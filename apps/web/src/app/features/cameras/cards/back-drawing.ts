import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { CameraState } from '@arvex/core';
import { unsqueezedWidthMm } from '@arvex/core';

const WIDTH_PX = 190;
const HEIGHT_PX = 84;

/** The film back with the delivered area on it: what is used, cropped and padded, to scale. */
@Component({
  selector: 'arvex-back-drawing',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <svg [attr.viewBox]="'0 0 ' + width + ' ' + height" role="img" [attr.aria-label]="used()">
      <rect
        class="back"
        [attr.x]="back().x"
        [attr.y]="back().y"
        [attr.width]="back().width"
        [attr.height]="back().height"
      />
      <rect
        class="used"
        [attr.x]="area().x"
        [attr.y]="area().y"
        [attr.width]="area().width"
        [attr.height]="area().height"
      />
      <text [attr.x]="width / 2" [attr.y]="height / 2 + 4">{{ used() }}</text>
    </svg>
  `,
  styles: `
    :host {
      display: block;
      padding: 0 0 8px 92px;
    }
    svg {
      display: block;
      width: 100%;
      max-height: 90px;
    }
    .back {
      fill: var(--ground);
      stroke: var(--line);
    }
    .used {
      fill: none;
      stroke: var(--iris);
      stroke-dasharray: 4 3;
    }
    text {
      fill: var(--chalk);
      font: 11px var(--mono);
      text-anchor: middle;
    }
  `,
})
export class BackDrawing {
  readonly state = input.required<CameraState>();
  protected readonly width = WIDTH_PX;
  protected readonly height = HEIGHT_PX;

  private readonly scale = computed(() => {
    const { filmBack, framing } = this.state();
    const width = Math.max(unsqueezedWidthMm(filmBack), framing.used.widthMm);
    const height = Math.max(filmBack.heightMm, framing.used.heightMm);
    return Math.min((WIDTH_PX - 4) / width, (HEIGHT_PX - 4) / height);
  });
  protected readonly back = computed(() =>
    this.centred(unsqueezedWidthMm(this.state().filmBack), this.state().filmBack.heightMm),
  );
  protected readonly area = computed(() =>
    this.centred(this.state().framing.used.widthMm, this.state().framing.used.heightMm),
  );
  protected readonly used = computed(() => {
    const { widthMm, heightMm } = this.state().framing.used;
    return `${widthMm.toFixed(2)} × ${heightMm.toFixed(2)} used`;
  });

  private centred(widthMm: number, heightMm: number) {
    const [width, height] = [widthMm * this.scale(), heightMm * this.scale()];
    return { x: (WIDTH_PX - width) / 2, y: (HEIGHT_PX - height) / 2, width, height };
  }
}
