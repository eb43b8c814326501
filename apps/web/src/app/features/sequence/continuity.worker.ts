import { continuityOf, cutOf, riggingOf } from '@arvex/core';
import type { Project, RigTrouble } from '@arvex/core';
import { expose } from 'comlink';

/** Judges cuts away from the interface. */
export class ContinuityWorker {
  readonly continuityOf = continuityOf;

  /** Whether a shot could be taken so; nothing where it is not there. */
  riggingOf(project: Project, shotId: string): RigTrouble[] {
    const shot = project.shots[shotId];
    const placed = shot && cutOf(project, shot.sequenceId).shots.find((one) => one.shot.id === shotId);
    return placed ? riggingOf(project, placed) : [];
  }
}

expose(new ContinuityWorker());
