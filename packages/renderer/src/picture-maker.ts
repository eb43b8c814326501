import type { Project, RenderJob } from '@arvex/core';

/** Makes the files of frames. */
export interface PictureMaker {
  /** Takes in the project of a render. @returns hashes of files that could not be had. */
  follow(project: Project, job: RenderJob): Promise<readonly string[]>;
  /** A text that a frame shares with others only where their files are the same; nothing where that cannot be told. */
  key(job: RenderJob, index: number): string | undefined;
  /** The files of a frame by their role, in the order in which they are sent. */
  frame(job: RenderJob, index: number): Promise<ReadonlyMap<string, Blob>>;
  dispose(): void;
}

/** The graphics went away: what they drew is nothing, and another maker has to go on. */
export class GraphicsLost extends Error {
  override readonly name = 'GraphicsLost';
  constructor() {
    super('The graphics of this machine began anew.');
  }
}
