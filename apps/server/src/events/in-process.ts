import { EventEmitter } from 'node:events';
import type { ProjectEvent, ProjectEvents } from './project-events';

/** Events within one process. */
export class InProcessEvents implements ProjectEvents {
  private readonly emitter = new EventEmitter().setMaxListeners(0);

  publish(projectId: string, event: ProjectEvent): void {
    this.emitter.emit(projectId, event);
  }

  subscribe(projectId: string, listener: (event: ProjectEvent) => void): () => void {
    this.emitter.on(projectId, listener);
    return () => this.emitter.off(projectId, listener);
  }
}
