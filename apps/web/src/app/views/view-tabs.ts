import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatTooltip } from '@angular/material/tooltip';
import type { View } from '../session';
import { keysText, Workspace } from '../session';
import { IconButton } from '../ui';

/** What the lower view shows, and changing it round with the upper one. */
@Component({
  selector: 'arvex-view-tabs',
  imports: [IconButton, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div role="tablist" aria-label="Second view">
      @for (tab of tabs(); track tab.id) {
        <button
          type="button"
          role="tab"
          [attr.aria-selected]="workspace.views().lower === tab.id"
          [matTooltip]="hint(tab)"
          (click)="workspace.show(tab.id)"
        >
          {{ tab.name }}
        </button>
      }
    </div>
    <button arvexIconButton="swap_vert" action="swap-views"></button>
  `,
  styles: `
    :host,
    [role='tablist'] {
      display: flex;
    }
    :host {
      padding: 2px;
      border-radius: 15px;
      background: color-mix(in srgb, var(--panel) 92%, transparent);
    }
    [role='tab'] {
      height: 26px;
      padding: 0 12px;
      border-radius: 13px;
      font-size: 12px;
      color: var(--chalk-2);
    }
    [aria-selected='true'] {
      background: var(--hover);
      color: var(--chalk);
    }
    .icon-button {
      height: 26px;
    }
  `,
})
export class ViewTabs {
  protected readonly workspace = inject(Workspace);
  /** What belongs to a step is offered there, and stays where it is shown already. */
  protected readonly tabs = computed(() =>
    this.workspace.allViews.filter(
      ({ id, step }) => !step || this.workspace.step() === step || this.workspace.shows(id),
    ),
  );

  protected hint({ action, keys }: View): string {
    return keys === undefined ? action : `${action} (${keysText(keys)})`;
  }
}
