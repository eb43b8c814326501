import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import type { Entity, Operation } from '@arvex/core';
import { entityIn } from '@arvex/core';
import type { Conflict } from '../data';
import { ProjectStore } from '../data';
import { differencesOf } from './difference-words';

/** Two people changed the same thing: both versions, and the choice between them. */
@Component({
  selector: 'arvex-conflict-dialog',
  imports: [MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>Changed in two places</h2>
    <mat-dialog-content>
      <p>
        “{{ conflict.waiting.change.name }}” was made here while {{ name }} was changed elsewhere. Nothing is
        overwritten until you choose.
      </p>
      <table class="num">
        <tr>
          <th></th>
          <th>here</th>
          <th>elsewhere</th>
        </tr>
        @for (difference of differences; track difference.field) {
          <tr>
            <th>{{ difference.field }}</th>
            <td>{{ difference.mine }}</td>
            <td>{{ difference.theirs }}</td>
          </tr>
        }
      </table>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button type="button" class="pill" mat-dialog-close="theirs">Keep the other version</button>
      @if (conflict.theirs) {
        <button type="button" class="pill filled" mat-dialog-close="mine">Put mine over it</button>
      }
    </mat-dialog-actions>
  `,
  styles: `
    table {
      width: 100%;
      table-layout: fixed;
      border-collapse: collapse;
      font-size: 12px;
    }
    th {
      color: var(--chalk-2);
      font: 13px var(--sans);
      text-align: left;
      vertical-align: top;
    }
    td,
    th {
      padding: 5px 8px;
      border-top: 1px solid var(--line-soft);
      overflow-wrap: break-word;
    }
    mat-dialog-actions {
      gap: 8px;
    }
  `,
})
export class ConflictDialog {
  protected readonly conflict = inject<Conflict>(MAT_DIALOG_DATA);
  private readonly project = inject(ProjectStore).project();
  protected readonly differences = this.conflict.waiting.change.operations.flatMap((operation) =>
    operation.op === 'patch' ? differencesOf(operation, this.entityOf(operation), this.project) : [],
  );
  protected readonly name = this.nameOf();

  private entityOf({ kind, id }: Operation): Entity | undefined {
    return this.conflict.theirs?.id === id ? this.conflict.theirs : this.project && entityIn(this.project, kind, id);
  }

  private nameOf(): string {
    const { theirs } = this.conflict;
    return theirs && 'name' in theirs ? `“${theirs.name}”` : 'the same thing';
  }
}
