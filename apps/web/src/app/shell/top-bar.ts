import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import { ProjectStore } from '../data';
import { CameraChip } from '../features/cameras';
import { Actions, keysText, Workspace } from '../session';
import { ActionButton, IconButton } from '../ui';

const SAVE_TEXTS = {
  saved: { icon: 'check', text: 'saved', hint: 'Everything is on the server.' },
  saving: { icon: 'sync', text: 'saving', hint: 'Kept in this browser, on its way to the server.' },
  'kept here': {
    icon: 'cloud_off',
    text: 'kept here',
    hint: 'The server does not answer. Your edits are kept in this browser and sent when it is back.',
  },
  offline: {
    icon: 'cloud_off',
    text: 'offline',
    hint: 'The server does not answer. You can go on; edits are kept in this browser.',
  },
} as const;

/** The bar at the top: project, camera, undo, the command search, and whether everything is safe. */
@Component({
  selector: 'arvex-top-bar',
  imports: [ActionButton, CameraChip, IconButton, MatIcon, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './top-bar.html',
  styleUrl: './top-bar.scss',
})
export class TopBar {
  protected readonly store = inject(ProjectStore);
  protected readonly workspace = inject(Workspace);
  protected readonly findKeys = keysText(inject(Actions).byId('find')?.keys ?? '');
  protected readonly save = computed(() => SAVE_TEXTS[this.store.saveState()]);
  protected readonly sequenceName = computed(() => Object.values(this.store.project()?.sequences ?? {})[0]?.name ?? '');
}
