import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { ViewKind } from '../session';
import { Viewing } from '../session';

const TABS: readonly { id: ViewKind; name: string; hint: string; moves?: true }[] = [
  { id: 'plan', name: 'Plan', hint: 'Plan (P)' },
  { id: 'free', name: 'Free view', hint: 'Free view (F)' },
  { id: 'picture', name: 'Picture', hint: 'What the camera sees' },
  { id: 'graph', name: 'Graph', hint: 'Curves of the move (Shift G)', moves: true },
  { id: 'table', name: 'Time table', hint: 'Keys of the move in rows (Shift T)', moves: true },
  { id: 'cameras', name: 'Cameras', hint: 'All cameras side by side (Alt C)' },
];

/** What the lower view shows, and changing it round with the upper one. */
@Component({
  selector: 'arvex-view-tabs',
  imports: [MatIcon, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  template: `
    <div role="tablist" aria-label="Second view">
      @for (tab of tabs(); track tab.id) {
        <button
          type="button"
          role="tab"
          [attr.aria-selected]="viewing.views().lower === tab.id"
          [matTooltip]="tab.hint"
          (click)="viewing.show(tab.id)"
        >
          {{ tab.name }}
        </button>
      }
    </div>
    <button
      type="button"
      class="icon-button"
      aria-label="Change the two views round"
      matTooltip="Change the two views round (V)"
      (click)="viewing.swapViews()"
    >
      <mat-icon>swap_vert</mat-icon>
    </button>
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
  protected readonly viewing = inject(Viewing);
  /** Curves belong to the Moves step, and stay where they are shown already. */
  protected readonly tabs = computed(() =>
    TABS.filter(({ id, moves }) => !moves || this.viewing.step() === 'moves' || this.viewing.shows(id)),
  );
}
