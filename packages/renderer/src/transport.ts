import type { Lease, Project, Render } from '@arvex/core';

/** The way between a renderer and whoever keeps the render. Nothing is given where that one is away or refuses. */
export interface RenderTransport {
  render(): Promise<Pick<Render, 'sequenceId' | 'widthPx' | 'heightPx' | 'state'> | undefined>;
  /** The project as it was when the render was asked for. */
  project(): Promise<Project | undefined>;
  /** A lease on up to `count` frames. */
  lease(count: number): Promise<Lease | undefined>;
  /** @returns whether the frame was taken. */
  send(index: number, leaseId: string, frame: Blob): Promise<boolean>;
}
