import type { MeasuredFocus, Project } from '@arvex/core';

/** Projects that are kept at once; the one that was not asked for longest goes first. */
const MOST_PROJECTS = 24;

/**
 * Projects as the database had them, so that not every change reads all of one. Whoever asks says how far the project is by now: what is
 * kept may be behind, and is never taken for the present then.
 */
export interface ProjectCache {
  /** The project, if it is known at this place in its history. */
  get(projectId: string, seq: number): Project | undefined;
  /** The project as it was known last: it may have gone on. */
  latest(projectId: string): Project | undefined;
  set(project: Project): void;
  forget(projectId: string): void;
  /** What was measured of a camera, beside what the history says. */
  measure(projectId: string, cameraId: string, measured: MeasuredFocus): void;
}

/** Projects in this process' memory: the last few. */
export class ProjectsInMemory implements ProjectCache {
  private readonly projects = new Map<string, Project>();

  get(projectId: string, seq: number): Project | undefined {
    const project = this.projects.get(projectId);
    if (project?.seq !== seq) return undefined;
    this.set(project);
    return project;
  }

  latest(projectId: string): Project | undefined {
    return this.projects.get(projectId);
  }

  set(project: Project): void {
    const { id } = project.head;
    this.projects.delete(id);
    this.projects.set(id, project);
    const oldest = this.projects.keys().next();
    if (this.projects.size > MOST_PROJECTS && !oldest.done) this.projects.delete(oldest.value);
  }

  forget(projectId: string): void {
    this.projects.delete(projectId);
  }

  measure(projectId: string, cameraId: string, measured: MeasuredFocus): void {
    const project = this.projects.get(projectId);
    if (project) this.projects.set(projectId, { ...project, measured: { ...project.measured, [cameraId]: measured } });
  }
}
