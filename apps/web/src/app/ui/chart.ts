import type { OnDestroy } from '@angular/core';
import { afterNextRender, Directive, effect, ElementRef, inject, input } from '@angular/core';
import type { ApexOptions } from 'apexcharts';
import type ApexCharts from 'apexcharts';

/** Draws a chart into its element; the library is fetched when the first chart is shown. */
@Directive({ selector: '[arvexChart]' })
export class Chart implements OnDestroy {
  readonly options = input.required<ApexOptions>({ alias: 'arvexChart' });
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private chart: ApexCharts | undefined;
  private gone = false;

  constructor() {
    afterNextRender(() => void this.begin());
    effect(() => {
      const options = this.options();
      void this.chart?.updateOptions(options, false, false);
    });
  }

  private async begin(): Promise<void> {
    const { default: Apex } = await import('apexcharts');
    if (this.gone) return;
    const chart = new Apex(this.element, this.options());
    await chart.render();
    // What was destroyed while it was drawn is taken away once it is.
    if (this.gone) chart.destroy();
    else this.chart = chart;
  }

  ngOnDestroy(): void {
    this.gone = true;
    this.chart?.destroy();
  }
}
