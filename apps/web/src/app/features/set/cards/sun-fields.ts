import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import type { SetEntity, Sun, SunPlace } from '@arvex/core';
import { sunPlaceSchema } from '@arvex/core';
import { AngleField, NumberField } from '../../../ui';

/** Where the sun stands: by place and time, or by its angles. */
@Component({
  selector: 'arvex-sun-fields',
  imports: [AngleField, NumberField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './sun-fields.html',
  styles: `
    .whole {
      flex: 1;
    }
    input[type='datetime-local'] {
      flex: 1;
      min-width: 0;
      color-scheme: inherit;
    }
  `,
})
export class SunFields {
  readonly set = input.required<SetEntity>();
  /** The sun as it stands now, whatever that comes from. */
  readonly sun = input.required<Sun>();
  /** What of the set changes, named for undo by `what`. */
  readonly changed = output<{ what: string; parts: Partial<SetEntity> }>();

  protected setSun(what: string, parts: Partial<Sun>): void {
    this.changed.emit({ what, parts: { sun: { ...this.set().sun, ...parts } } });
  }

  protected setPlace(what: string, parts: Partial<SunPlace>): void {
    const place = sunPlaceSchema.safeParse({ ...this.set().sunPlace, ...parts });
    if (place.success) this.changed.emit({ what, parts: { sunPlace: place.data } });
  }
}
