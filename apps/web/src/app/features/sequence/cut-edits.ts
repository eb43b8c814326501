import { inject, Injectable } from '@angular/core';
import type { Edit, Project } from '@arvex/core';
import { CoreError, withAction, withoutSound } from '@arvex/core';
import { Notices, ProjectStore, remembered } from '../../data';
import { OpenSequence } from '../../session';
import * as z from 'zod';

/** Makes edits of the open sequence; what cannot be made says why. */
@Injectable({ providedIn: 'root' })
export class CutEdits {
  private readonly store = inject(ProjectStore);
  private readonly open = inject(OpenSequence);
  private readonly notices = inject(Notices);

  /** Whether sound and markers come along with the picture they begin in when shots come to lie elsewhere. */
  readonly soundAlong = remembered('sound-along', z.boolean(), true);
  /** Whether shots that go on with the action of a changed one go on from where it ends now, or show what they showed. */
  readonly actionAlong = remembered('action-along', z.boolean(), false);

  /** An edit of the open sequence as it is to be made: with what comes along with it. */
  whole(project: Project, edit: Edit | undefined): Edit | undefined {
    if (!edit) return undefined;
    const tied = this.actionAlong() ? withAction(project, this.open.id(), edit) : edit;
    return this.soundAlong() ? tied : withoutSound(tied);
  }

  /** @returns whether it was made. */
  run(make: (project: Project, sequenceId: string) => Edit | undefined): boolean {
    const project = this.store.project();
    if (!project) return false;
    try {
      const edit = make(project, this.open.id());
      const whole = this.whole(project, edit);
      const made = this.store.commit(whole);
      if (made && whole && whole.name !== edit?.name) this.notices.done(whole.name);
      return made;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      this.notices.error(error);
      return false;
    }
  }
}
