import type { Type } from '@angular/core';
import { createEnvironmentInjector, EnvironmentInjector, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { AppliedChange, Change, Project, Vector } from '@arvex/core';
import { applyChange, CoreError, entityIn } from '@arvex/core';
import type { StageView } from '@arvex/stage';
import { Actions } from '../src/app/actions/actions';
import { Api, AwayError, ProblemError } from '../src/app/data/api';
import { Exposing } from '../src/app/features/cameras/exposure-controls';
import { Focusing } from '../src/app/features/cameras/focus';
import { KeyEditing } from '../src/app/features/moves/keys';
import { LensChanging } from '../src/app/features/cameras/lenses';
import { Marking } from '../src/app/features/moves/marks';
import { Moving } from '../src/app/features/moves/moves';
import { Notices } from '../src/app/data/notices';
import { Outbox } from '../src/app/data/outbox';
import { Playhead } from '../src/app/session/playhead';
import { ProjectStore } from '../src/app/data/project-store';
import { Viewing } from '../src/app/session/viewing';
import { BringingIn } from '../src/app/features/set/imports';
import { CameraMaking } from '../src/app/features/cameras/cameras';
import { Checks } from '../src/app/readiness/checks';
import { Comforting } from '../src/app/features/moves/comfort-report';
import { Framing } from '../src/app/features/set/frame-selection';
import { Metering } from '../src/app/features/cameras/meter';
import { Packages } from '../src/app/features/cameras/packages';
import { PictureTools } from '../src/app/features/cameras/picture-tools';
import { PieceDragging } from '../src/app/features/set/piece-drag';
import { PieceMaking } from '../src/app/features/set/pieces';
import { PlanTools } from '../src/app/features/set/plan-tools';
import { Renders } from '../src/app/features/review/renders';
import { RigHandling } from '../src/app/features/moves/rig-handles';
import { Selection } from '../src/app/session/selection';
import { Snapping } from '../src/app/session/snapping';
import { StageHost } from '../src/app/drawing/stage-host';
import { Thumbnails } from '../src/app/drawing/thumbnails';
import { Units } from '../src/app/session/units';
import { Walking } from '../src/app/features/set/walk';
import { Watching } from '../src/app/features/cameras/clip-survey';
import { FakeEvents } from './browser';

/** A server in memory: takes changes as the real one does, and can be away. */
export class MemoryServer {
  away = false;
  readonly changes: AppliedChange[] = [];

  constructor(public project: Project) {}

  get<T>(path: string): Promise<T> {
    if (this.away) return Promise.reject(new AwayError());
    const after = /changes\?after=(\d+)/.exec(path)?.[1];
    const answer =
      after === undefined ? this.project : { items: this.changes.filter(({ seq }) => seq > Number(after)) };
    return Promise.resolve(structuredClone(answer) as T);
  }

  async post<T>(_path: string, change: Change): Promise<T> {
    await Promise.resolve();
    if (this.away) throw new AwayError();
    const known = this.changes.find((one) => one.change.id === change.id);
    if (known) return { seq: known.seq } as T;
    return { seq: this.take(change) } as T;
  }

  /** Applies a change, from this tab or another, and tells all tabs of it. */
  take(change: Change): number {
    try {
      const seq = this.project.seq + 1;
      this.project = { ...applyChange(this.project, change), seq };
      const applied = { seq, change };
      this.changes.push(applied);
      queueMicrotask(() => FakeEvents.send('change', applied));
      return seq;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      const operation = change.operations[0];
      const theirs = operation ? (entityIn(this.project, operation.kind, operation.id) ?? null) : null;
      const type = `/problems/${error.code}`;
      throw new ProblemError({ type, title: error.code, status: 409, detail: error.message, theirs });
    }
  }
}

/** The services of one browser tab, with the project open in it. */
export interface Tab {
  readonly store: ProjectStore;
  readonly notices: Notices;
  readonly playhead: Playhead;
  readonly viewing: Viewing;
  readonly marking: Marking;
  readonly moving: Moving;
  readonly editing: KeyEditing;
  readonly focusing: Focusing;
  readonly exposing: Exposing;
  readonly lenses: LensChanging;
  /** Any other service of the tab. */
  readonly get: <T>(type: Type<T>) => T;
}

const SERVICES = [
  ...[Outbox, Notices, ProjectStore, Playhead, Viewing, Marking, Moving, KeyEditing, Exposing, Focusing, LensChanging],
  ...[
    Actions,
    BringingIn,
    CameraMaking,
    Checks,
    Comforting,
    Framing,
    Metering,
    Packages,
    PictureTools,
    PieceDragging,
    PieceMaking,
    PlanTools,
  ],
  ...[Renders, RigHandling, Selection, Snapping, Thumbnails, Units, Walking, Watching],
];

/** A set as the stage sees it, for tests: ground of some height, and a wall that faces south along a line. */
export class FakeStage {
  /** Height of the ground, metres. */
  ground: (x: number, z: number) => number = () => 0;
  /** Where the wall stands (z); none. */
  wallZ: number | undefined;
  /** Luminance everywhere, cd/m². */
  luminance = 100;
  readonly loading = signal(false);
  readonly firstPicture = Promise.resolve();
  readonly exceptions: (readonly string[])[] = [];
  readonly thumbnails: StageView[] = [];

  cast([x, y, z]: Vector, [dx, dy, dz]: Vector, farM: number, except: readonly string[] = []) {
    this.exceptions.push(except);
    const hit = (pointM: Vector, normal: Vector) => ({
      ...{ pointM, normal, distanceM: Math.hypot(pointM[0] - x, pointM[1] - y, pointM[2] - z) },
      placementId: undefined,
    });
    if (dy < 0) return Promise.resolve(y >= this.ground(x, z) ? hit([x, this.ground(x, z), z], [0, 1, 0]) : undefined);
    const away = this.wallZ === undefined || dz >= 0 ? Infinity : (this.wallZ - z) / dz;
    return Promise.resolve(away >= 0 && away < farM ? hit([x + dx * away, y, z + dz * away], [0, 0, 1]) : undefined);
  }

  groundUnder(points: readonly Vector[], _aboveM: number, except: readonly string[] = []) {
    this.exceptions.push(except);
    return Promise.resolve(points.map(([x, , z]) => this.ground(x, z)));
  }

  light(_view: StageView, widthPx: number, heightPx: number) {
    const pixel = [this.luminance, this.luminance, this.luminance, 1];
    return Promise.resolve(new Float32Array(widthPx * heightPx * 4).map((_, i) => pixel[i % 4] ?? 0));
  }

  survey() {
    return Promise.resolve({ near: undefined, far: undefined, nearest: undefined });
  }

  thumbnail(view: StageView) {
    this.thumbnails.push(view);
    return Promise.resolve({ width: 208 } as ImageBitmap);
  }
}

/** Opens the server's project in a tab of its own. */
export async function openTab(server: MemoryServer, stage = new FakeStage()): Promise<Tab> {
  const parent = TestBed.inject(EnvironmentInjector);
  const outside = [
    { provide: Api, useValue: server },
    { provide: StageHost, useValue: stage },
  ];
  const injector = createEnvironmentInjector([...outside, ...SERVICES], parent);
  const get = <T>(type: Type<T>): T => injector.get(type);
  const store = get(ProjectStore);
  await store.open(server.project.head.id);
  const [notices, playhead, viewing] = [get(Notices), get(Playhead), get(Viewing)];
  TestBed.tick();
  return {
    ...{ store, notices, playhead, viewing, marking: get(Marking), moving: get(Moving), editing: get(KeyEditing) },
    ...{ focusing: get(Focusing), exposing: get(Exposing), lenses: get(LensChanging), get },
  };
}
