import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { ComfortEvent, ComfortFrame, ComfortLimits } from '@arvex/core';
import { stretchMove } from '@arvex/core';
import type { ApexOptions } from 'apexcharts';
import { Playhead } from '../../../session';
import { Card, Chart, DurationField, NumberField, Switch } from '../../../ui';
import { CameraBench } from '../../cameras';
import { ComfortReport } from '../comfort-report';
import { Moves } from '../moves';

const MEASURES: readonly { id: keyof ComfortFrame; name: string; unit: string }[] = [
  { id: 'flow', name: 'picture flow', unit: 'frame widths/s' },
  { id: 'speed', name: 'speed', unit: 'm/s' },
  { id: 'turnRate', name: 'turn rate', unit: '°/s' },
];
/** More points than this are drawn as the greatest of a few frames each. */
const MOST_POINTS = 240;

/** Whether an audience would mind the move: along its time, with what is wrong and its mend. */
@Component({
  selector: 'arvex-comfort-card',
  imports: [DurationField, Switch, Card, Chart, MatIcon, MatTooltip, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './comfort-card.html',
  styleUrl: './comfort-card.scss',
})
export class ComfortCard {
  protected readonly bench = new CameraBench();
  protected readonly report = inject(ComfortReport);
  private readonly moves = inject(Moves);
  private readonly playhead = inject(Playhead);
  protected readonly measures = MEASURES;
  protected readonly measure = signal<keyof ComfortFrame>('flow');

  protected readonly comfort = computed(() => {
    const found = this.report.comfort();
    return found && found.cameraId === this.bench.camera()?.id ? found.comfort : undefined;
  });
  protected readonly summary = computed(() => {
    const comfort = this.comfort();
    if (!comfort) return 'nothing moves';
    return `restless ${comfort.restless.whole.toFixed(2)} of 1`;
  });
  protected readonly parts = computed(() => {
    const { flow, strobe, wavering, jolts } = this.comfort()?.restless ?? { flow: 0, strobe: 0, wavering: 0, jolts: 0 };
    const all = [
      { name: 'flow', value: flow, hint: 'mean picture flow against the judder limit' },
      { name: 'strobing', value: strobe, hint: 'share of the time over the limit, twofold' },
      { name: 'wavering', value: wavering, hint: 'how often it turns round; three times a second is 1' },
      { name: 'jolts', value: jolts, hint: 'sudden starts and stops; four are 1' },
    ];
    return all;
  });
  protected readonly limitText = computed(() => {
    const comfort = this.comfort();
    if (!comfort) return '';
    const rate = this.bench.state()?.exposure.shutterAngleDeg ?? 180;
    return `limit ${comfort.flowLimit.toFixed(3)}: a frame width in ${(1 / comfort.flowLimit).toFixed(1)} s at ${Math.round(rate)}°`;
  });
  protected readonly now = computed(() => {
    const comfort = this.comfort();
    if (!comfort) return undefined;
    const frame = Math.round((this.moves.atFlicks() - comfort.fromFlicks) / this.moves.frameFlicks());
    return comfort.frames[frame];
  });

  protected readonly chart = computed<ApexOptions | undefined>(() => {
    const comfort = this.comfort();
    // A closed card is not in the page: a chart has nothing to be drawn into.
    if (!this.bench.isOpen('comfort') || !comfort || comfort.frames.length < 2) return undefined;
    const { id, name, unit } = MEASURES.find((one) => one.id === this.measure()) ?? {
      id: 'flow' as const,
      name: '',
      unit: '',
    };
    const first = (this.bench.store.project()?.head.firstFrame ?? 0) + this.report.sceneFrame(0);
    const step = Math.max(1, Math.ceil(comfort.frames.length / MOST_POINTS));
    const data = comfort.frames.flatMap((_, i) =>
      i % step === 0
        ? [{ x: first + i, y: Math.max(...comfort.frames.slice(i, i + step).map((frame) => frame[id])) }]
        : [],
    );
    const limit = id === 'flow' ? comfort.flowLimit : undefined;
    const strobes = comfort.events.filter(({ kind }) => kind === 'strobe' && id === 'flow');
    return {
      chart: {
        type: 'area',
        height: 132,
        animations: { enabled: false },
        toolbar: { show: false },
        zoom: { enabled: false },
        background: 'transparent',
        fontFamily: 'inherit',
        parentHeightOffset: 0,
        events: { click: (_event, _context, options) => this.pick(options as { dataPointIndex: number }, step) },
      },
      series: [{ name: `${name}, ${unit}`, data }],
      colors: ['#a3a6ff'],
      dataLabels: { enabled: false },
      stroke: { curve: 'straight', width: 1.5 },
      fill: { type: 'solid', opacity: 0.16 },
      grid: { borderColor: 'rgba(128,128,128,.22)', padding: { left: 4, right: 8, top: -12, bottom: -4 } },
      xaxis: {
        type: 'numeric',
        tickAmount: 4,
        decimalsInFloat: 0,
        labels: { style: { colors: '#8d8a84', fontSize: '10px' } },
        axisBorder: { show: false },
        tooltip: { enabled: false },
      },
      yaxis: { min: 0, decimalsInFloat: 2, tickAmount: 3, labels: { style: { colors: '#8d8a84', fontSize: '10px' } } },
      tooltip: {
        theme: 'dark',
        x: { formatter: (frame) => `frame ${frame}` },
        y: { formatter: (value) => value.toFixed(3) },
      },
      annotations: {
        yaxis: limit === undefined ? [] : [{ y: limit, borderColor: '#e9b44c', strokeDashArray: 4 }],
        xaxis: [
          ...this.playLine(),
          ...strobes.map(({ fromFrame, toFrame }) => ({
            x: first + fromFrame,
            x2: first + toFrame + 1,
            fillColor: '#e9b44c',
            opacity: 0.22,
            borderColor: 'transparent',
          })),
        ],
      },
    };
  });
  /** The playhead as a line of the chart, while it rests. */
  private playLine(): { x: number; borderColor: string; strokeDashArray: number }[] {
    if (this.playhead.playing()) return [];
    const first = this.bench.store.project()?.head.firstFrame ?? 0;
    const x = first + Math.round(this.moves.atFlicks() / this.moves.frameFlicks());
    return [{ x, borderColor: '#e9e4da', strokeDashArray: 0 }];
  }

  private pick({ dataPointIndex }: { dataPointIndex: number }, step: number): void {
    if (dataPointIndex >= 0) this.report.goTo(dataPointIndex * step);
  }

  protected words({ kind, worst, limit, unit }: ComfortEvent): string {
    if (kind === 'strobe')
      return `Strobes: a frame width in ${(1 / worst).toFixed(1)} s; ${(1 / limit).toFixed(1)} s would not`;
    const what = { 'sudden-stop': 'Stops', 'sudden-start': 'Starts', reversal: 'Turns round' }[kind];
    return `${what} suddenly: ${worst.toFixed(1)} ${unit}, limit ${limit.toFixed(1)}`;
  }

  protected where({ fromFrame, toFrame }: ComfortEvent): string {
    const first = (this.bench.store.project()?.head.firstFrame ?? 0) + this.report.sceneFrame(0);
    return fromFrame === toFrame ? `frame ${first + fromFrame}` : `frames ${first + fromFrame} to ${first + toFrame}`;
  }

  protected setLimit(parts: Partial<ComfortLimits>): void {
    this.report.limits.update((limits) => ({ ...limits, ...parts }));
  }

  /** Makes the whole move so much longer that nothing strobes. */
  protected slow(): void {
    const [span, factor] = [this.moves.span(), this.report.calmFactor()];
    if (!span) return;
    const frame = this.moves.frameFlicks();
    const length = Math.ceil(((span[1] - span[0]) * factor) / frame) * frame;
    this.moves.edit((project, cameraId) => stretchMove(project, cameraId, length, { along: 'camera' }));
  }
}
