import { inject, Injectable } from '@angular/core';
import type { ProjectSummary } from '@arvex/core';
import { pageOf, projectSummarySchema, roomSchema } from '@arvex/core';
import { Api, ProblemError } from './api';
import { ProjectStore } from './project-store';
import { recall, remember } from './remembered';
import * as z from 'zod';

const LAST = 'project';
const pageSchema = pageOf(projectSummarySchema);
/** Projects that are listed at once. */
const PAGE = 200;
/** How long a project that is left is waited for, ms. */
const LONGEST_WAIT_MS = 3000;
const LOOK_MS = 50;

/** All projects of this server: listed, made, opened, copied, deleted. */
@Injectable({ providedIn: 'root' })
export class Projects {
  private readonly api = inject(Api);
  private readonly store = inject(ProjectStore);

  /** Projects from the newest. */
  async list(): Promise<readonly ProjectSummary[]> {
    return (await this.api.get(`/projects?limit=${PAGE}`, pageSchema)).items;
  }

  /** Opens the project that the address names, else the one this tab (or any other) had open last, else the newest. */
  async openFirst(): Promise<void> {
    const named = new URLSearchParams(location.search).get('project');
    const last = recall(LAST, z.uuid());
    if (named !== null) await this.open(named);
    else if (last !== undefined && (await this.isThere(last))) await this.open(last);
    else await this.openNewest();
  }

  private async openNewest(): Promise<void> {
    const id = (await this.api.get('/projects?limit=1', pageSchema)).items[0]?.id;
    if (id === undefined) this.store.failure.set('There is no project yet. Make an empty one to begin.');
    else await this.open(id);
  }

  private async isThere(id: string): Promise<boolean> {
    try {
      await this.api.get(`/projects/${id}/room`, roomSchema);
      return true;
    } catch (error) {
      if (error instanceof ProblemError) return false;
      throw error;
    }
  }

  /** Opens a project; this tab comes back to it when it is loaded anew. */
  async open(id: string): Promise<void> {
    this.store.finishing$.next();
    await this.sent();
    await this.store.open(id);
    if (this.store.project()?.head.id !== id) return;
    remember(LAST, id);
    const address = new URL(location.href);
    if (address.searchParams.has('project')) {
      address.searchParams.set('project', id);
      history.replaceState(null, '', address);
    }
  }

  /** Waits a little until what was done in the project before has been sent; what has not is kept, and sent when it is opened again. */
  private async sent(): Promise<void> {
    for (let waited = 0; waited < LONGEST_WAIT_MS && this.store.saveState() === 'saving'; waited += LOOK_MS) {
      await new Promise((resolve) => setTimeout(resolve, LOOK_MS));
    }
  }

  /** Makes an empty project and opens it. */
  async make(name: string): Promise<void> {
    const ids = { project: crypto.randomUUID(), set: crypto.randomUUID(), sequence: crypto.randomUUID() };
    await this.api.post('/projects', { ids, name }, z.unknown());
    await this.open(ids.project);
  }

  /** Copies a project as it is on the server, under another name. */
  async copy({ id, name }: Pick<ProjectSummary, 'id' | 'name'>): Promise<void> {
    const copy = { id: crypto.randomUUID(), name: `${name.slice(0, 110)} copy` };
    await this.api.post(`/projects/${id}/copy`, copy, z.unknown());
  }

  /** Bytes of files that a project has, its history and its renders. */
  async bytesOf(id: string): Promise<number> {
    return (await this.api.get(`/projects/${id}/room`, roomSchema)).projectBytes;
  }

  /** Deletes a project for good; where it is the open one, another is opened. */
  async delete(id: string): Promise<void> {
    await this.api.delete(`/projects/${id}`, z.unknown());
    if (this.store.project()?.head.id === id) await this.openNewest();
  }
}
