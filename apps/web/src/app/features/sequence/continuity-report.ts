import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Advice } from '@arvex/core';
import { Notices } from '../../data';
import { measuredAtRest, OpenSequence, Tried, Workspace } from '../../session';
import { CutJudge } from './cut-judge';

/** What an audience may stumble over in the open sequence: judged whenever it changed, in the Sequence step. */
@Injectable({ providedIn: 'root' })
export class ContinuityReport {
  private readonly open = inject(OpenSequence);
  private readonly workspace = inject(Workspace);
  private readonly judge = inject(CutJudge);
  private readonly notices = inject(Notices);
  private readonly trying = inject(Tried).cut;

  readonly advice = signal<readonly Advice[]>([]);

  constructor() {
    const judged = computed(() => {
      const project = this.trying.shown() || this.workspace.step() !== 'sequence' ? undefined : this.open.project();
      return project && { project, sequenceId: this.open.id() };
    });
    toObservable(judged)
      .pipe(
        measuredAtRest(
          ({ project, sequenceId }) => this.judge.continuity(project, sequenceId),
          (error) => this.notices.error(error),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((advice) => this.advice.set(advice));
  }
}
