import type { OnDestroy } from '@angular/core';
import { afterNextRender, DestroyRef, Directive, effect, ElementRef, inject, input } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import type { ApexOptions } from 'apexcharts';
import type ApexCharts from 'apexcharts';
import { fetched } from '../data';

/** Draws a chart into its element; the library is fetched when the first chart is shown. */
@Directive({ selector: '[arvexChart]' })
export class Chart implements OnDestroy {
  readonly options = input.required<ApexOptions>({ alias: 'arvexChart' });
  private readonly element = inject<ElementRef<HTMLElement>>(ElementRef).nativeElement;
  private chart: ApexCharts | undefined;
  private gone = false;

  constructor() {
    const library = fetched(() => import('apexcharts')).pipe(takeUntilDestroyed(inject(DestroyRef)));
    afterNextRender(() => library.subscribe(({ default: Apex }) => void this.draw(Apex)));
    effect(() => {
      const options = this.options();
      void this.chart?.updateOptions(options, false, false);
    });
  }

  private async draw(Apex: typeof ApexCharts): Promise<void> {
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
