import { inject, Injectable, signal } from '@angular/core';
import type { Placement, Vector } from '@arvex/core';
import {
  anglesToward,
  CAMERA_DEFAULTS,
  distanceBetween,
  eyesM,
  isGround,
  makeCamera,
  pathThrough,
  placementBox,
  subjectPointAt,
  walkAlong,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import { StageHost } from '../../drawing';
import { Playhead, Selection, Viewpoint, Workspace } from '../../session';
import { SetPieces } from './pieces';

/** What a press in the plan does beside moving about: makes a camera, or draws a walk. */
export type PlanTool = 'none' | 'camera' | 'walk';

/** Height of a camera placed in plan above the ground, metres. */
const CAMERA_HEIGHT_M = 1.6;
/** Distance between places where the ground under a walk is measured, metres. */
const GROUND_STEP_M = 0.25;
const MOST_GROUND_POINTS = 4000;
/** The ground is looked for from this far above the path: low enough not to find roofs. */
const KNEE_M = 1;
const SEARCH_M = 2000;
/** A camera stands beside what is narrower than this, not on it, metres. */
const TOO_NARROW_M = 1.5;
/** What is longer than this and lower than the camera is walked on, not looked at, metres. */
const WALKED_ON_M = 6;
/** So many narrow things above each other are looked through for the ground. */
const MOST_NARROW = 8;

/** Tools of the plan that end by themselves. */
@Injectable({ providedIn: 'root' })
export class PlanTools {
  private readonly store = inject(ProjectStore);
  private readonly selection = inject(Selection);
  private readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  private readonly playhead = inject(Playhead);
  private readonly pieces = inject(SetPieces);
  private readonly host = inject(StageHost);

  readonly tool = signal<PlanTool>('none');
  /** Nodes of the walk that is being drawn: x and z. */
  readonly nodes = signal<readonly (readonly [number, number])[]>([]);

  begin(tool: PlanTool): void {
    this.nodes.set([]);
    this.tool.set(tool);
    this.workspace.show('plan');
  }

  leave(): void {
    this.nodes.set([]);
    this.tool.set('none');
  }

  /** A camera that stands at one place on the ground and looks at what is at another, through whose picture one then looks. */
  async camera(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    this.leave();
    const ground = await this.standingAt(from);
    const at: Vector = [from[0], ground + CAMERA_HEIGHT_M, from[1]];
    const target = await this.aimAt(to, at[1]);
    const pose = { positionM: at, ...anglesToward(at, target) };
    const id = crypto.randomUUID();
    const { exposure, focus, own } = this.viewpoint.camera() ?? CAMERA_DEFAULTS;
    const distanceM = Math.max(0.3, distanceBetween(at, target));
    const manual = { ...CAMERA_DEFAULTS.focus, fStop: focus.fStop, distanceM };
    const parts = { exposure, own: own.filter((group) => group === 'exposure'), focus: manual };
    if (!this.pieces.edit((project) => makeCamera(project, id, pose, parts))) return;
    this.playhead.lookThrough(id);
    this.workspace.show('picture', 'upper');
  }

  /** What a camera of a height looks at over a place of the plan: eyes, the middle of a thing, or straight on over the ground. */
  private async aimAt([x, z]: readonly [number, number], heightM: number): Promise<Vector> {
    const project = this.store.project();
    const hit = await this.above([x, z], []);
    const placement = project?.placements[hit?.placementId ?? ''];
    if (!hit || !project || !placement || isGround(project, placement)) return [x, heightM, z];
    // One walks on what is long and low: a jetty, a stage.
    if (this.acrossM(placement) > WALKED_ON_M && hit.pointM[1] < heightM) return [x, heightM, z];
    if (eyesM(placement) !== undefined) return subjectPointAt(project, placement, 'eyes', this.pieces.atFlicks);
    return [x, subjectPointAt(project, placement, 'middle', this.pieces.atFlicks)[1], z];
  }

  /** Where a camera stands at a place of the plan: on the ground or a roof, never on a figure or a post. */
  private async standingAt(place: readonly [number, number]): Promise<number> {
    const passed: string[] = [];
    for (;;) {
      const hit = await this.above(place, passed);
      const placement = this.store.project()?.placements[hit?.placementId ?? ''];
      if (!placement || this.acrossM(placement) >= TOO_NARROW_M || passed.length >= MOST_NARROW)
        return hit?.pointM[1] ?? 0;
      passed.push(placement.id);
    }
  }

  /** The longer side of what a thing stands on, metres. */
  private acrossM(placement: Placement): number {
    const project = this.store.project();
    if (!project) return 0;
    const { minM, maxM } = placementBox(project, placement);
    return Math.max(maxM[0] - minM[0], maxM[2] - minM[2]);
  }

  /** The point that is seen from above at a place of the plan: the top of what stands there, or the ground. */
  async pointAt(place: readonly [number, number]): Promise<Vector> {
    return [place[0], await this.groundAt(place), place[1]];
  }

  /** Ends the walk that was drawn: the chosen thing goes along it, on the ground. */
  async finishWalk(): Promise<void> {
    const [nodes, placement] = [this.nodes(), this.selection.last()];
    this.leave();
    if (!placement || nodes.length < 2) return;
    const heights = await Promise.all(nodes.map((node) => this.groundAt(node, placement.id)));
    const nodesM = nodes.map(([x, z], i): Vector => [x, heights[i] ?? 0, z]);
    await this.setWalk(placement.id, nodesM);
  }

  /** Lets a thing walk through nodes, with the ground measured under its way. */
  async setWalk(placementId: string, nodesM: Vector[], closed = false): Promise<void> {
    const before = this.store.project()?.placements[placementId]?.motion;
    const walk = before?.kind === 'path' ? before : { startFlicks: this.pieces.atFlicks };
    const groundM = await this.groundAlong(nodesM, closed, placementId);
    this.pieces.edit((project) => walkAlong(project, placementId, { ...walk, nodesM, groundM, closed }));
  }

  private async groundAlong(nodesM: Vector[], closed: boolean, except: string): Promise<number[]> {
    const path = pathThrough(nodesM, closed);
    const count = Math.max(2, Math.min(MOST_GROUND_POINTS, Math.ceil(path.lengthM / GROUND_STEP_M)));
    const points = Array.from({ length: count + 1 }, (_, i): Vector => path.pointAt((path.lengthM * i) / count));
    const ground = await this.host.groundUnder(points, KNEE_M, [except]);
    return points.map((point, i) => ground[i] ?? point[1]);
  }

  /** Ground at a place of the plan: the highest surface that a person could stand on, seen from above. */
  private async groundAt([x, z]: readonly [number, number], except?: string): Promise<number> {
    return (await this.above([x, z], except === undefined ? [] : [except]))?.pointM[1] ?? 0;
  }

  /** What is seen first from above at a place of the plan, passing over some placements. */
  private above([x, z]: readonly [number, number], except: readonly string[]) {
    return this.host.cast([x, SEARCH_M / 2, z], [0, -1, 0], SEARCH_M, except);
  }
}
