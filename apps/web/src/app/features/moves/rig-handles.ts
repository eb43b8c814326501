import { computed, inject, Injectable } from '@angular/core';
import type { Aim, Camera, ChannelValues, RigHandle, Vector } from '@arvex/core';
import {
  channelValuesAt,
  distanceBetween,
  inRailAxes,
  inverseRotation,
  moveOf,
  placementAt,
  reshapeAim,
  reshapeRail,
  rigBody,
  setCamera,
  turned,
  withAxis,
} from '@arvex/core';
import { ProjectStore } from '../../data';
import type { EditOf } from '../../session';
import { Setting, Tried, Viewpoint, Workspace } from '../../session';
import { Moves } from './moves';

/** An aim this near the middle of an orbit is at it, metres. */
const TIED_M = 1e-3;

const aimOf = ({ aimX, aimY, aimZ }: { aimX: number; aimY: number; aimZ: number }): Vector => [aimX, aimY, aimZ];

type AimOf<Kind extends Aim['kind']> = Extract<Aim, { kind: Kind }>;

/** Where an aim at a point is after its handle was moved, metres. */
function aimAfter({ atM: [x, y, z] }: RigHandle, [dx, dy, dz]: Vector): ChannelValues {
  return { aimX: x + dx, aimY: y + dy, aimZ: z + dz };
}

/** What moving a handle does, named for undo. */
interface Moved {
  readonly name: string;
  readonly values?: ChannelValues;
  readonly edit?: EditOf;
}

/** The edited camera's rig as it stands in the set, and moving it by its handles, in plan and in the free view alike. */
@Injectable({ providedIn: 'root' })
export class RigHandles {
  private readonly store = inject(ProjectStore);
  private readonly setting = inject(Setting);
  private readonly viewpoint = inject(Viewpoint);
  private readonly workspace = inject(Workspace);
  private readonly moves = inject(Moves);
  private readonly trials = inject(Tried);
  private readonly trying = this.trials.as('rig');

  readonly body = computed(() => {
    const [project, camera] = [this.viewpoint.placedProject(), this.moves.camera()];
    if (!project || !camera || this.workspace.step() === 'set') return undefined;
    const body = rigBody(project, camera.id, this.moves.atFlicks(), this.tried());
    // What an orbit goes round and looks at is moved by one handle.
    return this.tied() ? { ...body, handles: body.handles.filter(({ kind }) => kind !== 'target') } : body;
  });

  /** What is tried on it. */
  private readonly tried = computed<ChannelValues | undefined>(() => this.trials.valuesOf(this.moves.camera()?.id));

  /** Shows a handle moved by so much, metres. */
  preview(handle: RigHandle, byM: Vector): void {
    const camera = this.moves.camera();
    if (!camera) return;
    const { values, edit } = this.moved(camera, handle, byM);
    this.trying.show({ cameraId: camera.id, values, edit });
  }

  /** Ends a drag of a handle: of the camera that it began on, if that one is edited still. */
  end(handle: RigHandle, byM: Vector, kept: boolean): void {
    const camera = this.moves.camera();
    const began = this.trying.end();
    if (!camera || !kept || (began && began.cameraId !== camera.id)) return;
    const { name, values, edit } = this.moved(camera, handle, byM);
    if (values) this.setting.setNumbers(camera.id, name, values);
    else if (edit) this.moves.edit(edit);
  }

  /** What moving a handle by so much, metres, comes to: numbers of the rig, or an edit of it. */
  private moved(camera: Camera, handle: RigHandle, byM: Vector): Moved {
    if (handle.kind === 'rig') return { name: `Move the ${camera.rig.kind}`, values: this.shifted(camera, byM) };
    if (handle.kind === 'target' && camera.aim.kind === 'point') {
      return { name: 'Move the point it looks at', values: aimAfter(handle, byM) };
    }
    const { rig, aim } = this.withNode(camera, handle, byM);
    if (handle.kind === 'target') {
      const name = 'Aim beside';
      return aim ? { name, edit: (project) => setCamera(project, camera.id, name, { aim }) } : { name };
    }
    const name = `Move node ${handle.index + 1}`;
    const edit: EditOf = (project) =>
      handle.kind === 'node' && rig?.kind === 'rail'
        ? reshapeRail(project, camera.id, name, rig)
        : reshapeAim(project, camera.id, aim?.kind === 'path' ? aim.nodesM : []);
    return { name, edit };
  }

  /** Takes a node of a track out, while two are left. */
  remove(handle: RigHandle): void {
    const rig = this.moves.camera()?.rig;
    if (rig?.kind !== 'rail' || handle.kind !== 'node' || rig.nodesM.length < 3) return;
    const without = <T>(list: readonly T[]): T[] => list.filter((_, i) => i !== handle.index);
    this.moves.edit((project, cameraId) =>
      reshapeRail(project, cameraId, 'Take out a node', {
        nodesM: without(rig.nodesM),
        straight: without(rig.straight),
        closed: rig.closed,
      }),
    );
  }

  /** Puts a node on the track between the two that are nearest to a place of the plan. */
  addAt(x: number, z: number): void {
    const [camera, values] = [this.moves.camera(), this.values()];
    if (camera?.rig.kind !== 'rail' || !values) return;
    const { rig } = camera;
    const [inX, , inZ] = inRailAxes(values, [x, 0, z]);
    const away = (node: Vector) => Math.hypot(node[0] - inX, node[2] - inZ);
    const ends = rig.closed ? [...rig.nodesM.slice(1), ...rig.nodesM.slice(0, 1)] : rig.nodesM.slice(1);
    const pieces = ends.map((to, i) => {
      const from = rig.nodesM[i] ?? to;
      return {
        i,
        over: away(from) + away(to) - Math.hypot(from[0] - to[0], from[2] - to[2]),
        y: (from[1] + to[1]) / 2,
      };
    });
    const best = pieces.sort((a, b) => a.over - b.over)[0];
    if (!best) return;
    const put = <T>(list: readonly T[], one: T): T[] => [...list.slice(0, best.i + 1), one, ...list.slice(best.i + 1)];
    const straight = rig.straight.length === 0 ? [] : put(rig.straight, rig.straight[best.i] ?? false);
    const nodesM = put<Vector>(rig.nodesM, [inX, best.y, inZ]);
    this.moves.edit((project, cameraId) =>
      reshapeRail(project, cameraId, 'Add a node', { nodesM, straight, closed: rig.closed }),
    );
  }

  private values() {
    const [project, camera] = [this.store.project(), this.moves.camera()];
    return project && camera && channelValuesAt(camera, moveOf(project, camera.id), this.moves.atFlicks());
  }

  /** Whether an orbit's camera is aimed at what it goes round: it then stays so when the middle is moved. */
  readonly tied = computed(() => {
    const [camera, values] = [this.moves.camera(), this.values()];
    if (camera?.rig.kind !== 'orbit' || !values) return false;
    const { aim, rig } = camera;
    if (aim.kind === 'subject') return aim.placementId === rig.subjectId && aim.weight === 1;
    const middle: Vector = [values.rigX, values.rigY, values.rigZ];
    return aim.kind === 'point' && rig.subjectId === null && distanceBetween(aimOf(values), middle) < TIED_M;
  });

  /** Aims an orbit's camera at what it goes round, or lets its head go where it looks now. */
  tie(on: boolean): void {
    const [camera, values, state] = [this.moves.camera(), this.values(), this.viewpoint.state()];
    if (camera?.rig.kind !== 'orbit' || !values || !state) return;
    const { subjectId, point } = camera.rig;
    const middle: Vector = [values.rigX, values.rigY, values.rigZ];
    const at: Aim =
      subjectId === null
        ? { kind: 'point', positionM: middle }
        : { kind: 'subject', placementId: subjectId, point, offsetM: [0, 0, 0], weight: 1, smoothingS: 0 };
    const aim: Aim = on ? at : { kind: 'free' };
    const what = on ? 'Aim at the middle' : 'Aim free';
    const head = on ? {} : { pan: state.panDeg, tilt: state.tiltDeg };
    this.setting.setWith(camera.id, what, [(now) => setCamera(now, camera.id, what, { aim })], head);
  }

  /** Sets where an orbit's middle is along an axis, metres; an aim that is tied to it goes along. */
  movePivot(axis: 0 | 1 | 2, toM: number): void {
    const [camera, values] = [this.moves.camera(), this.values()];
    if (!camera || !values) return;
    const middle: Vector = [values.rigX, values.rigY, values.rigZ];
    const by: Vector = withAxis([0, 0, 0], axis, toM - middle[axis]);
    this.setting.setNumbers(camera.id, 'Middle of the orbit', this.shifted(camera, by));
  }

  private shifted(camera: Camera, [dx, dy, dz]: Vector): ChannelValues {
    const values = this.values();
    if (!values) return {};
    const rig = { rigX: values.rigX + dx, rigY: values.rigY + dy, rigZ: values.rigZ + dz };
    if (camera.aim.kind !== 'point' || !this.tied()) return rig;
    return { ...rig, aimX: values.aimX + dx, aimY: values.aimY + dy, aimZ: values.aimZ + dz };
  }

  /** How far beside its subject an aim is after its target was moved in the world, in the subject's own axes; metres. */
  private besideSubject({ placementId, offsetM }: AimOf<'subject'>, byM: Vector): Vector | undefined {
    const project = this.store.project();
    if (!project?.placements[placementId]) return undefined;
    const { quaternion } = placementAt(project, placementId, this.moves.atFlicks());
    const [dx, dy, dz] = turned(byM, inverseRotation(quaternion));
    return [offsetM[0] + dx, offsetM[1] + dy, offsetM[2] + dz];
  }

  private withNode(camera: Camera, { kind, index }: RigHandle, [dx, dy, dz]: Vector): Partial<Camera> {
    const { rig, aim } = camera;
    const values = this.values();
    if (kind === 'aim-node' && aim.kind === 'path') {
      const nodesM = aim.nodesM.map(([x, y, z], i): Vector => (i === index ? [x + dx, y + dy, z + dz] : [x, y, z]));
      return { aim: { ...aim, nodesM } };
    }
    if (kind === 'target' && aim.kind === 'subject') {
      const offsetM = this.besideSubject(aim, [dx, dy, dz]);
      return offsetM ? { aim: { ...aim, offsetM } } : {};
    }
    if (rig.kind !== 'rail' || !values) return {};
    const [ox, oy, oz] = inRailAxes({ ...values, rigX: 0, rigY: 0, rigZ: 0 }, [dx, dy, dz]);
    const nodesM = rig.nodesM.map(([x, y, z], i): Vector => (i === index ? [x + ox, y + oy, z + oz] : [x, y, z]));
    return { rig: { ...rig, nodesM } };
  }
}
