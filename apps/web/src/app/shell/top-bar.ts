import { ChangeDetectionStrategy, Component, computed, inject } from '@angular/core';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { SaveState } from '../data';
import { ProjectStore, UndoList } from '../data';
import { CameraChip } from '../features/cameras';
import { SequenceMenu } from '../features/sequence';
import { Actions, keysText, Workspace } from '../session';
import { ActionButton, IconButton } from '../ui';
import { Modes } from './modes';

const SAVE_TEXTS: Readonly<Record<SaveState, { readonly icon: string; readonly hint: string }>> = {
  saved: { icon: 'check', hint: 'Everything is on the server.' },
  saving: { icon: 'sync', hint: 'On its way to the server.' },
  'kept here': { icon: 'cloud_off', hint: 'Your edits are kept in this browser and sent when it is back.' },
  'only in this tab': { icon: 'warning', hint: 'It is sent as soon as the server answers.' },
  offline: { icon: 'cloud_off', hint: 'You can go on; edits are kept in this browser.' },
};

/** The bar at the top: project, camera, undo, the command search, and whether everything is safe. */
@Component({
  selector: 'arvex-top-bar',
  imports: [ActionButton, CameraChip, IconButton, Modes, SequenceMenu, MatIcon, MatTooltip],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './top-bar.html',
  styleUrl: './top-bar.scss',
})
export class TopBar {
  protected readonly store = inject(ProjectStore);
  protected readonly undoList = inject(UndoList);
  protected readonly workspace = inject(Workspace);
  protected readonly findKeys = keysText(inject(Actions).byId('find')?.keys ?? '');
  protected readonly save = computed(() => {
    const state = this.store.saveState();
    const { icon, hint } = SAVE_TEXTS[state];
    const trouble = this.store.trouble();
    return { state, icon, hint: trouble ? `${trouble} ${hint}` : hint };
  });
}
