import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import type { Wearers } from '@arvex/core';
import { othersWords } from '../wearers-words';

interface Asked {
  readonly name: string;
  /** Nothing where no look is worn yet. */
  readonly look: string | undefined;
  readonly others: Wearers;
  readonly what: string;
}

/** Whether a change of a look is meant for all that wear it, or for one camera alone. */
@Component({
  selector: 'arvex-look-scope-dialog',
  imports: [MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>For this camera, or for all?</h2>
    <mat-dialog-content>
      <p>
        @if (asked.look) {
          {{ asked.name }} shares the look “{{ asked.look }}” with {{ words }}.
        } @else {
          {{ asked.name }} has no look yet; {{ words }} are without one too.
        }
        “{{ asked.what }}” would change their pictures too.
      </p>
      <p class="names">{{ names }}</p>
    </mat-dialog-content>
    <mat-dialog-actions>
      <button type="button" class="pill" mat-dialog-close>Leave it as it is</button>
      <button type="button" class="pill" [mat-dialog-close]="'all'">All of them</button>
      <button type="button" class="pill filled" cdkFocusInitial [mat-dialog-close]="'alone'">
        A copy for {{ asked.name }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    p {
      margin: 0;
    }
    .names {
      margin-top: 8px;
      color: var(--chalk-2);
    }
    mat-dialog-actions {
      gap: 8px;
      justify-content: flex-end;
    }
  `,
})
export class LookScopeDialog {
  protected readonly asked = inject<Asked>(MAT_DIALOG_DATA);
  protected readonly words = othersWords(this.asked.others);
  protected readonly names = this.asked.others.cameras.map(({ name }) => name).join(', ');
}
