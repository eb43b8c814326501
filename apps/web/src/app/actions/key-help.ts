import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import type { Action } from '../session';
import { keyGroups } from './key-groups';

/** Keys of the present step. */
@Component({
  selector: 'arvex-key-help',
  imports: [MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>Keys in {{ data.step }}</h2>
    <mat-dialog-content tabindex="0">
      @for (group of groups; track group.name) {
        <h3>{{ group.name }}</h3>
        <dl>
          @for (row of group.rows; track row.keys) {
            <div>
              <dt>
                <kbd class="num">{{ row.keys }}</kbd>
              </dt>
              <dd>{{ row.names.join(' · ') }}</dd>
            </div>
          }
        </dl>
      }
    </mat-dialog-content>
    <mat-dialog-actions align="end"
      ><button type="button" class="pill" mat-dialog-close>Close</button></mat-dialog-actions
    >
  `,
  styles: `
    h3 {
      margin: 14px 0 4px;
      padding-bottom: 4px;
      border-bottom: 1px solid var(--line-soft);
      font-size: 13px;
      font-weight: 500;

      &:first-of-type {
        margin-top: 0;
      }
    }
    dl {
      columns: 2;
      column-gap: 28px;
      margin: 0;
    }
    div {
      display: flex;
      gap: 10px;
      padding: 4px 0;
      break-inside: avoid;
    }
    dt {
      flex: none;
      width: 102px;
      text-align: right;
    }
    kbd {
      padding: 1px 7px;
      border: 1px solid var(--line);
      border-radius: 4px;
      font-size: 11.5px;
      white-space: nowrap;
    }
    dd {
      margin: 0;
    }
  `,
})
export class KeyHelp {
  protected readonly data = inject<{ step: string; actions: readonly Action[] }>(MAT_DIALOG_DATA);
  protected readonly groups = keyGroups(this.data.step, this.data.actions);
}
