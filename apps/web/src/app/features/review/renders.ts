import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Render, RoomTaken } from '@arvex/core';
import { pageOf, renderSchema, roomSchema } from '@arvex/core';
import type { RenderEnd } from '@arvex/renderer';
import { wrap } from 'comlink';
import type { MonoTypeOperatorFunction } from 'rxjs';
import { catchError, debounceTime, defer, EMPTY, exhaustMap, filter, Observable, switchMap, take } from 'rxjs';
import * as z from 'zod';
import { answerOf, Api, holding, Notices, ProjectStore, retryWithPauses, WorkerLost } from '../../data';
import { Playhead } from '../../session';
import type { RenderWorker } from './render.worker';

/** Samples of an output picture. */
export const OUTPUT_SAMPLES = 8;

/** Whoever keeps the render did not answer, or a file of it could not be had. */
class Away extends Error {
  constructor() {
    super('The renderer waits for the server.');
  }
}

/** Renders of the open project, and this tab's part in making them: one tab of a browser at a time makes frames. */
@Injectable({ providedIn: 'root' })
export class Renders {
  private readonly api = inject(Api);
  private readonly store = inject(ProjectStore);
  private readonly playhead = inject(Playhead);
  private readonly notices = inject(Notices);
  private readonly list = signal<readonly Render[]>([]);
  private readonly paces = new Map<string, { since: number; done: number }>();

  readonly all = this.list.asReadonly();
  readonly asking = signal(false);
  /** Why no frames are made just now, while something is rendering. */
  readonly trouble = signal<string | undefined>(undefined);
  /** The render whose movie is watched. */
  readonly watched = signal<string | undefined>(undefined);
  /** How much room the project takes on the server's disk, and how much is left; unknown before it is asked. */
  readonly room = signal<RoomTaken | undefined>(undefined);
  readonly current = computed(() => this.list().find((render) => render.state === 'rendering'));

  constructor() {
    this.store.renders$.pipe(debounceTime(150), takeUntilDestroyed()).subscribe(() => void this.refresh());
    const projectId = computed(() => this.store.project()?.head.id);
    effect(() => {
      if (projectId() !== undefined) untracked(() => void this.refresh());
    });
    toObservable(this.current)
      .pipe(
        filter((current) => current !== undefined),
        exhaustMap(() =>
          this.making().pipe(
            catchError((error: unknown) => {
              const why = (error as Error).message;
              this.notices.error(new Error(`The renderer stopped: ${why} Reload to go on where it was.`));
              return EMPTY;
            }),
          ),
        ),
        takeUntilDestroyed(),
      )
      .subscribe();
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

  /** Deletes a render with its frames and its movie. */
  async delete(renderId: string): Promise<void> {
    try {
      await this.api.delete(`/renders/${renderId}`, z.unknown());
    } catch (error) {
      this.notices.error(error);
    }
    if (this.watched() === renderId) this.watched.set(undefined);
    await this.refresh();
  }

  /** Takes up a render again that failed. */
  async again(renderId: string): Promise<void> {
    try {
      await this.api.post(`/renders/${renderId}/again`, {}, renderSchema);
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

  /** Asks how much room there is: before a render begins, and when one has ended. */
  async lookAtRoom(): Promise<void> {
    const projectId = this.store.project()?.head.id;
    if (projectId === undefined) return;
    try {
      this.room.set(await this.api.get(`/projects/${projectId}/room`, roomSchema));
    } catch {
      this.room.set(undefined); // not known is not said
    }
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

  /** Frames of what is rendering, render after render, in one tab of the browser at a time. */
  private making(): Observable<RenderEnd> {
    this.trouble.set(undefined);
    return holding('arvex-renderer').pipe(
      switchMap(() =>
        renderer().pipe(
          switchMap((render) => this.makeAll(render)),
          this.again$(WorkerLost),
        ),
      ),
      take(1),
    );
  }

  private makeAll(render: Renderer): Observable<RenderEnd> {
    return defer(async () => {
      for (let next = this.current(); next; next = this.current()) {
        if ((await render(next.id)) === 'away') throw new Away();
        this.trouble.set(undefined);
        await this.refresh();
      }
      return 'done' as const;
    }).pipe(this.again$(Away));
  }

  /** Tries again with growing pauses after one kind of failure, and says so. */
  private again$<T>(kind: typeof Away | typeof WorkerLost): MonoTypeOperatorFunction<T> {
    return retryWithPauses((error, tries) => {
      if (!(error instanceof kind)) throw error;
      this.trouble.set(`${error.message} Tried ${tries === 1 ? 'once' : `${tries} times`}.`);
      void this.refresh();
    });
  }
}

/** Renders what is left of a render. */
type Renderer = (renderId: string) => Promise<RenderEnd>;

/** A renderer in a worker of its own, for as long as somebody listens. */
function renderer(): Observable<Renderer> {
  return new Observable((listener) => {
    const worker = new Worker(new URL('./render.worker', import.meta.url), { type: 'module' });
    const remote = wrap<RenderWorker>(worker);
    listener.next((renderId) => answerOf(worker, remote.render(renderId, OUTPUT_SAMPLES)));
    return () => worker.terminate();
  });
}
