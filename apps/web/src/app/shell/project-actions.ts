import { inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { firstValueFrom } from 'rxjs';
import { fetched, Notices, Projects } from '../data';
import type { Action, ActionSource } from '../session';

/** What is done with projects as a whole. */
export function projectActions(): ActionSource {
  const [dialog, projects, notices] = [inject(MatDialog), inject(Projects), inject(Notices)];
  const openList = async () => {
    const { ProjectsDialog } = await firstValueFrom(fetched(() => import('./projects-dialog')));
    dialog.open(ProjectsDialog, { width: '560px', maxWidth: '94vw' });
  };
  const actions: readonly Action[] = [
    {
      id: 'projects',
      name: 'Projects: open, name, duplicate, delete',
      words: 'list switch rename copy load save file',
      keys: 'Ctrl+O',
      run: () => void openList(),
    },
    {
      name: 'New project',
      words: 'make empty create file',
      run: () => void projects.make('Untitled').catch((error: unknown) => notices.error(error)),
    },
  ];
  return () => actions;
}
