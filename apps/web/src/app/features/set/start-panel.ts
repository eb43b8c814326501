import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import type { StartingPlace } from '@arvex/core';
import { setOf, STARTING_PLACES, startingPlace } from '@arvex/core';
import { acceptOf, namesOf } from '@arvex/interchange/tables';
import { Notices, ProjectStore } from '../../data';
import { FreeCamera, Workspace } from '../../session';
import { FilesIn } from '../interchange';

/** What a project with nothing in it asks first: what is there? */
@Component({
  selector: 'arvex-start-panel',
  imports: [MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2>What is there?</h2>
    <p>Begin with a place, each with a figure of 1.75 m in it, or bring in your own. A camera comes next.</p>
    <div class="places">
      @for (place of places; track place.id) {
        <button type="button" [attr.data-place]="place.id" (click)="begin(place)">
          <mat-icon>{{ place.icon }}</mat-icon>
          <b>{{ place.name }}</b>
          <small>{{ place.does }}</small>
        </button>
      }
      <button type="button" (click)="chooser.click()">
        <mat-icon>upload_file</mat-icon>
        <b>My own files</b>
        <small>{{ names }}, or pictures as cards</small>
      </button>
    </div>
    <input
      #chooser
      type="file"
      multiple
      [accept]="accepted"
      hidden
      aria-label="Files to begin with"
      (change)="bringIn(chooser)"
    />
  `,
  styleUrl: './start-panel.scss',
})
export class StartPanel {
  private readonly store = inject(ProjectStore);
  private readonly workspace = inject(Workspace);
  private readonly freeCamera = inject(FreeCamera);
  private readonly notices = inject(Notices);
  private readonly filesIn = inject(FilesIn);
  protected readonly accepted = acceptOf('geometry', 'picture');
  protected readonly names = namesOf('geometry');
  protected readonly places = STARTING_PLACES;

  protected begin(place: StartingPlace): void {
    const project = this.store.project();
    const setId = project && setOf(project)?.id;
    if (!project || setId === undefined) return;
    if (!this.store.commit(startingPlace(project, setId, place, () => crypto.randomUUID()))) return;
    this.freeCamera.pose.set(place.view);
    this.workspace.show('free', 'upper');
    this.workspace.show('plan', 'lower');
    this.notices.done('Look about, and press “Make camera from this view” where it is good.');
  }

  protected bringIn(input: HTMLInputElement): void {
    const files = [...(input.files ?? [])];
    if (files.length > 0) void this.filesIn.take(files);
    input.value = '';
    this.workspace.show('free', 'upper');
  }
}
