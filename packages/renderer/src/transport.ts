import type { KeptFrames, Lease, Project, RenderJob } from '@arvex/core';

/** Whoever keeps the render did not answer, or could not just now: to be tried again after a pause. */
export class KeeperAway extends Error {
  override readonly name = 'KeeperAway';
}

/** Whoever keeps the render refused, and said why: by the code of the problem. */
export class KeeperRefused extends Error {
  override readonly name = 'KeeperRefused';
  constructor(
    readonly code: string,
    message: string,
  ) {
    super(message);
  }
}

/** A frame that is leased. */
export interface LeasedFrame {
  readonly renderId: string;
  readonly leaseId: string;
  readonly index: number;
}

/** The way between a renderer and whoever keeps the renders. Each throws {@link KeeperAway} or {@link KeeperRefused}. */
export interface RenderTransport {
  /** Says that a renderer begins: what it held before, if anything, is free. */
  begin(): Promise<unknown>;
  /** A lease on up to `count` frames of whatever is first in line. */
  lease(count: number): Promise<Lease>;
  /** What has to be known of a render. */
  job(renderId: string): Promise<RenderJob>;
  /** The project as it was when the order was given. */
  project(renderId: string): Promise<Project>;
  /**
   * Lets a lease go on, however long its frames take: also while the renderer's own thread waits for its graphics.
   * @param seconds that it lasts without. @returns what ends that.
   */
  hold(renderId: string, leaseId: string, seconds: number): () => void;
  /** Gives frames back that are not made. */
  release(renderId: string, leaseId: string): Promise<unknown>;
  /** Asks for frames of a lease that were made before, under the same keys. @returns those that are done with it. */
  takeKept(renderId: string, leaseId: string, kept: KeptFrames): Promise<readonly number[]>;
  /** Sends one of the files of a frame; with the last of them the frame is done. @param key see {@link PictureMaker.key}. */
  send(frame: LeasedFrame, role: string, file: Blob, key?: string): Promise<unknown>;
  /** Says that a frame could not be made, and why. */
  fail(frame: LeasedFrame, why: string): Promise<unknown>;
}
