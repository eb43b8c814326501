import { ChangeDetectionStrategy, Component } from '@angular/core';
import { CameraBench } from '../cameras';
import { Findings } from '../../readiness';
import { FocusCard } from '../cameras';
import { LensCard } from '../cameras';
import { PlaceCard } from '../cameras';
import { AddMoveCard } from './cards/add-move-card';
import { ComfortCard } from './cards/comfort-card';
import { HandCard } from './cards/hand-card';
import { MarksSection } from './cards/marks-section';
import { RackCard } from './cards/rack-card';
import { RigCard } from './cards/rig-card';
import { TimingCard } from './cards/timing-card';

/** The bench of the Moves step: marks, rig, moves by name, comfort and timing of the camera looked through. */
@Component({
  selector: 'arvex-moves-bench',
  imports: [
    ...[AddMoveCard, ComfortCard, Findings, FocusCard, HandCard, LensCard, MarksSection],
    ...[PlaceCard, RackCard, RigCard, TimingCard],
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bench.camera()) {
      <arvex-marks-section />
      <arvex-rig-card />
      <arvex-hand-card />
      <arvex-add-move-card />
      <arvex-comfort-card />
      <arvex-timing-card />
      <arvex-rack-card />
      <arvex-place-card />
      <arvex-lens-card />
      <arvex-focus-card />
    } @else {
      <p class="empty">No camera is looked through. Choose one above.</p>
    }
    <arvex-findings step="moves" />
  `,
  styleUrl: '../../ui/bench-step.scss',
})
export class MovesBench {
  protected readonly bench = new CameraBench();
}
