import type { Camera, ChannelValues, Project, RigOf } from '../model';
import { moveOf, trackShape } from '../model';
import { subjectPointAt } from '../set';
import type { Vector } from '../space';
import { inverseRotation, pathThrough, rotationOf, turned } from '../space';
import { cameraAt } from './camera-at';
import type { CameraState } from './camera-state';
import type { CameraValues } from './channel-values';
import { channelValuesAt } from './channel-values';
import { orbitCentre } from './resolve-rig';

/** A line of a rig as it stands in the world, metres. */
interface RigLine {
  readonly kind: 'track' | 'sleeper' | 'base' | 'column' | 'arm' | 'circle' | 'link' | 'aim';
  readonly points: readonly Vector[];
}

/** A place by which a rig is moved. */
export interface RigHandle {
  /** `rig` moves all of it, `target` what it looks at; the others have the number of a node of a track or aim path. */
  readonly kind: 'rig' | 'node' | 'aim-node' | 'target';
  readonly index: number;
  readonly atM: Vector;
  readonly name: string;
}

export interface RigBody {
  readonly lines: readonly RigLine[];
  readonly handles: readonly RigHandle[];
}

const NOTHING: RigBody = { lines: [], handles: [] };

/** Points along a bent line, and round a circle. */
const LINE_STEPS = 96;

const SLEEPER_M = 1.2;

export const GAUGE_M = 0.62;

const BASE_M = 0.55;

/** What a rig looks like at a scene time: enough lines to see it stand in plan and in the free view, and its handles. */
export function rigBody(project: Project, cameraId: string, atFlicks: number, trial?: ChannelValues): RigBody {
  const camera = project.cameras[cameraId];
  if (!camera) return NOTHING;
  const values = channelValuesAt(camera, moveOf(project, cameraId), atFlicks, trial);
  const state = cameraAt(project, cameraId, atFlicks, trial);
  const seat = state.positionM;
  const [rig, aim] = [bodyOf(project, camera, values, seat, atFlicks), aimBody(camera, state)];
  return { lines: [...rig.lines, ...aim.lines], handles: [...rig.handles, ...aim.handles] };
}

function aimBody({ aim }: Camera, { positionM, aimM: atM }: CameraState): RigBody {
  if (aim.kind === 'point' || aim.kind === 'subject') {
    if (!atM) return NOTHING;
    const name = aim.kind === 'point' ? 'the point it looks at' : `what it looks at: ${aim.point}`;
    return { lines: [{ kind: 'aim', points: [positionM, atM] }], handles: [{ kind: 'target', index: 0, atM, name }] };
  }
  if (aim.kind !== 'path') return NOTHING;
  const path = pathThrough(aim.nodesM, aim.closed);
  return {
    lines: [{ kind: 'aim', points: along(path.lengthM, (at) => path.pointAt(at)) }],
    handles: aim.nodesM.map((atM, index) => ({ kind: 'aim-node', index, atM, name: `aim ${index + 1}` })),
  };
}

function bodyOf(project: Project, { rig }: Camera, values: CameraValues, seat: Vector, atFlicks: number): RigBody {
  if (rig.kind === 'sticks') return NOTHING;
  const base: Vector = [values.rigX, values.rigY, values.rigZ];
  const whole = (atM: Vector, name: string): RigHandle => ({ kind: 'rig', index: 0, atM, name });
  if (rig.kind === 'rail') return railBody(rig, values, seat);
  if (rig.kind === 'crane') {
    const pivot: Vector = [base[0], base[1] + rig.columnM, base[2]];
    const tip: Vector = [seat[0], seat[1] - rig.riserM, seat[2]];
    const corner = (x: number, z: number): Vector => [base[0] + x * BASE_M, base[1], base[2] + z * BASE_M];
    const square = [corner(-1, -1), corner(1, -1), corner(1, 1), corner(-1, 1), corner(-1, -1)];
    // The arm goes on behind its pivot, to the counterweight.
    const back = [0, 1, 2].map((i) => (pivot[i] ?? 0) - ((tip[i] ?? 0) - (pivot[i] ?? 0)) * 0.25) as unknown as Vector;
    const lines: RigLine[] = [
      { kind: 'base', points: square },
      { kind: 'column', points: [base, pivot] },
      { kind: 'arm', points: [back, pivot, tip] },
      { kind: 'column', points: [tip, seat] },
    ];
    return { lines, handles: [whole(base, 'crane')] };
  }
  if (rig.kind === 'orbit') {
    const middle = orbitCentre(rig, base, project, atFlicks);
    const circle = Array.from({ length: LINE_STEPS + 1 }, (_, i): Vector => {
      const angle = (2 * Math.PI * i) / LINE_STEPS;
      const { radius, height } = values;
      return [middle[0] + Math.sin(angle) * radius, middle[1] + height, middle[2] - Math.cos(angle) * radius];
    });
    const lines: RigLine[] = [
      { kind: 'circle', points: circle },
      { kind: 'link', points: [middle, seat] },
    ];
    return { lines, handles: [whole(middle, rig.subjectId === null ? 'middle' : 'middle, beside its subject')] };
  }
  const subject = rig.subjectId === null ? undefined : project.placements[rig.subjectId];
  const to = subject && subjectPointAt(project, subject, rig.point, atFlicks);
  return { lines: to ? [{ kind: 'link', points: [to, seat] }] : [], handles: [] };
}

function railBody(rig: RigOf<'rail'>, values: CameraValues, seat: Vector): RigBody {
  const track = pathThrough(rig.nodesM, rig.closed, trackShape(rig));
  const turn = rotationOf({ panDeg: values.rigTurn, tiltDeg: 0, rollDeg: 0 });
  const place = (point: Vector): Vector => {
    const [x, y, z] = turned(point, turn);
    return [x + values.rigX, y + values.rigY, z + values.rigZ];
  };
  const beside = (at: number, side: number): Vector => {
    const [x, y, z] = track.pointAt(at);
    const [dx, , dz] = track.directionAt(at);
    const long = Math.hypot(dx, dz) || 1;
    return place([x - (dz / long) * side, y, z + (dx / long) * side]);
  };
  const sleepers = Math.min(200, Math.max(1, Math.round(track.lengthM / SLEEPER_M)));
  // A path in the air has no rails; a track on the ground does.
  const grounded = rig.cameraM[1] > 0.05;
  const lines: RigLine[] = grounded
    ? [
        { kind: 'track', points: along(track.lengthM, (at) => beside(at, GAUGE_M / 2)) },
        { kind: 'track', points: along(track.lengthM, (at) => beside(at, -GAUGE_M / 2)) },
        ...Array.from({ length: sleepers + 1 }, (_, i): RigLine => {
          const at = (track.lengthM * i) / sleepers;
          return { kind: 'sleeper', points: [beside(at, GAUGE_M * 0.75), beside(at, -GAUGE_M * 0.75)] };
        }),
        { kind: 'column', points: [[seat[0], seat[1] - rig.cameraM[1], seat[2]], seat] },
      ]
    : [{ kind: 'track', points: along(track.lengthM, (at) => place(track.pointAt(at))) }];
  const nodes = rig.nodesM.map((node, index): RigHandle => ({
    kind: 'node',
    index,
    atM: place(node),
    name: `node ${index + 1}`,
  }));
  const mean = rig.nodesM.reduce((sum, node) => [sum[0] + node[0], sum[1] + node[1], sum[2] + node[2]] as Vector, [
    0, 0, 0,
  ] as Vector);
  const count = rig.nodesM.length;
  const middle = place([mean[0] / count, mean[1] / count, mean[2] / count]);
  return { lines, handles: [{ kind: 'rig', index: 0, atM: middle, name: 'whole rail' }, ...nodes] };
}

function along(lengthM: number, at: (metres: number) => Vector): Vector[] {
  return Array.from({ length: LINE_STEPS + 1 }, (_, i) => at((lengthM * i) / LINE_STEPS));
}

/** A place of the world in a rail's own axes: where a node has to be to stand there. */
export function inRailAxes(
  values: Pick<CameraValues, 'rigX' | 'rigY' | 'rigZ' | 'rigTurn'>,
  [x, y, z]: Vector,
): Vector {
  const back = inverseRotation(rotationOf({ panDeg: values.rigTurn, tiltDeg: 0, rollDeg: 0 }));
  return turned([x - values.rigX, y - values.rigY, z - values.rigZ], back);
}
