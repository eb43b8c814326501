import { computed, effect, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { LightMix, Render, RenderOrder, RoomTaken } from '@arvex/core';
import { givenOrderSchema, pageOf, rendererNameSchema, renderSchema, roomSchema } from '@arvex/core';
import type { MonoTypeOperatorFunction, Observable } from 'rxjs';
import {
  catchError,
  defer,
  EMPTY,
  endWith,
  exhaustMap,
  filter,
  ignoreElements,
  map,
  merge,
  of,
  repeat,
  startWith,
  Subject,
  switchMap,
  take,
  tap,
  throttleTime,
  timer,
} from 'rxjs';
import * as z from 'zod';
import {
  Api,
  askedAnew,
  holding,
  Notices,
  ProblemError,
  ProjectStore,
  recall,
  remember,
  retryWithPauses,
  WorkerLost,
} from '../../data';
import { Activity } from '../../session';
import type { Renderer } from './renderer';
import { renderer } from './renderer';

/** Whoever keeps the renders did not answer or had no room, or the graphics went away. */
class Away extends Error {
  constructor(reason: string) {
    super(`The renderer waits. ${reason}`);
  }
}

/** Frames of a render that were done at the beginning of a stretch of work and at last, and when, milliseconds. */
interface DrawingPace {
  readonly since: number;
  readonly done: number;
  readonly seen: number;
  readonly at: number;
}

/** A render rests when it has no new frame for as long as several took, and at least so long, milliseconds. */
const [SEVERAL, LEAST_REST_MS] = [4, 4000] as const;

function rests({ since, done, seen, at }: DrawingPace, framesDone: number, now: number): boolean {
  const frameMs = (at - since) / Math.max(1, seen - done);
  return framesDone === seen && now - at > Math.max(LEAST_REST_MS, SEVERAL * frameMs);
}

/** What can be done to a render, or to all of an order. */
export type RenderAct = 'cancel' | 'pause' | 'go-on' | 'first' | 'again';

/** However often frames come, their list is asked for no more often than this, milliseconds. */
const HEARD_MS = 800;

/** While others make the last frames, whether there is more to do is asked again after so long, milliseconds. */
const ASK_AGAIN_MS = 2000;

/** Renders of the open project, and this tab's part in making them: one tab of a browser at a time makes frames. */
@Injectable({ providedIn: 'root' })
export class Renders {
  private readonly api = inject(Api);
  private readonly store = inject(ProjectStore);
  private readonly activity = inject(Activity);
  private readonly notices = inject(Notices);
  private readonly list = signal<readonly Render[]>([]);
  /** All tabs of this browser have one name: one of them at a time makes frames, and gives up what another that is gone held. */
  private readonly name = nameOfRenderer();
  private readonly paces = new Map<string, DrawingPace>();

  private readonly asked$ = new Subject<void>();
  private readonly answered$ = new Subject<void>();
  private readonly listed$ = toObservable(computed(() => this.store.project()?.head.id)).pipe(
    switchMap((id) => (id === undefined ? EMPTY : this.listed(id))),
  );

  /** From the newest order, each order's in the order of its parts. */
  readonly all = this.list.asReadonly();
  readonly asking = signal(false);
  /** What went wrong last, and how many frames were there then: once there are more of them, it is over. */
  private readonly failed = signal<{ readonly why: string; readonly framesDone: number } | undefined>(undefined);
  private readonly framesDone = computed(() => this.list().reduce((sum, { framesDone }) => sum + framesDone, 0));
  /** Why no frames are made just now, while something is rendering. */
  readonly trouble = computed(() => {
    const failed = this.failed();
    return failed && this.framesDone() <= failed.framesDone ? failed.why : undefined;
  });
  /** The render that is watched, as far as it is there. */
  readonly watched = signal<string | undefined>(undefined);
  /** How much room the project takes on the server's disk, and how much is left; unknown before it is asked. */
  readonly room = signal<RoomTaken | undefined>(undefined);
  /** What renderers work at; mixes of finished light are made by the server. */
  readonly current = computed(() => this.list().find(({ state, mixOf }) => state === 'rendering' && mixOf === null));

  constructor() {
    this.listed$.pipe(takeUntilDestroyed()).subscribe((items) => {
      if (items) this.take(items);
      this.answered$.next();
    });
    // `Activity` stands below this room, and cannot ask.
    effect(() => {
      const encodes = this.list().some(({ state }) => state === 'encoding');
      this.activity.making.set(encodes || (this.current() !== undefined && this.trouble() === undefined));
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

  /** An order whose answer never came: pressed again, it is the same one. */
  private unanswered: { readonly asked: string; readonly orderId: string } | undefined;

  /** Gives an order; the server says what stands against it. @returns whether it was taken. */
  async give(order: RenderOrder): Promise<boolean> {
    const project = this.store.project();
    if (!project) return false;
    this.asking.set(true);
    const asked = `${project.head.id} ${JSON.stringify(order)}`;
    const orderId = this.unanswered?.asked === asked ? this.unanswered.orderId : crypto.randomUUID();
    this.unanswered = { asked, orderId };
    try {
      // By an id of its own: sent again because its answer was lost, it is given once.
      const address = `/projects/${project.head.id}/orders?id=${orderId}`;
      const given = await this.api.post(address, order, givenOrderSchema);
      const ids = new Set(given.renders.map(({ id }) => id));
      this.list.update((list) => [...given.renders, ...list.filter(({ id }) => !ids.has(id))]);
      this.unanswered = undefined;
      return true;
    } catch (error) {
      if (error instanceof ProblemError) this.unanswered = undefined;
      this.notices.error(error);
      return false;
    } finally {
      this.asking.set(false);
    }
  }

  /** Does something to a render. */
  act(renderId: string, act: RenderAct): Promise<boolean> {
    if (act === 'go-on' || act === 'again') this.paces.delete(renderId);
    return this.told(() => this.api.post(`/renders/${renderId}/${act}`, {}, z.unknown()));
  }

  /** Does something to all parts of an order that it can be done to. */
  actOnOrder(orderId: string, act: 'cancel' | 'pause' | 'go-on'): Promise<boolean> {
    return this.told(() => this.api.post(`/orders/${orderId}/${act}`, {}, z.unknown()));
  }

  /** Makes the next version of a render from its light groups with another mix. @returns whether it was taken. */
  mix(renderId: string, mix: LightMix): Promise<boolean> {
    return this.told(() => this.api.post(`/renders/${renderId}/mixes`, { mix }, z.unknown()));
  }

  /** Deletes a render with its frames and its movies. */
  async delete(renderId: string): Promise<void> {
    await this.told(() => this.api.delete(`/renders/${renderId}`, z.unknown()));
    if (this.watched() === renderId) this.watched.set(undefined);
  }

  /** Frames a second, from the pace seen in this tab; nothing before there is one. */
  pace({ id, framesDone }: Render): number | undefined {
    const pace = this.paces.get(id);
    const made = framesDone - (pace?.done ?? framesDone);
    return pace && made >= 1 ? (1000 * made) / (performance.now() - pace.since) : undefined;
  }

  /** Seconds that a render still takes at its pace. */
  secondsLeft(render: Render): number | undefined {
    const pace = this.pace(render);
    return pace === undefined ? undefined : (render.frameCount - render.framesDone - render.framesFailed) / pace;
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

  /** @returns whether the server did it. */
  private async told(work: () => Promise<unknown>): Promise<boolean> {
    try {
      await work();
      return true;
    } catch (error) {
      this.notices.error(error);
      return false;
    } finally {
      this.asked$.next();
    }
  }

  /** The list as it comes, nothing where it was not answered: nothing of a project that was left arrives any more. */
  private listed(projectId: string): Observable<readonly Render[] | undefined> {
    const heard$ = this.store.renders$.pipe(throttleTime(HEARD_MS, undefined, { leading: true, trailing: true }));
    const question = () => this.api.get(`/projects/${projectId}/renders?limit=200`, pageOf(renderSchema));
    return merge(heard$, this.asked$).pipe(
      startWith(undefined),
      askedAnew(() =>
        defer(question).pipe(
          map(({ items }) => items),
          catchError(() => of(undefined)),
        ),
      ),
    );
  }

  private take(items: readonly Render[]): void {
    for (const { id, framesDone, state } of items) {
      const [known, now] = [this.paces.get(id), performance.now()];
      // Counted from when it is seen first, or goes on: what waits in line, or is paused, has no pace.
      if (!known || state !== 'rendering' || framesDone === known.done || rests(known, framesDone, now))
        this.paces.set(id, { since: now, done: framesDone, seen: framesDone, at: now });
      else if (framesDone !== known.seen) this.paces.set(id, { ...known, seen: framesDone, at: now });
    }
    this.list.set(items);
  }

  /** Frames of what is rendering, render after render, in one tab of the browser at a time. */
  private making(): Observable<unknown> {
    this.failed.set(undefined);
    return holding('arvex-renderer').pipe(
      switchMap(() =>
        renderer().pipe(
          switchMap((one) => this.makeAll(one)),
          this.again$(WorkerLost),
        ),
      ),
      take(1),
    );
  }

  /** Works until nothing is left to make; while others make the last frames, whether there is more to do is asked again and again. */
  private makeAll(one: Renderer): Observable<unknown> {
    const worked$ = defer(() => one.ask((remote) => remote.work(this.name))).pipe(
      tap((end) => {
        if (end.kind !== 'idle') throw new Away(end.reason);
        this.failed.set(undefined);
      }),
      switchMap(() => this.listedAnew()),
    );
    return worked$.pipe(
      repeat({ delay: () => (this.current() ? timer(ASK_AGAIN_MS) : EMPTY) }),
      ignoreElements(),
      endWith(undefined),
      this.again$(Away),
    );
  }

  /** Asks for the list, and waits until there is an answer. */
  private listedAnew(): Observable<unknown> {
    return merge(
      this.answered$,
      defer(() => {
        this.asked$.next();
        return EMPTY;
      }),
    ).pipe(take(1));
  }

  /** Tries again with growing pauses after one kind of failure, and says so. */
  private again$<T>(kind: typeof Away | typeof WorkerLost): MonoTypeOperatorFunction<T> {
    return retryWithPauses((error, tries) => {
      if (!(error instanceof kind)) throw error;
      this.say(`${error.message} Tried ${tries === 1 ? 'once' : `${tries} times`}.`);
    });
  }

  /** Says why no frames are made. Those that were sent before it went wrong are in the list after it was read anew. */
  private say(why: string): void {
    const failed = { why, framesDone: this.framesDone() };
    this.failed.set(failed);
    this.listedAnew().subscribe(() => {
      if (this.failed() === failed) this.failed.set({ why, framesDone: this.framesDone() });
    });
  }
}

function nameOfRenderer(): string {
  const known = recall('renderer', rendererNameSchema);
  const name = known ?? crypto.randomUUID();
  if (known === undefined) remember('renderer', name);
  return name;
}
