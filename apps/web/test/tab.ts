import type { Type } from '@angular/core';
import { createEnvironmentInjector, EnvironmentInjector, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Change, PlacedChange, Project, Vector } from '@arvex/core';
import { applyChange, broughtUp, CoreError, entityIn, historyOf, isClash, YOU } from '@arvex/core';
import type { StageView, Survey } from '@arvex/stage';
import { of } from 'rxjs';
import { Actions } from '../src/app/session/actions';
import { Api, AwayError, ProblemError } from '../src/app/data/api';
import { ExposureControls } from '../src/app/features/cameras/exposure-controls';
import { Focus } from '../src/app/features/cameras/focus';
import { Keys } from '../src/app/features/moves/keys';
import { Tracks } from '../src/app/features/moves/tracks';
import { Lenses } from '../src/app/features/cameras/lenses';
import { Marks } from '../src/app/features/moves/marks';
import { Moves } from '../src/app/features/moves/moves';
import { Notices } from '../src/app/data/notices';
import { ThisTab } from '../src/app/data/this-tab';
import { UndoList } from '../src/app/data/undo-list';
import { Outbox } from '../src/app/data/outbox';
import { CurveOwner } from '../src/app/session/curve-owner';
import { OpenSequence } from '../src/app/session/open-sequence';
import { Playback } from '../src/app/session/playback';
import { Playhead } from '../src/app/session/playhead';
import { ProjectStore } from '../src/app/data/project-store';
import { FreeCamera } from '../src/app/session/free-camera';
import { Setting } from '../src/app/session/setting';
import { Tried } from '../src/app/session/tried';
import { Viewpoint } from '../src/app/session/viewpoint';
import { Workspace } from '../src/app/session/workspace';
import { provideArvex } from '../src/app/provide-arvex';
import { LightLevels } from '../src/app/features/looks/light-levels';
import { Looks } from '../src/app/features/looks/looks';
import { FilesIn } from '../src/app/features/interchange';
import { Imports } from '../src/app/features/set/imports';
import { Cameras } from '../src/app/features/cameras/cameras';
import { Checks } from '../src/app/readiness/checks';
import { ComfortReport } from '../src/app/features/moves/comfort-report';
import { FrameSelection } from '../src/app/features/set/frame-selection';
import { Meter } from '../src/app/features/cameras/meter';
import { Packages } from '../src/app/features/cameras/packages';
import { PictureTools } from '../src/app/features/cameras/picture-tools';
import { PieceDrag } from '../src/app/features/set/piece-drag';
import { SetPieces } from '../src/app/features/set/pieces';
import { PlanTools } from '../src/app/features/set/plan-tools';
import { CutDrag } from '../src/app/features/sequence/cut-drag';
import { CutEdits } from '../src/app/features/sequence/cut-edits';
import { JointSnap } from '../src/app/features/sequence/joint-snap';
import { LaneLook } from '../src/app/features/sequence/lane-look';
import { LiveSwitch } from '../src/app/features/sequence/live-switch';
import { MarkerTaps } from '../src/app/features/sequence/marker-taps';
import { Show } from '../src/app/features/sequence/show';
import { SoundTracks } from '../src/app/features/sequence/sound/sound-tracks';
import { ShotClipboard } from '../src/app/features/sequence/shot-clipboard';
import { ShotSelection } from '../src/app/features/sequence/shot-selection';
import { TakeComparison } from '../src/app/features/sequence/take-comparison';
import { FolderSaving } from '../src/app/features/review/folder-saving';
import { OrderDesk } from '../src/app/features/review/order-desk';
import { Proof } from '../src/app/features/review/proof';
import { Recipes } from '../src/app/features/review/recipes';
import { Renders } from '../src/app/features/review/renders';
import { RigHandles } from '../src/app/features/moves/rig-handles';
import { Selection } from '../src/app/session/selection';
import { SnapGrid } from '../src/app/session/snapping';
import { StageHost } from '../src/app/drawing/stage-host';
import { Pictures } from '../src/app/drawing/pictures';
import { Thumbnails } from '../src/app/drawing/thumbnails';
import { Units } from '../src/app/session/units';
import { Walk } from '../src/app/features/set/walk';
import { AutoFocus } from '../src/app/features/cameras/auto-focus';
import { ClipSurvey } from '../src/app/features/cameras/clip-survey';
import { Help } from '../src/app/actions/help';
import { ProjectEvents } from '../src/app/data/project-events';
import { FakeEvents } from './browser';

/** A way in which sending fails. */
export interface Mishap {
  readonly error: Error;
  /** Whether the change was made all the same. */
  readonly taken?: boolean;
}

/** A server in memory: takes changes as the real one does, and can be away. */
export class MemoryServer {
  away = false;
  /** What goes wrong with the next changes, each once; the server has taken the change where it says so. */
  readonly mishaps: Mishap[] = [];
  readonly changes: PlacedChange[] = [];

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
    const mishap = this.mishaps.shift();
    if (mishap?.taken) this.take(change);
    if (mishap) throw mishap.error;
    const known = this.changes.find((one) => one.change.id === change.id);
    return { seq: known?.seq ?? this.take(change), change: this.changes.at(-1)?.change } as T;
  }

  put<T>(): Promise<T> {
    return this.away ? Promise.reject(new AwayError()) : Promise.resolve({ kept: true } as T);
  }

  /** Applies a change, from this tab or another, and tells all tabs of it. */
  take(change: Change): number {
    const up = broughtUp(change, historyOf(this.changes));
    if (isClash(up)) throw this.refusal('stale-revision', 'changed meanwhile', change, up.operation);
    try {
      const seq = this.project.seq + 1;
      this.project = { ...applyChange(this.project, up), seq };
      const applied = { seq, change: up, author: YOU, at: '2026-03-02T09:00:00.000Z' };
      this.changes.push(applied);
      queueMicrotask(() => FakeEvents.send('change', applied));
      return seq;
    } catch (error) {
      if (!(error instanceof CoreError)) throw error;
      throw this.refusal(error.code, error.message, change, 0);
    }
  }

  private refusal(code: string, detail: string, { operations }: Change, index: number): ProblemError {
    const operation = operations[index];
    const theirs = operation ? (entityIn(this.project, operation.kind, operation.id) ?? null) : null;
    return new ProblemError({ type: `/problems/${code}`, title: code, status: 409, detail, theirs });
  }
}

/** The services of one browser tab, with the project open in it. */
export interface Tab {
  readonly store: ProjectStore;
  readonly undoList: UndoList;
  readonly notices: Notices;
  readonly playback: Playback;
  readonly playhead: Playhead;
  readonly workspace: Workspace;
  readonly viewpoint: Viewpoint;
  readonly tried: Tried;
  readonly setting: Setting;
  readonly freeCamera: FreeCamera;
  readonly marks: Marks;
  readonly moves: Moves;
  readonly keys: Keys;
  readonly focus: Focus;
  readonly exposure: ExposureControls;
  readonly lenses: Lenses;
  /** Any other service of the tab. */
  readonly get: <T>(type: Type<T>) => T;
}

const SERVICES = [
  ThisTab,
  UndoList,
  Outbox,
  Notices,
  ProjectStore,
  OpenSequence,
  CutDrag,
  CutEdits,
  JointSnap,
  LiveSwitch,
  MarkerTaps,
  Show,
  SoundTracks,
  ShotClipboard,
  ShotSelection,
  TakeComparison,
  Playback,
  Playhead,
  Workspace,
  Tried,
  Viewpoint,
  Setting,
  FreeCamera,
  Marks,
  Moves,
  Keys,
  Tracks,
  CurveOwner,
  LaneLook,
  ExposureControls,
  Focus,
  Lenses,
  Actions,
  FilesIn,
  Imports,
  LightLevels,
  Looks,
  Cameras,
  Checks,
  ComfortReport,
  FrameSelection,
  Meter,
  Packages,
  PictureTools,
  PieceDrag,
  SetPieces,
  PlanTools,
  FolderSaving,
  OrderDesk,
  Proof,
  Recipes,
  Renders,
  RigHandles,
  Selection,
  SnapGrid,
  Thumbnails,
  Units,
  Walk,
  ClipSurvey,
  AutoFocus,
  Help,
  ProjectEvents,
];

/** A set as the stage sees it, for tests: ground of some height, and a wall that faces south along a line. */
export class FakeStage {
  /** Height of the ground, metres. */
  ground: (x: number, z: number) => number = () => 0;
  /** Where the wall stands (z); none. */
  wallZ: number | undefined;
  /** What lies in any view. */
  surveyed: Survey = { near: undefined, far: undefined, nearest: undefined, filledBy: undefined };
  /** Luminance everywhere, cd/m². */
  luminance = 100;
  readonly loading = signal(false);
  readonly first$ = of(undefined);
  readonly exceptions: (readonly string[])[] = [];
  readonly thumbnails: StageView[] = [];

  cast([x, y, z]: Vector, [dx, dy, dz]: Vector, farM: number, except: readonly string[] = []) {
    this.exceptions.push(except);
    const hit = (pointM: Vector, normal: Vector) => ({
      pointM,
      normal,
      distanceM: Math.hypot(pointM[0] - x, pointM[1] - y, pointM[2] - z),
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
    return of(new Float32Array(widthPx * heightPx * 4).map((_, i) => pixel[i % 4] ?? 0));
  }

  survey() {
    return of(this.surveyed);
  }

  thumbnail(view: StageView) {
    this.thumbnails.push(view);
    return of(new Blob(['picture']));
  }
}

/** Opens the server's project in a tab of its own. */
export async function openTab(server: MemoryServer, stage = new FakeStage()): Promise<Tab> {
  const parent = TestBed.inject(EnvironmentInjector);
  const outside = [
    { provide: Api, useValue: server },
    { provide: StageHost, useValue: stage },
    { provide: Pictures, useValue: stage },
  ];
  const injector = createEnvironmentInjector([...outside, ...SERVICES, provideArvex()], parent);
  const get = <T>(type: Type<T>): T => injector.get(type);
  const store = get(ProjectStore);
  get(UndoList);
  await store.open(server.project.head.id);
  const [notices, playhead, workspace] = [get(Notices), get(Playhead), get(Workspace)];
  TestBed.tick();
  return {
    store,
    undoList: get(UndoList),
    notices,
    playback: get(Playback),
    playhead,
    workspace,
    viewpoint: get(Viewpoint),
    tried: get(Tried),
    setting: get(Setting),
    freeCamera: get(FreeCamera),
    marks: get(Marks),
    moves: get(Moves),
    keys: get(Keys),
    focus: get(Focus),
    exposure: get(ExposureControls),
    lenses: get(Lenses),
    get,
  };
}
