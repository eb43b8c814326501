import { ChangeDetectionStrategy, Component } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { Findings } from '../../readiness';
import { cameraColour, Cards, IconButton, NameField, Reveal } from '../../ui';
import { CameraBench } from './camera-bench';

/** The bench of the Cameras step: the edited camera, card by card. */
@Component({
  selector: 'arvex-cameras-bench',
  imports: [Cards, Findings, IconButton, MatIcon, NameField, Reveal],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bench.camera(); as camera) {
      <div class="title" arvexReveal="name">
        <span class="camera-badge" [style.background]="colour(camera.number)">{{ camera.number }}</span>
        <arvex-name-field
          label="Name of the camera"
          [value]="camera.name"
          (named)="bench.set('Name ' + $event, { name: $event })"
        />
        <button arvexIconButton="content_paste_go" action="match"></button>
        <button arvexIconButton="content_copy" action="duplicate-camera"></button>
        <button arvexIconButton="delete" action="delete-camera"></button>
      </div>
      <arvex-findings step="cameras" />
      <arvex-cards step="cameras" />
    } @else {
      <arvex-findings step="cameras" />
      <p class="empty">No camera is looked through. Make one from the free view, or choose one above.</p>
    }
    @if (!bench.workspace.shows('free')) {
      <div class="foot">
        <button type="button" class="pill" (click)="bench.workspace.show('free')">
          <mat-icon>add_a_photo</mat-icon>Find a view for a new camera
        </button>
      </div>
    }
  `,
  styleUrl: '../../ui/bench-step.scss',
})
export class CamerasBench {
  protected readonly bench = new CameraBench();
  protected readonly colour = cameraColour;
}
