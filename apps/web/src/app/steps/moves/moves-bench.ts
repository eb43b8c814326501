import { ChangeDetectionStrategy, Component } from '@angular/core';
import { CameraBench } from '../../bench/camera-bench';
import { Findings } from '../../bench/findings';
import { FocusCard } from '../cameras/focus-card';
import { LensCard } from '../cameras/lens-card';
import { PlaceCard } from '../cameras/place-card';
import { AddMoveCard } from './add-move-card';
import { ComfortCard } from './comfort-card';
import { HandCard } from './hand-card';
import { MarksSection } from './marks-section';
import { RackCard } from './rack-card';
import { RigCard } from './rig-card';
import { TimingCard } from './timing-card';

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
  styleUrl: '../bench-step.scss',
})
export class MovesBench {
  protected readonly bench = new CameraBench();
}
