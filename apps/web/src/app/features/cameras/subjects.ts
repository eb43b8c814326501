import { computed, inject, Injectable } from '@angular/core';
import type { Placement } from '@arvex/core';
import { chosenSubject, subjectMeant, subjectsIn } from '@arvex/core';
import { ProjectStore } from '../../data';
import { Playhead, Viewpoint } from '../../session';

/** Who can be followed, aimed at and gone round, and who of them the edited camera means. */
@Injectable({ providedIn: 'root' })
export class Subjects {
  private readonly store = inject(ProjectStore);
  private readonly viewpoint = inject(Viewpoint);
  private readonly playhead = inject(Playhead);

  /** All of them, by name. */
  readonly choices = computed(() => {
    const project = this.store.project();
    return project ? subjectsIn(project).map(({ id, name }) => ({ id, name })) : [];
  });

  /** Whom the edited camera is about: nobody, when nobody is in its frame. */
  readonly about = computed(() => this.seen(chosenSubject)?.placement);

  /** Who is meant where nobody says another; `undefined` when all are behind the camera. */
  meant(): Placement | undefined {
    return this.seen(subjectMeant);
  }

  private seen<T>(find: (...about: Parameters<typeof subjectMeant>) => T): T | undefined {
    const [project, state] = [this.store.project(), this.viewpoint.state()];
    return project && state ? find(project, state, this.playhead.seen()?.sceneFlicks ?? 0) : undefined;
  }
}
