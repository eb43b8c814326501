import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatCheckbox } from '@angular/material/checkbox';
import { OrderEditor } from './order-editor';

/** Whether movies have the sound that lies under the cut. */
@Component({
  selector: 'arvex-sound-editor',
  imports: [MatCheckbox],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <mat-checkbox
      [checked]="order().sound"
      [disabled]="order().formats.movies.length === 0"
      (change)="set({ sound: $event.checked })"
    >
      the sound under the cut, as loud as it is heard
    </mat-checkbox>
    @if (order().formats.movies.length === 0) {
      <p class="quiet">Only movies have sound.</p>
    }
  `,
})
export class SoundEditor extends OrderEditor {}
