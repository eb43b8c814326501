import { inject, Injectable } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import type { Camera } from '@arvex/core';
import { firstValueFrom } from 'rxjs';
import { fetched, ProjectStore } from '../../data';

/** Whom an exposure is meant for: all cameras that follow the project, or the edited one, which then has its own. */
export type Scope = 'all' | 'own';

/**
 * Asks before an exposure is written for all cameras for the sake of one: a camera that follows the project shares its shutter,
 * ISO and neutral density with the others. The answer holds for this camera as long as the tab lives.
 */
@Injectable({ providedIn: 'root' })
export class ExposureScope {
  private readonly store = inject(ProjectStore);
  private readonly dialog = inject(MatDialog);
  /** Cameras whose exposure is meant for all that follow the project. */
  private readonly forAll = new Set<string>();

  /** How many cameras share the project's exposure with this one, where that is to be asked about; else none. */
  private others(camera: Camera): number {
    const cameras = Object.values(this.store.project()?.cameras ?? {});
    const sharing = cameras.filter(({ id, own }) => id !== camera.id && !own.includes('exposure'));
    return this.forAll.has(camera.id) ? 0 : sharing.length;
  }

  /** Does something once it is known for whom: at once where nobody else is concerned, never where it is left as it is. */
  of(camera: Camera, what: string, make: (scope: Scope) => void): void {
    const others = this.others(camera);
    if (others === 0) make('all');
    else void this.ask(camera, what, others).then((scope) => scope && make(scope));
  }

  private async ask(camera: Camera, what: string, others: number): Promise<Scope | undefined> {
    const { ExposureScopeDialog } = await firstValueFrom(fetched(() => import('./dialogs/exposure-scope-dialog')));
    const data = { name: camera.name, others, what };
    const asked = this.dialog.open<unknown, unknown, Scope>(ExposureScopeDialog, { width: '460px', data });
    const scope = await firstValueFrom(asked.afterClosed());
    if (scope === 'all') this.forAll.add(camera.id);
    return scope;
  }
}
