import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatSliderModule } from '@angular/material/slider';
import { FALSE_COLOURS } from '@arvex/stage/view';
import { PictureTools } from '../../features/cameras';

/** What the false colours mean, or from where the zebra is drawn. */
@Component({
  selector: 'arvex-display-legend',
  imports: [MatSliderModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (tools.displayKind() === 'stops') {
      <ul aria-label="Stops from the mid-tone">
        @for (step of steps; track step.name) {
          <li><i [style.background]="step.colour"></i>{{ step.name }}</li>
        }
      </ul>
    } @else if (tools.displayKind() === 'zebra') {
      <label>
        zebra from
        <mat-slider [min]="0.2" [max]="1" [step]="0.05">
          <input
            matSliderThumb
            aria-label="Level of the zebra"
            [value]="tools.zebraLevel()"
            (valueChange)="tools.zebraLevel.set($event)"
          />
        </mat-slider>
        <span class="num">{{ (tools.zebraLevel() * 100).toFixed(0) }} %</span>
      </label>
    }
  `,
  styles: `
    :host {
      position: absolute;
      right: 52px;
      bottom: 34px;
      color: #ece8e1;
      font-size: 11px;
    }
    ul,
    label {
      margin: 0;
      padding: 6px 10px;
      border-radius: 8px;
      background: rgb(18 18 19 / 86%);
      list-style: none;
    }
    label {
      display: flex;
      align-items: center;
      gap: 8px;
    }
    li {
      display: flex;
      align-items: center;
      gap: 7px;
      line-height: 16px;
    }
    i {
      width: 14px;
      height: 11px;
      border-radius: 2px;
    }
    mat-slider {
      width: 90px;
      min-width: 0;
    }
  `,
})
export class DisplayLegend {
  protected readonly tools = inject(PictureTools);
  /** From the brightest, as a scale is read. */
  protected readonly steps = [...FALSE_COLOURS].reverse().map(({ name, rgb }) => ({
    name,
    colour: `rgb(${rgb.map((part) => Math.round(part * 255)).join(' ')})`,
  }));
}
