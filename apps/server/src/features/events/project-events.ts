import type { AppliedChange } from '@arvex/core';
import { EventEmitter } from 'node:events';

/** What the browsers that have a project open are told. */
export type ProjectEvent =
  | { readonly kind: 'change'; readonly seq: number; readonly applied: AppliedChange }
  | { readonly kind: 'render'; readonly renderId: string };

/** Tells every listener of a project what happens to it, within this process. */
export class ProjectEvents {
  private readonly emitter = new EventEmitter().setMaxListeners(0);

  publish(projectId: string, event: ProjectEvent): void {
    this.emitter.emit(projectId, event);
  }

  /** @returns a function that ends the subscription. */
  subscribe(projectId: string, listener: (event: ProjectEvent) => void): () => void {
    this.emitter.on(projectId, listener);
    return () => this.emitter.off(projectId, listener);
  }
}
