import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';

/** Whether an exposure is meant for one camera or for all that share it. */
@Component({
  selector: 'arvex-exposure-scope-dialog',
  imports: [MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>For this camera, or for all?</h2>
    <mat-dialog-content>
      <p>
        {{ asked.name }} follows the exposure of the project, which {{ asked.others }}
        {{ asked.others === 1 ? 'other camera shares' : 'other cameras share' }}. “{{ asked.what }}” would change their
        pictures too.
      </p>
    </mat-dialog-content>
    <mat-dialog-actions>
      <button type="button" class="pill" mat-dialog-close>Leave it as it is</button>
      <button type="button" class="pill" [mat-dialog-close]="'all'">All {{ asked.others + 1 }} cameras</button>
      <button type="button" class="pill filled" cdkFocusInitial [mat-dialog-close]="'own'">
        Only {{ asked.name }}
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    p {
      margin: 0;
    }
    mat-dialog-actions {
      gap: 8px;
      justify-content: flex-end;
    }
  `,
})
export class ExposureScopeDialog {
  protected readonly asked = inject<{ name: string; others: number; what: string }>(MAT_DIALOG_DATA);
}
