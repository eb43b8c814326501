import { computed, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Vector } from '@arvex/core';
import type { LineInTime, Near, Picked, PlaceInTime, Scopes, StagedSet, StageView, Survey } from '@arvex/stage';
import { NOTHING_STAGED, setPatch } from '@arvex/stage/patch';
import { proxy } from 'comlink';
import type { Observable } from 'rxjs';
import { BehaviorSubject, concatMap, defer, first, firstValueFrom, ReplaySubject, share, Subject, tap } from 'rxjs';
import { Notices, retryWithPauses } from '../data';
import { Activity, Viewpoint } from '../session';
import type { OpenDesk } from './open-desk';
import { openDesk } from './open-desk';

/** Time in which the cards of what was newly chosen come. */
const SETTLING_MS = 250;

/** What a browser without graphics says, by the words of whoever asked it. */
const NO_GRAPHICS = /WebGL|graphics context/i;

const NO_GRAPHICS_WORDS =
  'This browser draws nothing in three dimensions here: its graphics (WebGL 2) are off or missing. Switch graphics acceleration on in its settings, or open Arvex in another browser. Plan, tables and edits go on without.';

const GRAPHICS_LOST = 'The graphics of this machine began anew. The picture comes back by itself.';

/** Keeps the set on one stage for the whole page, and asks the stage what is seen and met there. */
@Injectable({ providedIn: 'root' })
export class StageHost {
  private readonly viewpoint = inject(Viewpoint);
  private readonly activity = inject(Activity);
  private readonly notices = inject(Notices);
  /** Opened by the first who asks; where that fails, anew by the next. */
  private readonly desk$ = defer(() => this.opened()).pipe(
    tap((desk) => void desk.watchGraphics(proxy((lost: boolean) => this.graphics(lost)))),
    share({
      connector: () => new ReplaySubject<OpenDesk>(1),
      resetOnError: true,
      resetOnComplete: false,
      resetOnRefCountZero: false,
    }),
  );
  /** What of the project is on the stage. */
  private staged: StagedSet = NOTHING_STAGED;
  /** What should be. */
  private readonly set = computed(() => this.viewpoint.drawnProject(), {
    equal: (a, b) => a?.sets === b?.sets && a?.assets === b?.assets && a?.placements === b?.placements,
  });
  /** Whether anything in the set shines as bright as its file, whatever the exposure: then samples depend on that. */
  readonly hasAsFiled = computed(() =>
    Object.values(this.set()?.placements ?? {}).some(({ piece }) => piece.kind === 'card' && !piece.lit),
  );
  /** Until when nothing is begun. */
  private aside: Promise<void> = Promise.resolve();
  /** What is being done in turn, to wait for its end. */
  private atWork: Promise<void> = Promise.resolve();
  private readonly problem = signal<string | undefined>(undefined);

  readonly loading = signal(true);
  /** Whether the graphics are away: what was drawn then shows nothing. */
  readonly lost = signal(false);
  /** Whether a picture that somebody looks at is still to be drawn: it comes before whatever is measured. */
  readonly isBehind$ = new BehaviorSubject(false);
  /** Whether the browser has no graphics: nothing is tried again before somebody asks for it. */
  readonly without = signal(false);
  /** Why there is no picture, when there is none; it is tried again after growing pauses. */
  readonly failure = computed(() =>
    this.without() ? NO_GRAPHICS_WORDS : this.lost() ? GRAPHICS_LOST : this.problem(),
  );
  private readonly again$ = new Subject<void>();
  /** Something else stands on the stage than before. */
  readonly changed$ = new Subject<void>();

  constructor() {
    // Graphics take long to begin: they do while the project is fetched and the page put together. Where they fail, whoever asks is told.
    void this.desk().catch(() => undefined);
    toObservable(this.set)
      .pipe(
        concatMap(() => defer(() => this.follow()).pipe(retryWithPauses((error) => this.failed(error)))),
        takeUntilDestroyed(),
      )
      .subscribe();
  }

  /** Where the browser has said that it has no graphics it is not asked again and again: each try costs it a context. */
  private async opened(): Promise<OpenDesk> {
    if (this.without()) await firstValueFrom(this.again$);
    try {
      return await openDesk();
    } catch (error) {
      if (NO_GRAPHICS.test((error as Error).message)) this.without.set(true);
      throw error;
    }
  }

  /** What lies under a point of a view. */
  async pick(view: StageView, x: number, y: number): Promise<Picked | undefined> {
    return (await this.desk()).pick(view, x, y);
  }

  /** What a ray meets first, passing over some placements. */
  async cast(fromM: Vector, direction: Vector, farM: number, except: readonly string[] = []) {
    await this.current();
    return (await this.desk()).cast(fromM, direction, farM, except);
  }

  /** Ground heights under points, from so far above each, passing over some placements. */
  async groundUnder(points: readonly Vector[], fromAboveM: number, except: readonly string[] = []) {
    await this.current();
    return (await this.desk()).groundUnder(points, fromAboveM, except);
  }

  /** Light of a small picture, linear RGBA in cd/m², rows from the top. */
  light(view: StageView, widthPx: number, heightPx: number): Observable<Float32Array> {
    return this.atRest((desk) => desk.light(view, widthPx, heightPx));
  }

  /** Histogram, waveform and colours of a small picture: of its light, or of what its look makes of it. */
  scopes(view: StageView, widthPx: number, heightPx: number, of: 'light' | 'look'): Observable<Scopes> {
    return this.atRest((desk) => desk.scopes(view, widthPx, heightPx, of));
  }

  /** What lies in the frame: the nearest thing, and what the clip distances cut. */
  survey(view: StageView): Observable<Survey> {
    return this.atRest((desk) => desk.survey(view));
  }

  /** What of the set is nearer than so far to each place at its time, in any direction. */
  clearances(places: readonly PlaceInTime[], withinM: number): Observable<readonly (Near | undefined)[]> {
    return this.atRest((desk) => desk.clearances(places, withinM));
  }

  /** What each straight line meets first at its time. */
  crossings(lines: readonly LineInTime[]): Observable<readonly (string | undefined)[]> {
    return this.atRest((desk) => desk.crossings(lines));
  }

  /** Measures once nothing plays and nothing is dragged, and what is looked at is drawn. */
  private atRest<T>(measure: (desk: OpenDesk) => Promise<T>): Observable<T> {
    return this.activity.atRest().pipe(
      concatMap(() => this.isBehind$.pipe(first((behind) => !behind))),
      concatMap(() => this.desk$),
      concatMap((desk) => measure(desk)),
    );
  }

  /** Whether what stands on the stage is what should: a picture made before that shows what was, and is not kept. */
  isCurrent(): boolean {
    const [project, { sets, assets, placements }] = [this.set(), this.staged];
    return !project || (project.sets === sets && project.assets === assets && project.placements === placements);
  }

  /** Does something on the stage, once the machine is not left to the interface. */
  async inTurn(work: (desk: OpenDesk) => Promise<void>): Promise<void> {
    const desk = await this.desk();
    await this.aside;
    this.atWork = work(desk);
    await this.atWork;
  }

  /** Leaves the machine to what is done meanwhile in the interface: no picture and no reading is begun until that is shown. */
  async standAside(done: () => Promise<void>): Promise<void> {
    await this.aside;
    let comeBack: () => void = () => undefined;
    this.aside = new Promise((resolve) => (comeBack = resolve));
    try {
      await this.atWork.catch(() => undefined); // told where it was begun
      await done();
    } finally {
      setTimeout(comeBack, SETTLING_MS);
    }
  }

  /** Something could not be drawn. */
  failed(error: unknown): void {
    this.problem.set(`No picture can be drawn: ${(error as Error).message}`);
  }

  /** Something was drawn. */
  succeeded(): void {
    this.problem.set(undefined);
  }

  private desk(): Promise<OpenDesk> {
    return firstValueFrom(this.desk$);
  }

  /** Asks the browser for graphics anew. */
  tryAgain(): void {
    this.without.set(false);
    this.again$.next();
  }

  /** Until the stage has what was put in the set before. */
  private async current(): Promise<void> {
    if (!this.isCurrent()) await firstValueFrom(this.changed$.pipe(first(() => this.isCurrent())));
  }

  /** Brings the newest set to the stage; what did not arrive there is brought again the next time. */
  private async follow(): Promise<void> {
    const project = this.set();
    if (!project) return;
    if (this.isCurrent()) {
      this.changed$.next(); // what waited for it goes on
      return;
    }
    const { sets, assets, placements } = project;
    const [before, next] = [this.staged, { sets, assets, placements }];
    try {
      await this.aside;
      const missing = await (await this.desk()).follow(setPatch(before, next));
      this.staged = next;
      if (missing.length > 0)
        this.notices.error(new Error(`${missing.length} files of the set could not be read; reload to try again.`));
      this.succeeded();
    } finally {
      this.loading.set(false);
    }
    this.changed$.next();
  }

  private graphics(lost: boolean): void {
    this.lost.set(lost);
    if (!lost) this.changed$.next();
  }
}
