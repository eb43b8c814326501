import { computed, effect, inject, Injectable, signal, untracked } from '@angular/core';
import type { OrderPart, Project, RenderJob, RenderOrder } from '@arvex/core';
import { frameFileName, outputSize } from '@arvex/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Observable } from 'rxjs';
import {
  catchError,
  debounceTime,
  defer,
  EMPTY,
  finalize,
  interval,
  merge,
  startWith,
  Subject,
  switchMap,
  takeUntil,
  tap,
} from 'rxjs';
import { Notices, ProjectStore } from '../../data';
import { Activity, Workspace } from '../../session';
import { OrderDesk } from './order-desk';
import type { Renderer } from './renderer';
import type { ProvedFrame } from './render.worker';
import { renderer } from './renderer';
import { Renders } from './renders';

/** One frame exactly as it will leave. */
export interface ProvedPicture {
  readonly address: string;
  readonly fileName: string;
  readonly ending: string;
  readonly seconds: number;
  readonly bytes: number;
  readonly pictureBytes: number;
  readonly widthPx: number;
  readonly heightPx: number;
  /** What decides how long a frame takes, and what it takes on the disk. */
  readonly effort: string;
}

/** A frame is drawn anew so long after the order, the work or the playhead came to rest, milliseconds. */
const REST_MS = 500;

/** An order without what only decides which frames are made. */
function effortOf({ what: _what, frames: _frames, names: _names, places: _places, ...rest }: RenderOrder): string {
  return JSON.stringify(rest);
}

/** The frame at the playhead as the order makes it, in the place of the picture: drawn by the renderer that makes output. */
@Injectable({ providedIn: 'root' })
export class Proof {
  private readonly store = inject(ProjectStore);
  private readonly desk = inject(OrderDesk);
  private readonly renders = inject(Renders);
  private readonly notices = inject(Notices);
  private readonly activity = inject(Activity);
  private readonly workspace = inject(Workspace);

  /** Whether it is looked at, and kept up with what changes. */
  readonly shown = signal(false);
  readonly drawing = signal(false);
  readonly picture = signal<ProvedPicture | undefined>(undefined);
  private readonly wanted = computed(() => {
    const [project, order, at] = [this.store.project(), this.desk.order(), this.desk.atPlayhead()];
    return project && order && at
      ? { project, order, part: at.part, index: at.index, number: this.desk.number() }
      : undefined;
  });
  /** What was drawn last, where it fits the order as it is. */
  readonly fitting = computed(() => {
    const [picture, order] = [this.picture(), this.desk.order()];
    return picture && order && picture.effort === effortOf(order) ? picture : undefined;
  });
  /** How long the frame that is being drawn has taken so far, seconds. */
  readonly takenS = signal(0);
  private readonly asked$ = new Subject<Wanted | undefined>();
  private drawn: Wanted | undefined;

  constructor() {
    // One renderer for as long as frames are asked for; whoever leaves ends it, whatever it is drawing.
    this.asked$
      .pipe(
        switchMap((first) => (first === undefined ? EMPTY : this.inOneRenderer(first))),
        takeUntilDestroyed(),
      )
      .subscribe();
    effect(() => {
      if (this.renders.asking()) untracked(() => this.close());
    });
    // Nobody looks at it elsewhere: it is drawn anew when one comes back.
    toObservable(
      computed(() =>
        this.shown() && this.workspace.step() === 'review' && !this.activity.busy() ? this.wanted() : undefined,
      ),
    )
      .pipe(debounceTime(REST_MS), takeUntilDestroyed())
      .subscribe((wanted) => wanted && wanted !== this.drawn && this.next$.next(wanted));
  }

  /** Draws the frame at the playhead as output will, and shows it. */
  take(): void {
    const wanted = this.wanted();
    if (!wanted || this.drawing()) return;
    if (this.shown()) return this.next$.next(wanted);
    this.shown.set(true);
    this.asked$.next(wanted);
  }

  /** Back to the set. What was measured stays. */
  close(): void {
    this.shown.set(false);
    this.drawn = undefined;
    this.asked$.next(undefined);
  }

  private readonly next$ = new Subject<Wanted>();

  private inOneRenderer(first: Wanted): Observable<unknown> {
    return renderer().pipe(
      switchMap((one) =>
        this.next$.pipe(
          startWith(first),
          switchMap((wanted) => this.drawing$(one, wanted)),
        ),
      ),
      finalize(() => this.drawing.set(false)),
    );
  }

  /** One frame, while its seconds are counted. What fails is said, and ends it. */
  private drawing$(one: Renderer, wanted: Wanted): Observable<unknown> {
    this.drawn = wanted;
    this.drawing.set(true);
    this.takenS.set(0);
    const { project, order, part, index, number } = wanted;
    const job: RenderJob = {
      renderId: NOBODY,
      orderId: NOBODY,
      projectId: project.head.id,
      state: 'rendering',
      order,
      part,
      ...number,
    };
    const over$ = new Subject<void>();
    const counted$ = interval(1000).pipe(
      tap((seconds) => this.takenS.set(seconds + 1)),
      takeUntil(over$),
    );
    const made$ = defer(() => one.ask((remote) => remote.prove(project, job, index))).pipe(
      tap((proved) => this.show(wanted, proved)),
      catchError((error: unknown) => {
        this.notices.error(new Error(`This frame cannot be drawn. ${(error as Error).message}`));
        this.close();
        return EMPTY;
      }),
      finalize(() => {
        over$.next();
        this.drawing.set(false);
      }),
    );
    return merge(counted$, made$);
  }

  private show({ project, order, part, index, number }: Wanted, { picture, bytes, seconds }: ProvedFrame): void {
    const before = this.picture();
    if (before) URL.revokeObjectURL(before.address);
    this.picture.set({
      address: URL.createObjectURL(picture),
      fileName: frameFileName(project, order, part, number, index),
      ending: picture.type === 'image/jpeg' ? 'jpg' : 'png',
      seconds,
      bytes,
      pictureBytes: picture.size,
      ...outputSize(order, part),
      effort: effortOf(order),
    });
  }
}

interface Wanted {
  readonly project: Project;
  readonly order: RenderOrder;
  readonly part: OrderPart;
  readonly index: number;
  readonly number: { readonly version: string; readonly date: string };
}

const NOBODY = '00000000-0000-4000-8000-000000000000';
