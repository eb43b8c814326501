import { computed, DestroyRef, inject, Injectable, signal } from '@angular/core';
import { takeUntilDestroyed, toObservable } from '@angular/core/rxjs-interop';
import type { Comfort, ComfortEvent, ComfortLimits, Project } from '@arvex/core';
import { COMFORT_LIMITS, flicksAtFrame, settle, stretchesOf } from '@arvex/core';
import type { Remote } from 'comlink';
import { wrap } from 'comlink';
import type { Observable } from 'rxjs';
import { catchError, defer, map } from 'rxjs';
import { answerOf, Notices, ProjectStore, WorkerLost, remembered } from '../../data';
import { measuredAtRest, Playhead, Workspace } from '../../session';
import type { ComfortWorker } from './comfort.worker';
import { Moves } from './moves';
import * as z from 'zod';

const limitsSchema = z.object({
  crossingS: z.number().min(1).max(60),
  joltMps2: z.number().min(0.1).max(100),
  joltDps2: z.number().min(1).max(2000),
});

/** A move as it is judged: its camera over a stretch of scene time (flicks). */
interface Judged {
  readonly project: Project;
  readonly cameraId: string;
  readonly stretch: readonly [fromFlicks: number, toFlicks: number];
  readonly limits: ComfortLimits;
}

/** What was measured, of what. */
interface Report {
  readonly projectId: string;
  readonly cameraId: string;
  readonly comfort: Comfort;
}

/** The whole move is made so much longer than the worst frame asks for: frames fall elsewhere in the longer one. */
const CALM_MARGIN = 1.01;

/** How the edited camera's move feels: computed in a worker whenever it changed, in the Moves step. */
@Injectable({ providedIn: 'root' })
export class ComfortReport {
  private readonly store = inject(ProjectStore);
  private readonly workspace = inject(Workspace);
  private readonly moves = inject(Moves);
  private readonly playhead = inject(Playhead);
  private readonly notices = inject(Notices);
  private worker: Worker | undefined;
  private remote: Remote<ComfortWorker> | undefined;

  readonly limits = remembered<ComfortLimits>('comfort-limits', limitsSchema, COMFORT_LIMITS);
  readonly measured = signal<Report | undefined>(undefined);
  readonly settleS = remembered('settle', z.number().min(0.1).max(5), 0.8);

  /** What is judged: the stretch of scene time that the shot or the move covers. */
  readonly stretch = computed<readonly [number, number] | undefined>(() => {
    const [project, camera, span] = [this.store.project(), this.moves.camera(), this.moves.span()];
    if (!project || !camera) return undefined;
    const frame = this.moves.frameFlicks();
    const shown = stretchesOf(project, camera.id);
    const from = [...(span ? [span[0]] : []), ...shown.map(({ fromFlicks }) => fromFlicks)];
    const to = [...(span ? [span[1] + frame] : []), ...shown.map(({ toFlicks }) => toFlicks - frame)];
    return from.length > 0 ? [Math.min(...from), Math.max(...to)] : undefined;
  });

  private readonly judged = computed<Judged | undefined>(() => {
    const [project, camera, stretch, limits] = [
      this.store.project(),
      this.moves.camera(),
      this.stretch(),
      this.limits(),
    ];
    if (this.workspace.step() !== 'moves' || !project || !camera || !stretch) return undefined;
    return { project, cameraId: camera.id, stretch, limits };
  });

  /** What was measured last, as long as it is of the camera and project edited now, and there is a move to judge. */
  readonly comfort = computed(() => {
    const [report, judged] = [this.measured(), this.judged()];
    const same = report?.projectId === judged?.project.head.id && report?.cameraId === judged?.cameraId;
    return same && judged ? report : undefined;
  });

  constructor() {
    toObservable(this.judged)
      .pipe(
        measuredAtRest(
          (one) => this.judge(one),
          (error) => this.notices.error(error),
        ),
        takeUntilDestroyed(),
      )
      .subscribe((report) => this.measured.set(report));
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  private judge({ project, cameraId, stretch, limits }: Judged): Observable<Report> {
    return defer(() => {
      this.worker ??= new Worker(new URL('./comfort.worker', import.meta.url), { type: 'module' });
      this.remote ??= wrap<ComfortWorker>(this.worker);
      return answerOf(this.worker, this.remote.comfortOf(project, cameraId, ...stretch, limits));
    }).pipe(
      catchError((error: unknown) => {
        // Made anew at the next try.
        if (error instanceof WorkerLost) this.worker = this.remote = undefined;
        throw error;
      }),
      map((comfort) => ({ projectId: project.head.id, cameraId, comfort })),
    );
  }

  /** Frame of scene time, counted from 0, of a frame of what was judged. */
  sceneFrame(frame: number): number {
    const from = this.comfort()?.comfort.fromFlicks ?? 0;
    return Math.round(from / this.moves.frameFlicks()) + frame;
  }

  /** Goes to where something happens, through the camera alone. */
  goTo(frame: number): void {
    const camera = this.moves.camera();
    if (!camera) return;
    this.playhead.lookThrough(camera.id);
    this.playhead.goTo(this.sceneFrame(frame));
  }

  /** Draws a sudden start or stop out, and says how hard it was and is, and which marks moved with it. */
  settle({ kind, fromFrame }: ComfortEvent): void {
    const rate = this.store.project()?.head.rate;
    if (kind === 'strobe' || kind === 'reversal' || !rate) return;
    const atFlicks = flicksAtFrame(this.sceneFrame(fromFrame), rate);
    const before = this.moves.move()?.marks ?? [];
    let said = '';
    const made = this.moves.edit((project, cameraId) => {
      const settled = settle(project, cameraId, { kind, atFlicks, settleS: this.settleS() }, this.limits());
      const now = settled.after <= 1 ? 'soft enough' : `${settled.after.toFixed(1)} times`;
      const what = kind === 'sudden-stop' ? 'stop' : 'start';
      said = `This ${what} was ${settled.before.toFixed(1)} times what an audience bears; it is ${now} now.`;
      return settled.edit;
    });
    if (!made) return;
    const first = this.store.project()?.head.firstFrame ?? 0;
    const moved = (this.moves.move()?.marks ?? []).flatMap(({ id, name, atFlicks: to }) => {
      const was = before.find((mark) => mark.id === id);
      return was && was.atFlicks !== to ? [`${name} is at ${first + Math.round(to / this.moves.frameFlicks())}`] : [];
    });
    this.notices.done(moved.length > 0 ? `${said} Mark ${moved.join(', mark ')}.` : said);
  }

  /** How many times as long the whole move has to be for nothing to strobe. */
  readonly calmFactor = computed(() => {
    const comfort = this.comfort()?.comfort;
    if (!comfort) return 1;
    const worst = Math.max(0, ...comfort.frames.map(({ flow }) => flow));
    return worst > comfort.flowLimit ? (worst / comfort.flowLimit) * CALM_MARGIN : 1;
  });
}
