import { inject, Injectable, Injector } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { Actions, Workspace } from '../session';

/** Opens the command search and the help of the keys. */
@Injectable({ providedIn: 'root' })
export class Help {
  private readonly injector = inject(Injector);
  private readonly workspace = inject(Workspace);
  private readonly dialog = inject(MatDialog);

  /** The command search: every action by name. */
  async search(): Promise<void> {
    const { CommandSearch } = await import('./command-search');
    const data = this.injector.get(Actions).able();
    this.dialog.open(CommandSearch, { width: '520px', position: { top: '60px' }, data });
  }

  /** The keys of the present step. */
  async keys(): Promise<void> {
    const { KeyHelp } = await import('./key-help');
    const step = this.workspace.steps.find(({ id }) => id === this.workspace.step())?.name ?? '';
    this.dialog.open(KeyHelp, { width: '680px', data: { step, actions: this.injector.get(Actions).here() } });
  }
}
