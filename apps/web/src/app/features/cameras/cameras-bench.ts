import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { CameraBench } from './camera-bench';
import { Findings } from '../../readiness';
import { cameraColour } from '../../ui';
import { NameField } from '../../ui';
import { CameraMaking } from './cameras';
import { FocusCard } from './cards/focus-card';
import { FrameCard } from './cards/frame-card';
import { GlassCard } from './cards/glass-card';
import { GuidesCard } from './cards/guides-card';
import { LensCard } from './cards/lens-card';
import { LightCard } from './cards/light-card';
import { LightMixCard } from './cards/light-mix-card';
import { PackageCard } from './cards/package-card';
import { PlaceCard } from './cards/place-card';
import { ReferenceCard } from './cards/reference-card';

/** The bench of the Cameras step: the edited camera, card by card. */
@Component({
  selector: 'arvex-cameras-bench',
  imports: [
    ...[Findings, FocusCard, FrameCard, GlassCard, GuidesCard, LensCard, LightCard, LightMixCard, MatIcon, MatTooltip],
    ...[NameField, PackageCard, PlaceCard, ReferenceCard],
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @if (bench.camera(); as camera) {
      <div class="title">
        <span class="camera-badge" [style.background]="colour(camera.number)">{{ camera.number }}</span>
        <arvex-name-field
          label="Name of the camera"
          [value]="camera.name"
          (named)="bench.set('Name ' + $event, { name: $event })"
        />
        <button
          type="button"
          class="icon-button"
          aria-label="Match other cameras to this one"
          matTooltip="Match other cameras to this one"
          (click)="making.openMatch()"
        >
          <mat-icon>content_paste_go</mat-icon>
        </button>
        <button
          type="button"
          class="icon-button"
          aria-label="Duplicate this camera"
          matTooltip="Duplicate this camera"
          (click)="making.duplicate()"
        >
          <mat-icon>content_copy</mat-icon>
        </button>
        <button
          type="button"
          class="icon-button"
          aria-label="Delete this camera"
          matTooltip="Delete this camera"
          (click)="making.delete()"
        >
          <mat-icon>delete</mat-icon>
        </button>
      </div>
      <arvex-lens-card />
      <arvex-light-card />
      <arvex-focus-card />
      <arvex-frame-card />
      <arvex-guides-card />
      <arvex-place-card />
      <arvex-glass-card />
      <arvex-light-mix-card />
      <arvex-reference-card />
      <arvex-package-card />
    } @else {
      <p class="empty">No camera is looked through. Make one from the free view, or choose one above.</p>
    }
    <arvex-findings step="cameras" />
    @if (!bench.viewing.shows('free')) {
      <div class="foot">
        <button type="button" class="pill" (click)="bench.viewing.show('free')">
          <mat-icon>add_a_photo</mat-icon>Find a view for a new camera
        </button>
      </div>
    }
  `,
  styleUrl: '../../ui/bench-step.scss',
})
export class CamerasBench {
  protected readonly bench = new CameraBench();
  protected readonly making = inject(CameraMaking);
  protected readonly colour = cameraColour;
}
