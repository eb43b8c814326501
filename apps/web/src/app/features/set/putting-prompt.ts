import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { SetPieces } from './pieces';

/** Says what a click does while something is in hand. */
@Component({
  selector: 'arvex-putting-prompt',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (pieces.putting(); as offer) {
      <p role="status">
        <mat-icon>add_location_alt</mat-icon>
        <span
          >Click where the {{ offer.name.toLowerCase() }} is to stand. Shift puts several, Enter puts it ahead.</span
        >
        <button type="button" class="pill" (click)="pieces.putting.set(undefined)">Done (Esc)</button>
      </p>
    } @else if (pieces.attaching()) {
      <p role="status">
        <mat-icon>link</mat-icon>
        <span>Click the thing that is to carry what you have chosen.</span>
        <button type="button" class="pill" (click)="pieces.attaching.set(false)">Leave it (Esc)</button>
      </p>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
    p {
      position: absolute;
      top: 44px;
      left: 50%;
      z-index: 4;
      display: flex;
      align-items: center;
      gap: 10px;
      margin: 0;
      padding: 5px 6px 5px 12px;
      border: 1px solid var(--iris-dim);
      border-radius: 18px;
      background: var(--panel);
      white-space: nowrap;
      transform: translateX(-50%);
    }
  `,
})
export class PuttingPrompt {
  protected readonly pieces = inject(SetPieces);
}
