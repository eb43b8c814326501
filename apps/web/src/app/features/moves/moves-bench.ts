import { ChangeDetectionStrategy, Component } from '@angular/core';
import { Findings } from '../../readiness';
import { Cards } from '../../ui';
import { CameraBench } from '../cameras';
import { MarksSection } from './cards/marks-section';

/** The bench of the Moves step: marks, rig, moves by name, comfort and timing of the camera looked through. */
@Component({
  selector: 'arvex-moves-bench',
  imports: [Cards, Findings, MarksSection],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bench.camera()) {
      <arvex-marks-section />
      <arvex-findings step="moves" />
      <arvex-cards step="moves" />
    } @else {
      <arvex-findings step="moves" />
      <p class="empty">No camera is looked through. Choose one above.</p>
    }
  `,
  styleUrl: '../../ui/bench-step.scss',
})
export class MovesBench {
  protected readonly bench = new CameraBench();
}
