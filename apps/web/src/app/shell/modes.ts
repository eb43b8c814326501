import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { ProjectStore } from '../data';
import { Setting, Tried, Viewpoint } from '../session';

/** A mode that lasts until somebody ends it. */
interface Mode {
  readonly id: string;
  readonly icon: string;
  readonly name: string;
  /** What it does, and what pressing does. */
  readonly hint: string;
  readonly end: () => void;
}

/** The modes that are on, seen from everywhere; pressing one ends it. */
@Component({
  selector: 'arvex-modes',
  imports: [MatIcon, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    @for (mode of modes(); track mode.id) {
      <button
        type="button"
        [attr.data-mode]="mode.id"
        [attr.aria-label]="mode.name + ': press to end'"
        [matTooltip]="mode.hint"
        (click)="mode.end()"
      >
        <mat-icon>{{ mode.icon }}</mat-icon><span>{{ mode.name }}</span>
      </button>
    }
  `,
  styles: `
    :host {
      display: flex;
      gap: 4px;
    }
    button {
      display: flex;
      align-items: center;
      gap: 4px;
      height: 26px;
      padding: 0 9px 0 6px;
      border: 1px solid var(--amber);
      border-radius: 13px;
      font-size: 12px;
      white-space: nowrap;
    }
    button[data-mode='keying'] {
      border-color: var(--red);
      background: color-mix(in srgb, var(--red) 22%, transparent);

      mat-icon {
        color: var(--red);
      }
    }
    mat-icon {
      width: 16px;
      height: 16px;
      font-size: 16px;
      color: var(--amber);
    }
    @media (width < 1400px) {
      button {
        padding: 0 5px;
      }
      span {
        display: none;
      }
    }
  `,
})
export class Modes {
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly store = inject(ProjectStore);
  private readonly tried = inject(Tried);

  protected readonly modes = computed<readonly Mode[]>(() => {
    const name = (id: string | undefined) => this.store.project()?.cameras[id ?? '']?.name;
    const [trial, pinned] = [name(this.tried.pose()?.cameraId), name(this.viewpoint.pinned())];
    const modes: readonly (Mode | undefined)[] = [
      this.setting.autoKey()
        ? {
            id: 'keying',
            icon: 'fiber_manual_record',
            name: 'Keying',
            hint: 'Automatic keying: everything that is set becomes a key at the playhead. Press to end it.',
            end: () => this.setting.autoKey.set(false),
          }
        : undefined,
      this.viewpoint.steering()
        ? {
            id: 'steering',
            icon: 'control_camera',
            name: 'Steering',
            hint: 'Drags in the picture move the camera. Press to end it.',
            end: () => this.viewpoint.steering.set(false),
          }
        : undefined,
      trial === undefined
        ? undefined
        : {
            id: 'trying',
            icon: 'experiment',
            name: 'Trying',
            hint: `A pose is tried on ${trial}, not kept. Press to let it go.`,
            end: () => this.tried.letPoseGo(),
          },
      pinned === undefined
        ? undefined
        : {
            id: 'pinned',
            icon: 'push_pin',
            name: 'Pinned',
            hint: `${pinned} is edited whatever is looked through. Press to edit what you look through.`,
            end: () => this.viewpoint.pinned.set(undefined),
          },
    ];
    return modes.filter((mode) => mode !== undefined);
  });
}
