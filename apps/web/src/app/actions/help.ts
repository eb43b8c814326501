import { inject, Injectable, Injector } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { firstValueFrom, race } from 'rxjs';
import { fetched } from '../data';
import { Actions, Workspace } from '../session';

/** Keys that were pressed before the box of the search was there. */
interface Ahead {
  typed: string;
  enter: boolean;
}

/** Opens the command search and the help of the keys. */
@Injectable({ providedIn: 'root' })
export class Help {
  private readonly injector = inject(Injector);
  private readonly workspace = inject(Workspace);
  private readonly dialog = inject(MatDialog);

  /** What was typed since the search was asked for, while its box is not there yet. */
  private ahead: Ahead | undefined;

  /** The command search: every action by name. From here on every key belongs to it. */
  async search(): Promise<void> {
    if (this.ahead) return;
    const ahead: Ahead = { typed: '', enter: false };
    this.ahead = ahead;
    try {
      const { CommandSearch } = await firstValueFrom(fetched(() => import('./command-search')));
      if (this.ahead !== ahead) return; // given up meanwhile
      const data = this.injector.get(Actions).able();
      const dialog = this.dialog.open(CommandSearch, { width: '520px', position: { top: '60px' }, data });
      await firstValueFrom(race(dialog.afterOpened(), dialog.afterClosed()));
      dialog.componentInstance?.begin(ahead.typed, ahead.enter);
    } finally {
      if (this.ahead === ahead) this.ahead = undefined;
    }
  }

  /** Takes a key for the search that is coming. @returns whether it was taken: then it is nobody else's. */
  takes(event: KeyboardEvent): boolean {
    const { ahead } = this;
    if (!ahead) return false;
    const isText = event.key.length === 1 && !event.ctrlKey && !event.metaKey && !event.altKey;
    if (isText) ahead.typed += event.key;
    else if (event.key === 'Backspace') ahead.typed = ahead.typed.slice(0, -1);
    else if (event.key === 'Enter') ahead.enter = true;
    else if (event.key === 'Escape') {
      this.ahead = undefined;
      this.dialog.closeAll();
    }
    return true;
  }

  /** The keys of the present step. */
  async keys(): Promise<void> {
    const { KeyHelp } = await firstValueFrom(fetched(() => import('./key-help')));
    const step = this.workspace.steps.find(({ id }) => id === this.workspace.step())?.name ?? '';
    this.dialog.open(KeyHelp, {
      width: '780px',
      maxWidth: '94vw',
      data: { step, actions: this.injector.get(Actions).here() },
    });
  }
}
