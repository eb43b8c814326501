import { ChangeDetectionStrategy, Component, inject, input } from '@angular/core';
import type { AllChannelValues, RigOf } from '@arvex/core';
import { setRig } from '@arvex/core';
import { AngleField, LengthField, VectorRow } from '../../../ui';
import { CameraBench } from '../../cameras';
import { Moves } from '../moves';

/** A crane in numbers: its arm, its base, its column and what stands on the arm's end. */
@Component({
  selector: 'arvex-crane-fields',
  imports: [AngleField, LengthField, VectorRow],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './crane-fields.html',
})
export class CraneFields {
  readonly crane = input.required<RigOf<'crane'>>();
  /** Values of all channels at the playhead. */
  readonly now = input.required<AllChannelValues>();
  protected readonly bench = new CameraBench();
  private readonly moves = inject(Moves);
  protected readonly base = ['rigX', 'rigY', 'rigZ'] as const;

  protected set(what: string, parts: Partial<RigOf<'crane'>>): void {
    this.moves.edit((project, cameraId) => setRig(project, cameraId, what, { ...this.crane(), ...parts }));
  }
}
