import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';

/** Whether the first change of a variation that was kept just now is meant for it, or begins another one. */
@Component({
  selector: 'arvex-kept-variation-dialog',
  imports: [MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>Change “{{ asked.name }}”?</h2>
    <mat-dialog-content>
      <p>
        “{{ asked.name }}” was kept just now. What you change can be a part of it, or begin another variation from it.
      </p>
    </mat-dialog-content>
    <mat-dialog-actions>
      <button type="button" class="pill" mat-dialog-close>Leave it as it is</button>
      <button type="button" class="pill" [mat-dialog-close]="'begin'">Begin another one</button>
      <button type="button" class="pill filled" cdkFocusInitial [mat-dialog-close]="'change'">
        Change {{ asked.name }}
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
export class KeptVariationDialog {
  protected readonly asked = inject<{ readonly name: string }>(MAT_DIALOG_DATA);
}
