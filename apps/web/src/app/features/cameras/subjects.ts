import { computed, inject, Injectable } from '@angular/core';
import type { CameraState, Placement, Project } from '@arvex/core';
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

  /** Who is meant where nobody says another; `undefined` when all (but one who is not meant) are behind the camera. */
  meant(exceptId?: string): Placement | undefined {
    return this.seen((project, state, atFlicks) => subjectMeant(project, state, atFlicks, exceptId));
  }

  private seen<T>(find: (project: Project, state: CameraState, atFlicks: number) => T): T | undefined {
    const [project, state] = [this.store.project(), this.viewpoint.state()];
    return project && state ? find(project, state, this.playhead.seen()?.sceneFlicks ?? 0) : undefined;
  }
}

/** Everything in the set that something can be done about, subjects first, then the rest by name. */
@Injectable({ providedIn: 'root' })
export class Things {
  private readonly store = inject(ProjectStore);
  private readonly subjects = inject(Subjects);

  readonly choices = computed(() => {
    const project = this.store.project();
    const known = new Set(this.subjects.choices().map(({ id }) => id));
    const rest = Object.values(project?.placements ?? {})
      .filter(({ id, piece }) => !known.has(id) && piece.kind !== 'ground' && piece.kind !== 'group')
      .map(({ id, name }) => ({ id, name }))
      .sort((a, b) => a.name.localeCompare(b.name));
    return [...this.subjects.choices(), ...rest];
  });
}
