import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatMenuModule } from '@angular/material/menu';
import { camerasInOrder } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Viewpoint } from '../../session';
import { cameraColour, cameraLine, focalLengthText } from '../../ui';
import { Cameras } from './cameras';

/** Which camera is looked through, which is the one that is edited; and the way to another. */
@Component({
  selector: 'arvex-camera-chip',
  imports: [MatIcon, MatMenuModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button type="button" class="chip" [matMenuTriggerFor]="menu" data-testid="camera-chip">
      <span class="visually-hidden">Camera looked through:</span>
      @if (viewpoint.pinned()) {
        <mat-icon>push_pin</mat-icon>
      }
      @if (viewpoint.camera(); as camera) {
        <span class="camera-badge" [style.background]="colour(camera.number)">{{ camera.number }}</span>
        <b>{{ camera.name }}</b>
        <span class="line num">{{ line() }}</span>
      } @else {
        <span class="line">no camera</span>
      }
      <mat-icon>keyboard_arrow_down</mat-icon>
    </button>
    <mat-menu #menu="matMenu">
      @for (camera of choices(); track camera.id) {
        <button mat-menu-item (click)="playhead.lookThrough(camera.id)">
          <span class="camera-badge" [style.background]="colour(camera.number)">{{ camera.number }}</span>
          &ensp;{{ camera.name }}&ensp;<small class="num quiet">{{ lens(camera.lens.focalLengthMm) }}</small>
        </button>
      }
      @if (viewpoint.camera(); as edited) {
        <button mat-menu-item (click)="viewpoint.pinned.set(viewpoint.pinned() ? undefined : edited.id)">
          <mat-icon>push_pin</mat-icon
          >{{
            viewpoint.pinned()
              ? 'Edit what I look through'
              : 'Go on editing ' + edited.name + ' while I look through others'
          }}
        </button>
      }
      <button mat-menu-item (click)="cameras.fromView()">
        <mat-icon>add_a_photo</mat-icon>Make camera from this view
      </button>
    </mat-menu>
  `,
  styles: `
    .chip {
      display: flex;
      align-items: center;
      gap: 10px;
      width: 100%;
      height: 30px;
      padding: 0 10px 0 5px;
      border: 1px solid var(--line);
      border-radius: 15px;
      background: var(--raised);
      white-space: nowrap;

      &:hover {
        background: var(--hover);
      }
      b {
        font-weight: 500;
      }
      .line {
        overflow: hidden;
        text-overflow: ellipsis;
        font-size: 12px;
        color: var(--chalk-2);
      }
      mat-icon {
        flex: none;
        font-size: 18px;
        width: 18px;
        height: 18px;
        color: var(--chalk-3);
      }
    }
  `,
})
export class CameraChip {
  private readonly store = inject(ProjectStore);
  protected readonly viewpoint = inject(Viewpoint);
  protected readonly playhead = inject(Playhead);
  protected readonly cameras = inject(Cameras);
  protected readonly colour = cameraColour;
  protected readonly lens = focalLengthText;
  protected readonly choices = computed(() => {
    const project = this.store.project();
    return project ? camerasInOrder(project) : [];
  });
  protected readonly line = computed(() => {
    const state = this.viewpoint.state();
    return state ? cameraLine(state) : '';
  });
}
