import type { CdkDragDrop } from '@angular/cdk/drag-drop';
import { CdkDrag, CdkDropList, moveItemInArray } from '@angular/cdk/drag-drop';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { Camera, Project, SavedView } from '@arvex/core';
import {
  cameraAt,
  camerasInOrder,
  flicksFromSeconds,
  marksInOrder,
  moveOf,
  moveThroughViews,
  secondsFromFlicks,
  viewsOf,
} from '@arvex/core';
import { ProjectStore } from '../../../data';
import { Thumbnail } from '../../../drawing';
import { FreeCamera, Viewpoint } from '../../../session';
import { IconButton, DurationField, Switch } from '../../../ui';
import { Moves } from '../moves';

interface ViewRow {
  readonly view: SavedView;
  /** Through whom it is seen; nobody where it is a place of the free view. */
  readonly cameraId: string | undefined;
  readonly atFlicks: number;
  readonly detail: string;
  taken: boolean;
  legS: number;
}

const FIRST_LEG_S = 2;

/** Saved views that one move goes through: in which order, which are left out, how long each leg is. */
@Component({
  selector: 'arvex-through-views-dialog',
  imports: [Thumbnail, DurationField, IconButton, Switch, CdkDrag, CdkDropList, MatDialogModule, MatIcon],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <h2 mat-dialog-title>A move through views</h2>
    <mat-dialog-content>
      <p class="quiet">
        The camera goes through the views that are ticked, from the top down: its place on one smooth path, its aim on
        another. Drag them into order.
      </p>
      <div cdkDropList (cdkDropListDropped)="drop($event)">
        @for (row of rows(); track row.view.id) {
          <div class="view" cdkDrag [class.out]="!row.taken">
            <label class="check">
              <input
                #wanted
                type="checkbox"
                [attr.aria-label]="'Take in view ' + row.view.name + ' of ' + row.detail"
                [checked]="row.taken"
                (change)="take(row, wanted.checked)"
              />
            </label>
            @if (row.cameraId !== undefined) {
              <arvex-thumbnail [cameraId]="row.cameraId" [atFlicks]="row.atFlicks" />
            } @else {
              <mat-icon class="free">3d_rotation</mat-icon>
            }
            <b class="num">{{ row.view.name }}</b>
            <span class="quiet">{{ row.detail }}</span>
            @if (legAfter(row)) {
              <span class="quiet">then</span>
              <arvex-duration-field
                [label]="'Leg after ' + row.view.name"
                [min]="0.05"
                [max]="600"
                [value]="row.legS"
                (valueSet)="setLeg(row, $event)"
              />
            }
            <button
              arvexIconButton="arrow_upward"
              [label]="'View ' + row.view.name + ' earlier'"
              (click)="shift(row, -1)"
            ></button>
            <button
              arvexIconButton="arrow_downward"
              [label]="'View ' + row.view.name + ' later'"
              (click)="shift(row, 1)"
            ></button>
          </div>
        } @empty {
          <p>There is no view yet. Mark two poses, make another camera, or keep a free view.</p>
        }
      </div>
      <div class="how">
        <arvex-switch
          label="Speed"
          [choices]="[
            { id: 'even-speed', name: 'even speed' },
            { id: 'by-the-legs', name: 'by the legs' },
          ]"
          [value]="even() ? 'even-speed' : 'by-the-legs'"
          (chosen)="even.set($event === 'even-speed')"
        />
        <label class="check">
          <input #ease type="checkbox" [checked]="eased()" (change)="eased.set(ease.checked)" /> eases at both ends
        </label>
        <span class="quiet num">{{ whole() }}</span>
      </div>
    </mat-dialog-content>
    <mat-dialog-actions align="end">
      <button type="button" class="pill" mat-dialog-close>Leave it</button>
      <button type="button" class="pill filled" [disabled]="taken().length < 2" (click)="make()">
        Go through {{ taken().length }} views
      </button>
    </mat-dialog-actions>
  `,
  styles: `
    .view {
      display: flex;
      align-items: center;
      gap: 10px;
      padding: 5px 0;
      background: var(--panel);
      cursor: grab;
    }
    .view arvex-thumbnail {
      width: 84px;
      aspect-ratio: 16 / 9;
    }
    .free {
      flex: none;
      width: 84px;
      text-align: center;
      color: var(--chalk-3);
    }
    .view .quiet {
      flex: 1;
    }
    .view .quiet + .quiet {
      flex: none;
    }
    .view arvex-duration-field {
      flex: 0 0 84px;
    }
    .out > arvex-thumbnail {
      opacity: 0.5;
    }
    .how {
      position: sticky;
      bottom: 0;
      padding: 8px 0;
      background: var(--panel);
      display: flex;
      align-items: center;
      gap: 14px;
      margin-top: 10px;
    }
    .how .quiet {
      margin-left: auto;
    }
  `,
})
export class ThroughViewsDialog {
  private readonly store = inject(ProjectStore);
  private readonly moves = inject(Moves);
  private readonly freeCamera = inject(FreeCamera);
  private readonly viewpoint = inject(Viewpoint);
  private readonly ref = inject<MatDialogRef<ThroughViewsDialog>>(MatDialogRef);

  protected readonly rows = signal<readonly ViewRow[]>(this.allViews());
  protected readonly even = signal(false);
  protected readonly eased = signal(true);
  protected readonly taken = computed(() => this.rows().filter((row) => row.taken));
  protected readonly whole = computed(() => {
    const legs = this.taken().slice(0, -1);
    return `${legs.reduce((sum, row) => sum + row.legS, 0).toFixed(2)} s in all`;
  });

  /** The camera's own marks first and taken; after them marks of other cameras, cameras without any as they stand, and kept free views. */
  private allViews(): ViewRow[] {
    const [project, own] = [this.store.project(), this.moves.camera()];
    if (!project || !own) return [];
    return [...this.ofCameras(project, own), ...this.kept(own)];
  }

  private ofCameras(project: Project, own: Camera): ViewRow[] {
    const at = this.moves.atFlicks();
    const cameras = camerasInOrder(project).sort((a, b) => Number(b.id === own.id) - Number(a.id === own.id));
    return cameras.flatMap((camera) => {
      const marks = marksInOrder(moveOf(project, camera.id));
      if (marks.length === 0) {
        const view = { id: camera.id, name: String(camera.number), state: cameraAt(project, camera.id, at) };
        return [{ view, cameraId: camera.id, atFlicks: at, detail: camera.name, taken: false, legS: FIRST_LEG_S }];
      }
      return viewsOf(project, camera.id, marks).map((view, i): ViewRow => {
        const [here, next] = [marks[i]?.atFlicks ?? 0, marks[i + 1]?.atFlicks];
        const legS = next === undefined ? FIRST_LEG_S : secondsFromFlicks(next - here);
        return { view, cameraId: camera.id, atFlicks: here, detail: camera.name, taken: camera.id === own.id, legS };
      });
    });
  }

  /** Free views that were kept, seen through the camera's own lens. */
  private kept(own: Camera): ViewRow[] {
    const at = this.moves.atFlicks();
    const lens = this.viewpoint.state()?.lens.focalLengthMm ?? own.lens.focalLengthMm;
    return this.freeCamera.kept().flatMap(({ id, name, pose }): ViewRow[] => {
      const state = this.freeCamera.stateAt(pose);
      if (!state) return [];
      const view = { id, name, state: { ...state, lens: { ...state.lens, focalLengthMm: lens } } };
      return [{ view, cameraId: undefined, atFlicks: at, detail: 'free view', taken: false, legS: FIRST_LEG_S }];
    });
  }

  protected legAfter(row: ViewRow): boolean {
    return row.taken && this.taken().at(-1) !== row;
  }

  protected take(row: ViewRow, taken: boolean): void {
    this.change(row, { taken });
  }

  protected setLeg(row: ViewRow, legS: number): void {
    this.change(row, { legS });
  }

  private change(row: ViewRow, parts: Partial<ViewRow>): void {
    this.rows.update((rows) => rows.map((one) => (one === row ? { ...one, ...parts } : one)));
  }

  protected drop({ previousIndex, currentIndex }: CdkDragDrop<unknown>): void {
    this.rows.update((rows) => {
      const next = [...rows];
      moveItemInArray(next, previousIndex, currentIndex);
      return next;
    });
  }

  protected shift(row: ViewRow, by: number): void {
    // Past the views that are not taken: they are not gone through.
    const rows = this.rows();
    const others = row.taken ? this.taken() : rows;
    const to = others[others.indexOf(row) + by];
    if (!to) return;
    this.drop({ previousIndex: rows.indexOf(row), currentIndex: rows.indexOf(to) } as CdkDragDrop<unknown>);
  }

  protected make(): void {
    const rows = this.taken();
    const order = {
      views: rows.map(({ view }) => view),
      legsFlicks: rows.slice(0, -1).map(({ legS }) => flicksFromSeconds(legS)),
      even: this.even(),
      eased: this.eased(),
    };
    const markIds = rows.map(() => crypto.randomUUID());
    if (
      this.moves.edit((project, cameraId, atFlicks) =>
        moveThroughViews(project, cameraId, order, { atFlicks, markIds }),
      )
    ) {
      this.ref.close();
    }
  }
}
