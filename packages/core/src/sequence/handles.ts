import type { Project, Shot } from '../model';
import { framesInFlicks } from '../time';

/** Frames that a shot has beyond its two ends at output: its own, or its sequence's. */
export interface Handles {
  readonly inFrames: number;
  readonly outFrames: number;
}

export function handlesOf({ sequences, head }: Pick<Project, 'sequences' | 'head'>, shot: Shot): Handles {
  const sequence = sequences[shot.sequenceId];
  return {
    inFrames: framesInFlicks(shot.handleInFlicks ?? sequence?.handleInFlicks ?? 0, head.rate),
    outFrames: framesInFlicks(shot.handleOutFlicks ?? sequence?.handleOutFlicks ?? 0, head.rate),
  };
}
