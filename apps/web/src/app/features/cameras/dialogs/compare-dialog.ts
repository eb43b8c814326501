import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MAT_DIALOG_DATA, MatDialogModule } from '@angular/material/dialog';
import { CAMERA_PART_NAMES, cameraFacts } from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Thumbnail } from '../../../drawing';
import { Playhead, Viewpoint } from '../../../session';

/** Two cameras' pictures side by side and their settings line by line; what differs stands out. */
@Component({
  selector: 'arvex-compare-dialog',
  imports: [Thumbnail, MatDialogModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>{{ names()[0] }} and {{ names()[1] }}</h2>
    <mat-dialog-content>
      <label class="only">
        <input type="checkbox" [checked]="differing()" (change)="differing.set(!differing())" /> only what differs ({{
          count()
        }})
      </label>
      <table>
        <thead>
          <tr>
            <th scope="col">setting</th>
            @for (one of pictured(); track one.id) {
              <th scope="col">
                <arvex-thumbnail [style.aspect-ratio]="one.aspect" [cameraId]="one.id" [atFlicks]="atFlicks()" />
                {{ one.name }}
              </th>
            }
          </tr>
        </thead>
        <tbody>
          @for (line of lines(); track line.part + line.label) {
            <tr [class.differs]="line.differs">
              <th scope="row">
                <small>{{ line.part }}</small> {{ line.label }}
              </th>
              <td class="num">{{ line.a }}</td>
              <td class="num">{{ line.b }}</td>
            </tr>
          }
        </tbody>
      </table>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button type="button" class="pill filled" mat-dialog-close>Done</button>
    </mat-dialog-actions>
  `,
  styles: `
    table {
      width: 100%;
      border-collapse: collapse;
      font-size: 12px;
    }
    th,
    td {
      padding: 4px 8px;
      border-top: 1px solid var(--line-soft);
      color: var(--chalk-2);
      font-weight: 400;
      text-align: left;
    }
    thead th:not(:first-child) {
      width: 216px;
    }
    small {
      color: var(--chalk-3);
    }
    .differs td {
      color: var(--iris);
    }
    .only {
      display: flex;
      gap: 8px;
      align-items: center;
      margin-bottom: 8px;
    }
  `,
})
export class CompareDialog {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly viewpoint = inject(Viewpoint);
  protected readonly atFlicks = computed(() => this.playhead.seen()?.sceneFlicks ?? 0);
  private readonly ids = inject<readonly string[]>(MAT_DIALOG_DATA);
  protected readonly differing = signal(false);
  protected readonly names = computed(() => this.ids.map((id) => this.store.project()?.cameras[id]?.name ?? ''));
  protected readonly pictured = computed(() =>
    this.ids.map((id, i) => {
      const { widthMm = 16, heightMm = 9 } = this.viewpoint.stateOf(id)?.framing.used ?? {};
      return { id, name: this.names()[i], aspect: widthMm / heightMm };
    }),
  );
  private readonly all = computed(() => {
    const project = this.store.project();
    const flicks = this.playhead.seen()?.sceneFlicks ?? 0;
    const [a, b] = this.ids.map((id) => (project?.cameras[id] ? cameraFacts(project, id, flicks) : []));
    return (a ?? []).map(({ part, label, text }, i) => {
      const other = b?.[i]?.text ?? '';
      return { part: CAMERA_PART_NAMES[part], label, a: text, b: other, differs: text !== other };
    });
  });
  protected readonly count = computed(() => this.all().filter(({ differs }) => differs).length);
  protected readonly lines = computed(() => this.all().filter(({ differs }) => differs || !this.differing()));
}
