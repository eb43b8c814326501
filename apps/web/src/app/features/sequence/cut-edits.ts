import { inject, Injectable } from '@angular/core';
import type { Edit, Project } from '@arvex/core';
import { CoreError } from '@arvex/core';
import { Notices, ProjectStore } from '../../data';
import { OpenSequence } from '../../session';

/** Makes edits of the open sequence; what cannot be made says why. */
@Injectable({ providedIn: 'root' })
export class CutEdits {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly notices = inject(Notices);

  /** @returns whether it was made. */
  run(make: (project: Project, sequenceId: string) => Edit | undefined): boolean {
    const project = this.store.project();
    if (!project) return false;
    try {
      return this.store.commit(make(project, this.open.id()));
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return false;
    }
  }
}
