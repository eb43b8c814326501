import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { movedParts, Placement, placementValuesAt } from '@arvex/core';
import { withAxis } from '@arvex/core';
import { AngleField, VectorRow } from '../../../ui';

type PoseParts = Parameters<typeof movedParts>[2];

/** Where a thing stands, and how it is turned. */
@Component({
  selector: 'arvex-pose-fields',
  imports: [AngleField, VectorRow],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './pose-fields.html',
})
export class PoseFields {
  readonly placement = input.required<Placement>();
  /** Its channels at the playhead. */
  readonly values = input.required<ReturnType<typeof placementValuesAt>>();
  /** What of its pose changes, named for undo by `what`. */
  readonly poseSet = output<{ what: string; pose: PoseParts }>();

  protected setPlace(axis: number, value: number): void {
    const { positionX, positionY, positionZ } = this.values();
    this.set('Place', { positionM: withAxis([positionX, positionY, positionZ], axis, value) });
  }

  protected set(what: string, pose: PoseParts): void {
    this.poseSet.emit({ what, pose });
  }
}
