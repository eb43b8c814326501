import { ChangeDetectionStrategy, Component, computed, ElementRef, inject, viewChildren } from '@angular/core';
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
    @if (!workspace.folded() && !workspace.whole()) {
      <div role="tablist" aria-label="Second view">
        @for (tab of tabs(); track tab.id; let i = $index) {
          <button
            #tab
            type="button"
            role="tab"
            [attr.aria-selected]="workspace.views().lower === tab.id"
            [tabindex]="workspace.views().lower === tab.id ? 0 : -1"
            [matTooltip]="hint(tab)"
            (click)="workspace.show(tab.id)"
            (keydown.arrowleft)="goTo($event, i - 1)"
            (keydown.arrowright)="goTo($event, i + 1)"
            (keydown.home)="goTo($event, 0)"
            (keydown.end)="goTo($event, -1)"
          >
            {{ tab.name }}
          </button>
        }
      </div>
      <button arvexIconButton="swap_vert" action="swap-views"></button>
    }
    @if (!workspace.whole()) {
      <button
        [arvexIconButton]="workspace.folded() ? 'expand_less' : 'expand_more'"
        action="fold"
        [label]="workspace.folded() ? 'Open the second view' : 'Fold the second view away'"
      ></button>
    }
    <button
      [arvexIconButton]="workspace.whole() ? 'close_fullscreen' : 'open_in_full'"
      action="whole"
      [label]="workspace.whole() ? 'Bring bench and second view back' : 'Give the picture the whole work area'"
    ></button>
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
  private readonly buttons = viewChildren<unknown, ElementRef<HTMLElement>>('tab', { read: ElementRef });
  /** What belongs to a step is offered there, and stays where it is shown already. */
  protected readonly tabs = computed(() =>
    this.workspace.allViews.filter(
      ({ id, step }) => !step || this.workspace.step() === step || this.workspace.shows(id),
    ),
  );

  /** Shows the view of the tab at an index, round both ends, and goes to the tab. */
  protected goTo(event: Event, index: number): void {
    const tabs = this.tabs();
    const round = (index + tabs.length) % tabs.length;
    const tab = tabs[round];
    if (!tab) return;
    event.preventDefault();
    this.buttons()[round]?.nativeElement.focus();
    this.workspace.show(tab.id);
  }

  protected hint({ action, keys }: View): string {
    return keys === undefined ? action : `${action} (${keysText(keys)})`;
  }
}
