import { computed, inject, Injectable } from '@angular/core';
import type { Finding } from '@arvex/core';
import { cutOf, framesInFlicks } from '@arvex/core';
import { ProjectStore } from '../data';
import type { StepId } from '../session';
import { OpenSequence, Playhead, Selection, Workspace } from '../session';
import { FINDINGS } from './finding-sources';

/** Readiness: what would spoil the output, and the way to each mend. */
@Injectable({ providedIn: 'root' })
export class Checks {
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly workspace = inject(Workspace);
  private readonly selection = inject(Selection);
  private readonly open = inject(OpenSequence);
  private readonly sources = inject(FINDINGS);

  readonly all = computed<readonly Finding[]>(() => this.sources.flatMap((source) => source()));

  /** What is mended in a step; of the cut what the open sequence wants. */
  in(step: StepId): readonly Finding[] {
    const mends = this.workspace.steps.find(({ id }) => id === step)?.mends ?? [];
    return this.all().filter((finding) => mends.includes(finding.topic) && this.isOfOpen(finding));
  }

  private isOfOpen({ shotId, sequenceId }: Finding): boolean {
    const of = sequenceId ?? this.store.project()?.shots[shotId ?? '']?.sequenceId;
    return of === undefined || of === this.open.id();
  }

  /** Goes to where a finding is mended. */
  mend(finding: Finding): void {
    const project = this.store.project();
    if (finding.fix && project) {
      this.store.commit(finding.fix(project));
      return;
    }
    const step = this.workspace.steps.find(({ mends }) => mends.includes(finding.topic));
    if (step) this.workspace.goTo(step.id);
    if (finding.cameraId !== undefined) this.playhead.lookThrough(finding.cameraId);
    if (finding.cameraId !== undefined && finding.atFlicks !== undefined && project) {
      this.playhead.goTo(framesInFlicks(finding.atFlicks, project.head.rate));
    }
    if (finding.part) this.workspace.reveal(finding.part);
    if (finding.placementId !== undefined) this.selection.set(finding.placementId);
    if (finding.shotId === undefined) return;
    this.playhead.toMode('cut');
    const sequenceId = project?.shots[finding.shotId]?.sequenceId;
    if (!project || sequenceId === undefined) return;
    this.playhead.openSequence(sequenceId);
    const place = cutOf(project, sequenceId).shots.find(({ shot }) => shot.id === finding.shotId);
    if (place) this.playhead.goTo(place.startFrame);
  }
}
