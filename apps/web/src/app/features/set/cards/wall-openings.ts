import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { Opening } from '@arvex/core';
import { IconButton, LengthField } from '../../../ui';

const NEW_OPENING: Opening = { atM: 0.5, widthM: 0.9, sillM: 0, heightM: 2.05 };

/** Doorways and windows of a wall. */
@Component({
  selector: 'arvex-wall-openings',
  imports: [IconButton, LengthField, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './wall-openings.html',
  styles: `
    .opening {
      margin-bottom: 5px;
    }
    .gap {
      flex: none;
      width: 28px;
    }
  `,
})
export class WallOpenings {
  readonly openings = input.required<readonly Opening[]>();
  /** Other openings, named for undo by `what`. */
  readonly openingsSet = output<{ what: string; openings: readonly Opening[] }>();

  protected add(): void {
    this.openingsSet.emit({ what: 'Opening in', openings: [...this.openings(), NEW_OPENING] });
  }

  protected set(index: number, parts: Partial<Opening>): void {
    const openings = this.openings().map((one, i) => (i === index ? { ...one, ...parts } : one));
    this.openingsSet.emit({ what: 'Opening in', openings });
  }

  protected remove(index: number): void {
    const openings = this.openings().filter((_, i) => i !== index);
    this.openingsSet.emit({ what: 'Close an opening in', openings });
  }
}
