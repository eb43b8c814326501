import type { ElementRef, OnDestroy } from '@angular/core';
import { afterRenderEffect, ChangeDetectionStrategy, Component, computed, inject, viewChild } from '@angular/core';
import type { Scopes } from '@arvex/stage';
import { Meter } from '../meter';

const WIDTH = 300;
const HISTOGRAM_HEIGHT = 70;
const WAVEFORM_HEIGHT = 84;
const CHANNELS = [
  { key: 'r', colour: 'rgb(224 108 96 / 55%)' },
  { key: 'g', colour: 'rgb(112 188 140 / 55%)' },
  { key: 'b', colour: 'rgb(106 140 224 / 55%)' },
] as const;

/** Histogram and waveform of what the camera delivers, counted where the picture is drawn. */
@Component({
  selector: 'arvex-picture-scopes',
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <canvas #histogram [width]="width" [height]="histogramHeight" role="img" aria-label="Histogram"></canvas>
    <canvas #waveform [width]="width" [height]="waveformHeight" role="img" aria-label="Waveform"></canvas>
    <p class="num quiet">{{ text() }}</p>
  `,
  styles: `
    canvas {
      display: block;
      width: 100%;
      margin-bottom: 6px;
      border-radius: var(--radius);
      background: #121213;
    }
    p {
      margin: 0 0 9px;
      font-size: 12px;
    }
  `,
})
export class PictureScopes implements OnDestroy {
  private readonly meter = inject(Meter);
  private readonly histogram = viewChild.required<ElementRef<HTMLCanvasElement>>('histogram');
  private readonly waveform = viewChild.required<ElementRef<HTMLCanvasElement>>('waveform');
  protected readonly width = WIDTH;
  protected readonly histogramHeight = HISTOGRAM_HEIGHT;
  protected readonly waveformHeight = WAVEFORM_HEIGHT;
  protected readonly text = computed(() => {
    const scopes = this.meter.scopes();
    if (!scopes) return 'measuring …';
    return `${(scopes.clipped * 100).toFixed(1)} % clips · ${(scopes.black * 100).toFixed(1)} % is black`;
  });

  constructor() {
    this.meter.scopesWanted.set(true);
    afterRenderEffect(() => {
      const scopes = this.meter.scopes();
      const [histogram, waveform] = [this.histogram(), this.waveform()].map((one) =>
        one.nativeElement.getContext('2d'),
      );
      if (!scopes || !histogram || !waveform) return;
      drawHistogram(histogram, scopes);
      drawWaveform(waveform, scopes);
    });
  }

  ngOnDestroy(): void {
    this.meter.scopesWanted.set(false);
  }
}

function drawHistogram(context: CanvasRenderingContext2D, { histogram }: Scopes): void {
  context.clearRect(0, 0, WIDTH, HISTOGRAM_HEIGHT);
  // The ends, where everything clips together, would dwarf the rest.
  const tallest = Math.max(1, ...histogram.y.slice(2, -2));
  for (const { key, colour } of CHANNELS) {
    context.beginPath();
    context.moveTo(0, HISTOGRAM_HEIGHT);
    histogram[key].forEach((count, i) => {
      context.lineTo(
        (i / 255) * WIDTH,
        HISTOGRAM_HEIGHT - Math.min(1, Math.sqrt(count / tallest)) * (HISTOGRAM_HEIGHT - 4),
      );
    });
    context.lineTo(WIDTH, HISTOGRAM_HEIGHT);
    context.fillStyle = colour;
    context.fill();
  }
}

function drawWaveform(context: CanvasRenderingContext2D, { waveform }: Scopes): void {
  const { columns, steps, counts } = waveform;
  const image = new ImageData(columns, steps);
  for (let x = 0; x < columns; x++) {
    for (let step = 0; step < steps; step++) {
      const count = counts[x * steps + step] ?? 0;
      const at = ((steps - 1 - step) * columns + x) * 4;
      image.data.set([200, 202, 255, Math.min(255, count * 42)], at);
    }
  }
  const small = new OffscreenCanvas(columns, steps);
  small.getContext('2d')?.putImageData(image, 0, 0);
  context.clearRect(0, 0, WIDTH, WAVEFORM_HEIGHT);
  context.drawImage(small, 0, 0, WIDTH, WAVEFORM_HEIGHT);
}
