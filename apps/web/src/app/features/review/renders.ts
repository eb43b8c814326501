import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { Render } from '@arvex/core';
import { pageOf, renderSchema } from '@arvex/core';
import type { RenderEnd } from '@arvex/renderer';
import type { Remote } from 'comlink';
import { wrap } from 'comlink';
import { debounceTime } from 'rxjs';
import { Api, Notices, ProjectStore } from '../../data';
import { Playhead } from '../../session';
import type { RenderWorker } from './render.worker';

/** Samples of an output picture. */
export const OUTPUT_SAMPLES = 8;
const RETRY_MS = 3000;

/** Renders of the open project, and this tab's part in making them: one tab of a browser at a time makes frames. */
@Injectable({ providedIn: 'root' })
export class Renders {
  private readonly api = inject(Api);
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly notices = inject(Notices);
  private readonly list = signal<readonly Render[]>([]);
  private readonly paces = new Map<string, { since: number; done: number }>();
  private worker: Remote<RenderWorker> | undefined;
  private making = false;

  readonly all = this.list.asReadonly();
  readonly asking = signal(false);
  /** The render whose movie is watched. */
  readonly watched = signal<string | undefined>(undefined);
  readonly current = computed(() => this.list().find((render) => render.state === 'rendering'));

  constructor() {
    this.store.renders$.pipe(debounceTime(150)).subscribe(() => void this.refresh());
    const projectId = computed(() => this.store.project()?.head.id);
    effect(() => {
      if (projectId() !== undefined) untracked(() => void this.refresh());
    });
    effect(() => {
      if (this.current()) untracked(() => void this.make());
    });
  }

  /** Plans a render of the cut; the server says what is not ready. */
  async start(share: number): Promise<void> {
    const project = this.store.project();
    if (!project) return;
    this.asking.set(true);
    try {
      const sequenceId = this.playhead.sequenceId();
      const render = await this.api.post(`/projects/${project.head.id}/renders`, { sequenceId, share }, renderSchema);
      this.list.update((list) => [render, ...list.filter((one) => one.id !== render.id)]);
    } catch (error) {
      this.notices.error(error);
    } finally {
      this.asking.set(false);
    }
  }

  async cancel(renderId: string): Promise<void> {
    try {
      await this.api.post(`/renders/${renderId}/cancel`, {}, renderSchema);
    } catch (error) {
      this.notices.error(error);
    }
    await this.refresh();
  }

  /** Seconds that a render still takes, from the pace seen in this tab; nothing before there is a pace. */
  secondsLeft({ id, framesDone, frameCount }: Render): number | undefined {
    const pace = this.paces.get(id);
    const made = framesDone - (pace?.done ?? framesDone);
    if (!pace || made < 1) return undefined;
    return ((performance.now() - pace.since) / 1000 / made) * (frameCount - framesDone);
  }

  private async refresh(): Promise<void> {
    const projectId = this.store.project()?.head.id;
    if (projectId === undefined) return;
    try {
      const { items } = await this.api.get(`/projects/${projectId}/renders?limit=50`, pageOf(renderSchema));
      for (const { id, framesDone } of items) {
        if (!this.paces.has(id)) this.paces.set(id, { since: performance.now(), done: framesDone });
      }
      this.list.set(items);
    } catch {
      return; // asked again at the next event, or when the server is back
    }
  }

  private async make(): Promise<void> {
    if (this.making) return;
    this.making = true;
    try {
      await navigator.locks.request('arvex-renderer', async () => {
        this.worker ??= wrap<RenderWorker>(new Worker(new URL('./render.worker', import.meta.url), { type: 'module' }));
        for (let next = this.current(); next; next = this.current()) {
          const end: RenderEnd = await this.worker.render(next.id, OUTPUT_SAMPLES);
          if (end === 'away') await new Promise((resolve) => setTimeout(resolve, RETRY_MS));
          await this.refresh();
        }
      });
    } catch (error) {
      this.notices.error(new Error(`The renderer stopped: ${(error as Error).message} Reload to go on where it was.`));
    } finally {
      this.making = false;
    }
  }
}
