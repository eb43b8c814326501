import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { MatMenuModule } from '@angular/material/menu';
import type { PictureTool } from '../../features/cameras';
import { PictureTools } from '../../features/cameras';
import { Viewpoint, Workspace } from '../../session';
import { IconButton } from '../../ui';

const TOOLS: readonly { id: PictureTool; icon: string; name: string }[] = [
  { id: 'focus', icon: 'center_focus_weak', name: 'A click focuses' },
  { id: 'meter', icon: 'exposure', name: 'A click meters a spot' },
  { id: 'hold', icon: 'compare_arrows', name: 'Two clicks are held sharp' },
  { id: 'aim', icon: 'my_location', name: 'A click aims the camera there' },
];
const DISPLAYS = [
  { id: 'picture', name: 'The picture as exposed' },
  { id: 'stops', name: 'False colour by stops' },
  { id: 'zebra', name: 'Zebra where it clips' },
] as const;

/** What a click on the picture does, and how the picture is shown. */
@Component({
  selector: 'arvex-picture-toolbar',
  imports: [IconButton, MatMenuModule],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <button
      arvexIconButton="control_camera"
      [attr.aria-pressed]="viewpoint.steering()"
      label="Steer this camera"
      hint="Steer this camera by dragging in the picture"
      matTooltipPosition="left"
      action="steer"
    ></button>
    @if (workspace.step() === 'cameras' || workspace.step() === 'moves') {
      @for (tool of all; track tool.id) {
        <button
          [arvexIconButton]="tool.icon"
          [attr.aria-pressed]="tools.tool() === tool.id"
          [label]="tool.name"
          matTooltipPosition="left"
          (click)="tools.use(tool.id)"
        ></button>
      }
    }
    <button
      arvexIconButton="blur_on"
      action="sharp"
      matTooltipPosition="left"
      [attr.aria-pressed]="tools.marksSharp()"
    ></button>
    <button
      arvexIconButton="tonality"
      label="How the picture is shown"
      matTooltipPosition="left"
      [attr.aria-pressed]="tools.displayKind() !== 'picture'"
      [matMenuTriggerFor]="menu"
    ></button>
    <mat-menu #menu="matMenu">
      @for (display of displays; track display.id) {
        <button
          mat-menu-item
          role="menuitemradio"
          [attr.aria-checked]="tools.displayKind() === display.id"
          (click)="tools.displayKind.set(display.id)"
        >
          {{ display.name }}
        </button>
      }
      <button
        mat-menu-item
        role="menuitemcheckbox"
        [attr.aria-checked]="tools.depthOfField()"
        (click)="tools.depthOfField.set(!tools.depthOfField())"
      >
        {{ tools.depthOfField() ? '✓ ' : '' }}Depth of field, at rest
      </button>
      <button
        mat-menu-item
        role="menuitemcheckbox"
        [attr.aria-checked]="tools.motionBlur()"
        (click)="tools.motionBlur.set(!tools.motionBlur())"
      >
        {{ tools.motionBlur() ? '✓ ' : '' }}Motion blur, at rest
      </button>
      <button
        mat-menu-item
        role="menuitemcheckbox"
        [attr.aria-checked]="tools.fineAtRest()"
        (click)="tools.fineAtRest.set(!tools.fineAtRest())"
      >
        {{ tools.fineAtRest() ? '✓ ' : '' }}Made finer at rest (off spares the machine)
      </button>
    </mat-menu>
  `,
  styles: `
    :host {
      position: absolute;
      top: 9px;
      right: 10px;
      display: flex;
      flex-flow: column wrap;
      max-height: calc(100% - 18px);
      gap: 2px;
      padding: 2px;
      border-radius: 16px;
      background: rgb(18 18 19 / 86%);
    }
    .icon-button {
      color: #d6d2cb;
    }
    .icon-button[aria-pressed='true'] {
      background: #3a3c66;
      color: #c9cbff;
    }
  `,
})
export class PictureToolbar {
  protected readonly viewpoint = inject(Viewpoint);
  protected readonly workspace = inject(Workspace);
  protected readonly tools = inject(PictureTools);
  protected readonly all = TOOLS;
  protected readonly displays = DISPLAYS;
}
