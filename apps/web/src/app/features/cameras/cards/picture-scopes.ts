import type { ElementRef, OnDestroy } from '@angular/core';
import { afterRenderEffect, ChangeDetectionStrategy, Component, computed, inject, viewChild } from '@angular/core';
import { chromaOf } from '@arvex/core';
import type { Scopes } from '@arvex/stage';
import { Switch, switchChoices } from '../../../ui';
import { Meter } from '../meter';

const WIDTH = 300;
const HISTOGRAM_HEIGHT = 70;
const WAVEFORM_HEIGHT = 84;
const VECTORS_SIZE = 150;
/** Colours of full strength that are marked in the vectorscope, by their letters. */
const HUES = [
  ['R', 1, 0, 0],
  ['Y', 1, 1, 0],
  ['G', 0, 1, 0],
  ['C', 0, 1, 1],
  ['B', 0, 0, 1],
  ['M', 1, 0, 1],
] as const;
const CHANNELS = [
  { key: 'r', colour: 'rgb(224 108 96 / 55%)' },
  { key: 'g', colour: 'rgb(112 188 140 / 55%)' },
  { key: 'b', colour: 'rgb(106 140 224 / 55%)' },
] as const;

/** Histogram and waveform of what the camera delivers, counted where the picture is drawn. */
@Component({
  selector: 'arvex-picture-scopes',
  imports: [Switch],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div class="row">
      <span class="label">Scopes of</span>
      <arvex-switch
        label="What the scopes count"
        [choices]="kinds"
        [value]="meter.scopesOf()"
        (chosen)="meter.scopesOf.set($event)"
      />
    </div>
    <canvas #histogram [width]="width" [height]="histogramHeight" role="img" aria-label="Histogram"></canvas>
    <canvas #waveform [width]="width" [height]="waveformHeight" role="img" aria-label="Waveform"></canvas>
    <canvas
      #vectors
      [width]="vectorsSize"
      [height]="vectorsSize"
      role="img"
      aria-label="Vectorscope"
      class="vectors"
    ></canvas>
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
    .vectors {
      width: 150px;
      margin: 0 auto 6px;
    }
    p {
      margin: 0 0 9px;
      font-size: 12px;
    }
  `,
})
export class PictureScopes implements OnDestroy {
  protected readonly meter = inject(Meter);
  protected readonly kinds = switchChoices(['light', 'look'] as const, {
    light: 'the light',
    look: 'the look',
  });
  protected readonly vectorsSize = VECTORS_SIZE;
  private readonly vectors = viewChild.required<ElementRef<HTMLCanvasElement>>('vectors');
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
      const [histogram, waveform, vectors] = [this.histogram(), this.waveform(), this.vectors()].map((one) =>
        one.nativeElement.getContext('2d'),
      );
      if (!scopes || !histogram || !waveform || !vectors) return;
      drawVectors(vectors, scopes);
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

/** Where a colour lies in the vectorscope: bluer to the right, redder upward. */
function vectorPlace(r: number, g: number, b: number): readonly [number, number] {
  const [bluer, redder] = chromaOf([r, g, b]);
  return [(bluer + 0.5) * VECTORS_SIZE, (0.5 - redder) * VECTORS_SIZE];
}

function drawVectors(context: CanvasRenderingContext2D, { vectors: { cells, counts } }: Scopes): void {
  const image = new ImageData(cells, cells);
  counts.forEach((count, i) => image.data.set([200, 202, 255, Math.min(255, count * 26)], i * 4));
  const small = new OffscreenCanvas(cells, cells);
  small.getContext('2d')?.putImageData(image, 0, 0);
  context.clearRect(0, 0, VECTORS_SIZE, VECTORS_SIZE);
  context.strokeStyle = '#2a2a2c';
  context.beginPath();
  context.moveTo(VECTORS_SIZE / 2, 0);
  context.lineTo(VECTORS_SIZE / 2, VECTORS_SIZE);
  context.moveTo(0, VECTORS_SIZE / 2);
  context.lineTo(VECTORS_SIZE, VECTORS_SIZE / 2);
  context.stroke();
  context.drawImage(small, 0, 0, VECTORS_SIZE, VECTORS_SIZE);
  context.fillStyle = '#8b8b90';
  context.font = '9px sans-serif';
  context.textAlign = 'center';
  for (const [letter, r, g, b] of HUES) {
    // Three quarters of full strength, as bars have it.
    const [x, y] = vectorPlace(r * 0.75, g * 0.75, b * 0.75);
    context.fillText(letter, x, y + 3);
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
