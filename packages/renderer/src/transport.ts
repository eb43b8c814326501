import type { Lease, Project, Render } from '@arvex/core';

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

/** The way between a renderer and whoever keeps the render. Each throws {@link KeeperAway} or {@link KeeperRefused}. */
export interface RenderTransport {
  render(): Promise<Pick<Render, 'sequenceId' | 'widthPx' | 'heightPx' | 'state'>>;
  /** The project as it was when the render was asked for. */
  project(): Promise<Project>;
  /** A lease on up to `count` frames. */
  lease(count: number): Promise<Lease>;
  /** Says that the renderer of a lease still lives: it goes on. */
  extend(leaseId: string): Promise<unknown>;
  /** Gives frames back that are not made. */
  release(leaseId: string): Promise<unknown>;
  send(index: number, leaseId: string, frame: Blob): Promise<unknown>;
  /** Says that a frame could not be made, and why. */
  fail(index: number, leaseId: string, why: string): Promise<unknown>;
}
