import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { Placement } from '@arvex/core';
import { NumberField, PERCENT } from '../../../ui';

type Surface = Placement['surface'];

/** The colour of a thing, and the light it shines with by itself. */
@Component({
  selector: 'arvex-surface-fields',
  imports: [NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './surface-fields.html',
  styles: `
    input[type='color'] {
      flex: none;
      width: 36px;
      height: 28px;
      padding: 0;
      border: 1px solid var(--line);
      border-radius: var(--radius);
      background: none;
    }
  `,
})
export class SurfaceFields {
  protected readonly percent = PERCENT;
  readonly surface = input.required<Surface>();
  /** Another surface, named for undo by `what`. */
  readonly surfaceSet = output<{ what: string; surface: Surface }>();

  protected setColour(colour: string): void {
    this.surfaceSet.emit({ what: 'Colour of', surface: { ...this.surface(), colour } });
  }

  protected setRoughness(share: number): void {
    this.surfaceSet.emit({ what: 'Smoothness of', surface: { ...this.surface(), roughness: share } });
  }

  protected setLuminance(value: number): void {
    const luminanceCdM2 = value > 0 ? value : null;
    this.surfaceSet.emit({ what: 'Glow of', surface: { ...this.surface(), luminanceCdM2 } });
  }
}
