import type { ElementRef } from '@angular/core';
import { afterRenderEffect, ChangeDetectionStrategy, Component, input, viewChild } from '@angular/core';

/** A picture that was drawn elsewhere; dark while it is not there yet. */
@Component({
  selector: 'arvex-bitmap',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `<canvas #canvas aria-hidden="true"></canvas>`,
  styles: `
    :host {
      display: block;
      overflow: hidden;
      background: #111;
    }
    canvas {
      display: block;
      width: 100%;
      height: 100%;
      object-fit: cover;
    }
  `,
})
export class Bitmap {
  readonly picture = input<ImageBitmap>();
  private readonly canvas = viewChild.required<ElementRef<HTMLCanvasElement>>('canvas');

  constructor() {
    afterRenderEffect(() => {
      const picture = this.picture();
      const canvas = this.canvas().nativeElement;
      if (!picture) return;
      canvas.width = picture.width;
      canvas.height = picture.height;
      canvas.getContext('2d')?.drawImage(picture, 0, 0);
    });
  }
}
