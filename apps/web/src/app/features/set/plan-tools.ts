import { inject, Injectable, signal } from '@angular/core';
import type { Vector } from '@arvex/core';
import { anglesToward, CAMERA_DEFAULTS, makeCamera, pathThrough, walkAlong } from '@arvex/core';
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

  /** A camera that stands at one place on the ground and looks toward another. */
  async camera(from: readonly [number, number], to: readonly [number, number]): Promise<void> {
    this.leave();
    const ground = await this.groundAt(from);
    const at: Vector = [from[0], ground + CAMERA_HEIGHT_M, from[1]];
    const pose = { positionM: at, ...anglesToward(at, [to[0], at[1], to[1]]) };
    const id = crypto.randomUUID();
    const { exposure, focus, own } = this.viewpoint.camera() ?? CAMERA_DEFAULTS;
    const distanceM = Math.max(0.3, Math.hypot(to[0] - from[0], to[1] - from[1]));
    const manual = { ...CAMERA_DEFAULTS.focus, fStop: focus.fStop, distanceM };
    const parts = { exposure, own: own.filter((group) => group === 'exposure'), focus: manual };
    if (this.pieces.edit((project) => makeCamera(project, id, pose, parts))) this.playhead.lookThrough(id);
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
    const hit = await this.host.cast([x, SEARCH_M / 2, z], [0, -1, 0], SEARCH_M, except === undefined ? [] : [except]);
    return hit?.pointM[1] ?? 0;
  }
}
